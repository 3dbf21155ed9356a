import { blockWidths } from "#core/gauge/blockWidths";
import { SURE } from "#core/gauge/findModules";
import type { CountedModules } from "#server/images/countModules";
import { Button } from "../components/Button";

interface ProposalProps {
  /** Null while the program counts. */
  found: CountedModules | null | undefined;
  onTake(count: { across?: number; down?: number }): void;
}

const BOND_WORDS = {
  stack: "",
  half: " in half bond",
  third: " in third bond",
  quarter: " in quarter bond",
  herringbone: " periods of herringbone",
} as const;

/** What the program has counted, how sure it is, and a button that fills it in. */
export function Proposal({ found, onTake }: ProposalProps) {
  if (found === undefined) return null;
  return (
    <div className="proposal" role="status">
      {found === null ? "Counting what repeats…" : <Words found={found} onTake={onTake} />}
    </div>
  );
}

function Words({
  found: { count, pitch, failed, heightCount },
  onTake,
}: {
  found: CountedModules;
  onTake: ProposalProps["onTake"];
}) {
  if (failed) return <p>The modules could not be counted: give the overall size, or draw a line.</p>;
  if (!count) {
    const pitches = [
      pitch?.across && `${pitch.across.toFixed(1)} px across`,
      pitch?.down && `${pitch.down.toFixed(1)} px down`,
    ].filter(Boolean);
    return (
      <p>
        {pitches.length === 0
          ? "Nothing in it repeats at a fixed distance that the program could find."
          : `Something repeats every ${pitches.join(" and ")}. It is not seamless: crop it to whole modules on Judge, or draw a line.`}
      </p>
    );
  }
  const { across, down, bond, upright, sure } = count;
  if (across === undefined && down === undefined)
    return <p>Nothing in it repeats that the program could count: give its overall size, or draw a line.</p>;
  const doubted = sure < SURE;
  const widths = blockWidths(count);
  return (
    <>
      <p>
        The program counts <strong className="number">{across === undefined ? "" : across}</strong>
        {across !== undefined && down !== undefined && " × "}
        <strong className="number">{down === undefined ? "" : down}</strong>
        {across === undefined ? " rows; along them nothing repeats" : down === undefined ? " columns" : ""}
        {BOND_WORDS[bond]}
        {upright && ", standing"},{" "}
        <span className={doubted ? "mark look" : undefined}>
          {doubted ? "not sure" : "sure"} <span className="number dim">{Math.round(sure * 100)} %</span>
        </span>
        .
      </p>
      {heightCount && (
        <p>
          <span className="mark wrong">
            The height map holds{" "}
            <span className="number">
              {[heightCount.across, heightCount.down].filter((one) => one !== undefined).join(" × ")}
            </span>
          </span>
          : it does not belong to this picture.
        </p>
      )}
      {bond === "herringbone" && (
        <p className="aside">
          That is {widths.across} × {widths.down} widths of a block. Type its width, without the joint, as the
          work size in both directions.
        </p>
      )}
      <Button size="sm" variant="outline-secondary" onClick={() => onTake(widths)}>
        Take this count
      </Button>
    </>
  );
}
