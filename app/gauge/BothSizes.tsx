import { formatLength } from "#core/length/formatLength";
import type { LengthUnit } from "#core/length/parseLength";
import { Button } from "../components/Button";
import type { Clash } from "#server/material/clash";

const WORDS: Record<string, string> = { width: "Width", height: "Height", way: "Found by", state: "State" };

/** Another size was saved while this one was found: both, and what to do. A size is one thing, so it is taken whole. */
export function BothSizes({
  revision,
  by,
  fields,
  unit,
  onTheirs,
}: Clash & { unit: LengthUnit; onTheirs(): void }) {
  const shown = (value: string | number | undefined) =>
    value === undefined ? "–" : typeof value === "number" ? formatLength(value, unit) : value;
  return (
    <section className="meanwhile" aria-label="Saved meanwhile">
      <h2>{by} has saved another size meanwhile</h2>
      <table className="ledger tight">
        <thead>
          <tr>
            <th scope="col">What</th>
            <th scope="col">Before</th>
            <th scope="col">{by}</th>
            <th scope="col">You</th>
          </tr>
        </thead>
        <tbody>
          {fields.map(({ field, base, theirs, mine }) => (
            <tr key={field}>
              <td>{WORDS[field] ?? field}</td>
              <td className="number dim">{shown(base)}</td>
              <td className="number">{shown(theirs)}</td>
              <td className="number">{shown(mine)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="acts">
        <Button type="submit" size="sm" name="over" value={revision}>
          Save mine
        </Button>
        <Button type="button" size="sm" variant="outline-secondary" onClick={onTheirs}>
          Take theirs
        </Button>
        <Button type="submit" size="sm" variant="outline-secondary" name="intent" value="copy-mine">
          Keep mine as a copy
        </Button>
      </div>
    </section>
  );
}
