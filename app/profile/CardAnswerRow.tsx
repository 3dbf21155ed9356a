import { useId } from "react";
import { Form as Fields } from "react-bootstrap";

interface CardAnswerRowProps {
  question: { asks: string; options: Readonly<Record<string, string>> };
  /** Of the field. */
  name: string;
  answer: { value: string | null; isSure: boolean; why: string };
  /** Told when somebody looks at it, and when they look away. */
  onLook(isLooked: boolean): void;
}

/** What a picture of a test card says of one convention, to be put right where it is not. */
export function CardAnswerRow({ question, name, answer, onLook }: CardAnswerRowProps) {
  const id = useId();
  return (
    <div
      className="asked card-answer"
      onMouseEnter={() => onLook(true)}
      onMouseLeave={() => onLook(false)}
      onFocus={() => onLook(true)}
      onBlur={() => onLook(false)}
    >
      <label htmlFor={id}>
        {question.asks}
        {!answer.isSure && <span className="not-sure"> not sure</span>}
      </label>
      <Fields.Select
        size="sm"
        id={id}
        name={name}
        defaultValue={answer.value ?? ""}
        aria-describedby={`${id}-why`}
      >
        {answer.value === null && <option value="">say it yourself …</option>}
        {Object.entries(question.options).map(([value, says]) => (
          <option key={value} value={value}>
            {says}
          </option>
        ))}
      </Fields.Select>
      <p id={`${id}-why`} className="dim">
        {answer.why}
      </p>
    </div>
  );
}
