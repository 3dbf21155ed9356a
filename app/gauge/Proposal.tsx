import { useState } from "react";
import { blockWidths, slantedPeriod } from "#core/gauge/blockWidths";
import type { Bond } from "#core/gauge/bond";
import type { Copies } from "#core/gauge/counting/copies";
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

const BOND_WORDS: Record<Bond, string> = {
  stack: "",
  half: " in half bond",
  third: " in third bond",
  quarter: " in quarter bond",
  other: ", each course shifted against the one before",
  english: " stretchers and courses in English bond",
  flemish: " pairs of a stretcher and a header, and courses, in Flemish bond",
  basket: " squares of basket weave",
  herringbone: " periods of herringbone",
  herringbone45: " periods of herringbone at 45°",
};

/** Of what the pieces are whose number is taken, where that is no module as it lies. */
const PIECES: Partial<Record<Bond, { what: string; type: string }>> = {
  herringbone: {
    what: "widths of a block",
    type: "Type its width, without the joint, as the work size in both directions.",
  },
  flemish: { what: "headers and courses", type: "Type the width and height of a header as the work size." },
};

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
  const { across, down, bond, upright, copies, sure } = count;
  const doubted = sure < SURE;
  const itself = copies && <Itself {...copies} />;
  if (across === undefined && down === undefined)
    return (
      <>
        <p>
          {doubted ? "No modules were found" : "Nothing in it repeats"}, <Sureness sure={sure} />: give its
          overall size, or draw a line.
        </p>
        {itself}
      </>
    );
  const widths = blockWidths(count);
  return (
    <>
      <p>
        The program counts <strong className="number">{across === undefined ? "" : across}</strong>
        {across !== undefined && down !== undefined && " × "}
        <strong className="number">{down === undefined ? "" : down}</strong>
        {across === undefined
          ? " rows; modules along them were not found"
          : down === undefined
            ? " columns; modules along them were not found"
            : ""}
        {BOND_WORDS[bond]}
        {upright && ", standing"}, <Sureness sure={sure} />.
      </p>
      {itself}
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
      {PIECES[bond] && (
        <p className="aside">
          That is {widths.across} × {widths.down} {PIECES[bond].what}. {PIECES[bond].type}
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

function Sureness({ sure }: { sure: number }) {
  const doubted = sure < SURE;
  return (
    <span className={doubted ? "mark look" : undefined}>
      {doubted ? "not sure" : "sure"} <span className="number dim">{Math.round(sure * 100)} %</span>
    </span>
  );
}

/** A picture that was laid beside itself shows it on every wall. */
function Itself({ across, down }: Copies) {
  return (
    <p className="aside">
      The image holds itself{" "}
      <span className="number">
        {across} × {down}
      </span>{" "}
      times: all that is in it comes so often on every surface.
    </p>
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
