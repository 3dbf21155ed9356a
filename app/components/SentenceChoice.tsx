interface SentenceChoiceProps {
  name: string;
  label: string;
  /** Chosen; undefined for any. */
  value: string | undefined;
  /** What the sentence says where nothing is chosen. */
  any: string;
  options: readonly string[];
  /** How an option reads; itself, unless given. */
  words?(option: string): string;
}

/** A word of a filter sentence that is a choice. */
export function SentenceChoice({ name, label, value, any, options, words }: SentenceChoiceProps) {
  return (
    <select name={name} defaultValue={value ?? ""} aria-label={label}>
      <option value="">{any}</option>
      {options.map((option) => (
        <option key={option} value={option}>
          {words?.(option) ?? option}
        </option>
      ))}
    </select>
  );
}
