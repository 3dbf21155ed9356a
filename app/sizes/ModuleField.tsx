import { useCombobox } from "downshift";
import { useMemo, useState } from "react";
import type { Format, FormatKind } from "#core/gauge/formats";
import type { SizeProposal } from "#core/gauge/proposeSizes";
import type { LengthUnit } from "#core/length/parseLength";
import { choicesFor, reasonWords, type SizeChoice } from "./sizeChoice";

interface ModuleFieldProps {
  /** Whose it is, for those who do not see the picture. */
  name: string;
  proposals: SizeProposal[];
  formats: readonly Format[];
  /** What it may be, the likeliest first. */
  kinds: readonly FormatKind[];
  /** Whether something is counted, so that a module says a size. */
  isCounted: boolean;
  unit: LengthUnit;
  chosen: SizeChoice | undefined;
  onChoose(choice: SizeChoice): void;
}

/** What a material is made of: chosen from what is proposed and from the formats, or typed as a size. */
export function ModuleField({
  name,
  proposals,
  formats,
  kinds,
  isCounted,
  unit,
  chosen,
  onChoose,
}: ModuleFieldProps) {
  const [text, setText] = useState("");
  const [isTyped, setTyped] = useState(false);
  const items = useMemo(
    () => choicesFor({ proposals, formats, kinds }, isTyped ? text : "", unit, isCounted),
    [proposals, formats, kinds, isCounted, unit, text, isTyped],
  );
  const field = useCombobox<SizeChoice>({
    items,
    itemToString: (choice) => choice?.words ?? "",
    // The same choice is another object each time the sheet is read: that is no reason to take away what is being typed.
    itemToKey: (choice) => choice?.words,
    selectedItem: chosen ?? null,
    onInputValueChange: ({ inputValue, type }) => {
      setText(inputValue);
      setTyped(type === useCombobox.stateChangeTypes.InputChange);
    },
    onSelectedItemChange: ({ selectedItem }) => {
      if (selectedItem) onChoose(selectedItem);
    },
    stateReducer: (state, { type, changes }) => {
      // Leaving the field takes nothing that was not chosen, and does not leave half a word behind.
      if (type === useCombobox.stateChangeTypes.InputBlur)
        return { ...changes, selectedItem: state.selectedItem, inputValue: state.selectedItem?.words ?? "" };
      // What is typed leads to the first that fits; where nothing is, Enter changes nothing.
      if (type === useCombobox.stateChangeTypes.InputChange) return { ...changes, highlightedIndex: 0 };
      // Nor does a proposal that comes while somebody types.
      if (type === useCombobox.stateChangeTypes.ControlledPropUpdatedSelectedItem && isTyped)
        return { ...changes, inputValue: state.inputValue };
      return changes;
    },
  });
  return (
    <div className="module-field">
      <label className="visually-hidden" {...field.getLabelProps()}>
        What {name} is made of
      </label>
      <input
        {...field.getInputProps({
          className: "form-control form-control-sm",
          placeholder: isCounted ? "What is it? Or 215 x 65, joint 10" : "How wide is it? 2 m",
          // One click shows what there is, and what is typed replaces what stands there.
          onFocus: (event) => event.currentTarget.select(),
        })}
      />
      <ul {...field.getMenuProps({ className: field.isOpen ? "module-menu" : "module-menu closed" })}>
        {field.isOpen &&
          items.map((choice, index) => (
            <li
              key={`${index} ${choice.words}`}
              {...field.getItemProps({
                item: choice,
                index,
                className: index === field.highlightedIndex ? "highlighted" : undefined,
              })}
            >
              {choice.words}
              {choice.reason && <span className="dim"> {reasonWords(choice)}</span>}
            </li>
          ))}
        {field.isOpen && items.length === 0 && (
          <li className="dim">Nothing is called that. A size is written 215 x 65, or 2 m.</li>
        )}
      </ul>
    </div>
  );
}
