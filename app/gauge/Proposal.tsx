import { useState } from "react";
import { blockWidths, slantedPeriod } from "#core/gauge/blockWidths";
import { SURE } from "#core/gauge/findModules";
import type { LengthUnit } from "#core/length/parseLength";
import type { CountedModules } from "#server/images/countModules";
import { Button } from "../components/Button";
import { typedLength } from "./typedLength";

interface ProposalProps {
  /** Null while the program counts. */
  found: CountedModules | null | undefined;
  /** @param module its size with the joint, mm, where it follows from that of a block */
  onTake(count: { across?: number; down?: number }, module?: { width: number; height: number }): void;
  unit: LengthUnit;
}

const BOND_WORDS = {
  stack: "",
  half: " in half bond",
  third: " in third bond",
  quarter: " in quarter bond",
  herringbone: " periods of herringbone",
  herringbone45: " periods of herringbone at 45°",
} as const;

/** What the program has counted, how sure it is, and a button that fills it in. */
export function Proposal({ found, onTake, unit }: ProposalProps) {
  if (found === undefined) return null;
  return (
    <div className="proposal" role="status">
      {found === null ? "Counting what repeats…" : <Words found={found} onTake={onTake} unit={unit} />}
    </div>
  );
}

function Words({
  found: { count, pitch, failed, heightCount, lattice },
  onTake,
  unit,
}: {
  found: CountedModules;
} & Pick<ProposalProps, "onTake" | "unit">) {
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
      {bond === "herringbone45" && lattice ? (
        <SlantedBlock unit={unit} onWidth={(mm) => onTake(widths, slantedPeriod(mm, lattice))} />
      ) : (
        <Button size="sm" variant="outline-secondary" onClick={() => onTake(widths)}>
          Take this count
        </Button>
      )}
    </>
  );
}

/** A block at 45° shows in no direction of the picture: its periods follow from its width. */
function SlantedBlock({ unit, onWidth }: { unit: LengthUnit; onWidth(mm: number): void }) {
  const [text, setText] = useState("");
  const width = typedLength(text, unit).mm;
  const take = () => width !== undefined && onWidth(width);
  return (
    <div className="slanted-block">
      <label htmlFor="slanted-width">Width of a block of 2:1, with its joint</label>
      <input
        id="slanted-width"
        className="form-control form-control-sm number"
        placeholder="103"
        autoComplete="off"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          // It fills the form in, and does not send it.
          event.preventDefault();
          take();
        }}
      />
      <Button size="sm" variant="outline-secondary" disabled={width === undefined} onClick={take}>
        Take this count
      </Button>
    </div>
  );
}
