import { useCombobox } from "downshift";
import { useMemo, useState } from "react";
import type { Format, FormatKind } from "#core/gauge/formats";
import type { SizeProposal } from "#core/gauge/proposeSizes";
import type { LengthUnit } from "#core/length/parseLength";
import { byKind, choiceOf, choiceOfFormat, choicesTyped, reasonWords, type SizeChoice } from "./sizeChoice";

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

/** More than these nobody looks through: typing leaves fewer. */
const MOST_SHOWN = 40;

const folded = (text: string) =>
  text
    .normalize("NFD")
    .replaceAll(/\p{M}/gu, "")
    .toLowerCase()
    .replaceAll("×", "x")
    .replaceAll(/\s*x\s*/g, "x");

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
  const items = useMemo(() => {
    const proposed = proposals.map((proposal) => choiceOf(proposal, unit));
    const words = folded(isTyped ? text : "")
      .split(" ")
      .filter(Boolean);
    const isAsked = ({ words: said }: SizeChoice) => words.every((word) => folded(said).includes(word));
    const { ofKind, others } = byKind(formats, kinds);
    const known = [...proposed, ...ofKind.map((format) => choiceOfFormat(format, unit))].filter(isAsked);
    const rest = others.map((format) => choiceOfFormat(format, unit)).filter(isAsked);
    const typed = isTyped ? choicesTyped(text, unit, isCounted) : [];
    const shown = (choices: SizeChoice[]) => choices.slice(0, MOST_SHOWN);
    // Where nothing is counted, no format says a size, but what is typed does.
    return isCounted
      ? [...shown(known), ...typed, ...shown(rest)]
      : [...typed, ...shown([...known, ...rest])];
  }, [proposals, formats, kinds, isCounted, unit, text, isTyped]);
  const field = useCombobox<SizeChoice>({
    items,
    itemToString: (choice) => choice?.words ?? "",
    // The same choice is another object each time the sheet is read: that is no reason to take away what is being typed.
    itemToKey: (choice) => choice?.words,
    selectedItem: chosen ?? null,
    defaultHighlightedIndex: 0,
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
