import { Form as Fields } from "react-bootstrap";
import type { FinishChange } from "#core/finish/finish";
import { STARTING_POINTS } from "#core/finish/startingPoints";

/** Sets a whole finish by what the thing is; each value can be changed afterwards, and all of it taken back. */
export function StartingPoint({
  disabled,
  onChange,
}: {
  disabled: boolean;
  onChange(change: FinishChange): void;
}) {
  return (
    <Fields.Group className="mb-2" controlId="starting-point">
      <Fields.Label>Begin as</Fields.Label>
      <Fields.Select
        size="sm"
        value=""
        disabled={disabled}
        onChange={(event) => {
          const chosen = STARTING_POINTS.find(({ name }) => name === event.target.value);
          if (chosen) onChange(chosen.change);
        }}
      >
        <option value="">what it is …</option>
        {STARTING_POINTS.map(({ name, says }) => (
          <option key={name} value={name} title={says}>
            {name}
          </option>
        ))}
      </Fields.Select>
    </Fields.Group>
  );
}
