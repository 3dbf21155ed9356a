import { Trash } from "react-bootstrap-icons";
import { Button } from "../components/Button";
import { NO_LINE, type LineFields } from "./readGauge";

interface LineRowsProps {
  lines: LineFields[];
  /** The row that is drawn and moved. */
  active: number;
  /** By how much each finished line is off, in percent. */
  residuals: (number | undefined)[];
  onActive(index: number): void;
  onChange(lines: LineFields[], touched?: string): void;
}

const COLUMNS = [
  ["fromX", "from, across"],
  ["fromY", "from, down"],
  ["toX", "to, across"],
  ["toY", "to, down"],
  ["length", "real length"],
] as const;

/** From so much on a line is marked as one that contradicts the others, in percent. */
const OFF = 1.5;

/** The measured lines, typed or drawn, with what each is off by against the size that fits them all best. */
export function LineRows({ lines, active, residuals, onActive, onChange }: LineRowsProps) {
  return (
    <div className="line-rows">
      {lines.map((line, index) => (
        <fieldset
          key={index}
          className={index === active ? "active" : undefined}
          onFocus={() => onActive(index)}
        >
          <legend>
            Line {index + 1}
            {lines.length > 1 && <Residual percent={residuals[index]} />}
            {lines.length > 1 && (
              <Button
                size="sm"
                variant="link"
                aria-label={`Take line ${index + 1} out`}
                onClick={() => onChange(lines.filter((_, i) => i !== index))}
              >
                <Trash aria-hidden="true" />
              </Button>
            )}
          </legend>
          {COLUMNS.map(([field, label]) => (
            <label key={field} className={field}>
              <span>
                {label}
                {field !== "length" && " (px)"}
              </span>
              <input
                className="form-control form-control-sm number"
                value={line[field]}
                autoComplete="off"
                aria-label={`Line ${index + 1}, ${label}`}
                onChange={(event) =>
                  onChange(
                    lines.map((one, i) => (i === index ? { ...one, [field]: event.target.value } : one)),
                    `${index}-${field}`,
                  )
                }
              />
            </label>
          ))}
        </fieldset>
      ))}
      <Button
        size="sm"
        variant="outline-secondary"
        onClick={() => {
          onChange([...lines, { ...NO_LINE, length: lines.at(-1)?.length ?? "" }]);
          onActive(lines.length);
        }}
      >
        Another line
      </Button>
    </div>
  );
}

function Residual({ percent }: { percent: number | undefined }) {
  if (percent === undefined) return <span className="dim"> not finished</span>;
  const off = Math.abs(percent) > OFF;
  return (
    <span className={off ? "mark look" : "dim"}>
      {" "}
      <span className="number">
        {percent >= 0 ? "+" : "−"}
        {Math.abs(percent).toFixed(2)} %
      </span>
      {off && " off"}
    </span>
  );
}
