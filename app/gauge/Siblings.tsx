import type { Sharer } from "#server/sizing/sharers";
import type { BenchData } from "../routes/bench";

interface SiblingsProps extends Pick<BenchData, "siblings"> {
  /** Those that took their size from it, or with it. */
  sharers: Sharer[];
}

/**
 * To whom the size can be handed on in the same step: those that took it, so that one that was wrong is corrected for all, and
 * variants of the same line, of which those without a size are ticked.
 */
export function Siblings({ siblings, sharers }: SiblingsProps) {
  const others = siblings.filter(({ id }) => !sharers.some((one) => one.id === id));
  if (others.length + sharers.length === 0) return null;
  const unknown = others.filter(({ sizeState }) => sizeState === "unknown").length;
  return (
    <details className="siblings-list" open={unknown + sharers.length > 0}>
      <summary>
        Also for {sharers.length > 0 && `${sharers.length} that took its size`}
        {sharers.length > 0 && others.length > 0 && ", and for "}
        {others.length > 0 && "variants of its line"}
        {unknown > 0 && <span className="mark look"> {unknown} without a size</span>}
      </summary>
      {sharers.map(({ id, name }) => (
        <label key={id}>
          <input type="checkbox" name="also" value={id} defaultChecked /> {name}
          <span className="dim"> took its size</span>
        </label>
      ))}
      {others.map(({ id, name, sizeState }) => (
        <label key={id}>
          <input type="checkbox" name="also" value={id} defaultChecked={sizeState === "unknown"} /> {name}
          <span className="dim"> {sizeState}</span>
        </label>
      ))}
    </details>
  );
}
