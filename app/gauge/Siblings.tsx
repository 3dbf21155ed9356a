import type { BenchData } from "../routes/bench";

/** Variants of the same line, to which the size can be handed on in the same step; those without one are ticked. */
export function Siblings({ siblings }: Pick<BenchData, "siblings">) {
  if (siblings.length === 0) return null;
  const unknown = siblings.filter(({ sizeState }) => sizeState === "unknown").length;
  return (
    <details className="siblings-list" open={unknown > 0}>
      <summary>
        Also for variants of its line
        {unknown > 0 && <span className="mark look"> {unknown} without a size</span>}
      </summary>
      {siblings.map(({ id, name, sizeState }) => (
        <label key={id}>
          <input type="checkbox" name="also" value={id} defaultChecked={sizeState === "unknown"} /> {name}
          <span className="dim"> {sizeState}</span>
        </label>
      ))}
    </details>
  );
}
