import { Fragment, useState } from "react";
import { blockWidths, slantedPeriod } from "#core/gauge/blockWidths";
import type { Bond } from "#core/gauge/bond";
import type { Copies } from "#core/gauge/counting/copies";
import { SURE } from "#core/gauge/findModules";
import { DIRECTION_WORDS } from "#core/judge/seams";
import { jointMm, type JointWidths } from "#core/gauge/jointWidth";
import { formatLength } from "#core/length/formatLength";
import type { LengthUnit } from "#core/length/parseLength";
import type { CountedModules } from "#server/pixels/countModules";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { BOND_WORDS } from "./bondWords";
import { typedLength } from "./typedLength";

interface ProposalProps {
  /** Null while the program counts. */
  found: CountedModules | null | undefined;
  /** @param module its size with the joint, mm, where it follows from that of a block */
  onTake(count: { across?: number; down?: number }, module?: { width: number; height: number }): void;
  unit: LengthUnit;
  /** The work size that is typed, mm, as far as it is. */
  work: { width?: number; height?: number };
  /** Cuts a picture that holds itself several times; not given to those who may not. */
  onCut?: (copies: Copies) => void;
  /** While that is asked for, once it is and the new revision has not come, and why it was refused. */
  cutting: { isOn: boolean; isAsked: boolean; result: unknown };
  /** @param joints mm */
  onJoints(joints: { across?: number; down?: number }): void;
}

/** Of what the pieces are whose number is taken, where that is no module as it lies. */
const PIECES: Partial<Record<Bond, { what: string; type: string }>> = {
  herringbone: {
    what: "widths of a block",
    type: "Type its width, without the joint, as the work size in both directions.",
  },
  flemish: { what: "headers and courses", type: "Type the width and height of a header as the work size." },
};

/** What the program has counted, how sure it is, and a button that fills it in. */
export function Proposal({ found, ...rest }: ProposalProps) {
  if (found === undefined) return null;
  return (
    <div className="proposal" role="status">
      {found === null ? "Counting what repeats…" : <Words found={found} {...rest} />}
    </div>
  );
}

function Words({
  found: { count, pitch, failed, heightCount, lattice, joints },
  onTake,
  unit,
  work,
  onCut,
  cutting,
  onJoints,
}: Omit<ProposalProps, "found"> & {
  found: CountedModules;
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
          : `Something repeats every ${pitches.join(" and ")}. ${
              pitch?.hidden
                ? `From ${DIRECTION_WORDS[pitch.hidden]} it goes on as well, at a distance that does not show: draw a line, or take a larger picture.`
                : "It is not seamless: crop it to whole modules on Judge, or draw a line."
            }`}
      </p>
    );
  }
  const { across, down, bond, upright, copies, sure } = count;
  const doubted = sure < SURE;
  const itself = copies && <Itself copies={copies} onCut={doubted ? undefined : onCut} cutting={cutting} />;
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
      {joints && <Joints joints={joints} work={work} unit={unit} onTake={onJoints} />}
    </>
  );
}

/** How wide the joints look: in millimetres once a work size is typed, before that as a part of a module. */
function Joints({
  joints,
  work,
  unit,
  onTake,
}: {
  joints: JointWidths;
  work: ProposalProps["work"];
  unit: LengthUnit;
  onTake: ProposalProps["onJoints"];
}) {
  const seen = [
    { key: "across", joint: joints.across, mm: work.width, between: "pieces" },
    { key: "down", joint: joints.down, mm: work.height, between: "courses" },
  ].flatMap(({ joint, mm, ...rest }) =>
    joint ? [{ ...rest, joint, ...(mm !== undefined && { width: nearHalf(jointMm(mm, joint)) }) }] : [],
  );
  if (seen.length === 0) return null;
  const taken = Object.fromEntries(seen.map(({ key, width }) => [key, width]));
  return (
    <>
      <p className="joints-seen">
        Its joints look{" "}
        {seen.map(({ key, joint, width, between }, i) => (
          <Fragment key={key}>
            {i > 0 && ", and "}
            <span className="number">
              {width === undefined
                ? `${(joint.share * 100).toFixed(1)} % of a module`
                : formatLength(width, unit)}
            </span>{" "}
            wide between {between}, <Sureness sure={joint.sure} />
          </Fragment>
        ))}
        .
      </p>
      {seen.some(({ width }) => width !== undefined) && (
        <Button size="sm" variant="outline-secondary" onClick={() => onTake(taken)}>
          Take these joints
        </Button>
      )}
    </>
  );
}

/** Joints are made to the half millimetre at best, and seen less exactly. */
const nearHalf = (mm: number) => Math.round(mm * 2) / 2;

function Sureness({ sure }: { sure: number }) {
  const doubted = sure < SURE;
  return (
    <span className={doubted ? "mark look" : undefined}>
      {doubted ? "not sure" : "sure"} <span className="number dim">{Math.round(sure * 100)} %</span>
    </span>
  );
}

/** A picture that was laid beside itself shows it on every wall. */
function Itself({ copies, onCut, cutting }: { copies: Copies } & Pick<ProposalProps, "onCut" | "cutting">) {
  return (
    <>
      <p className="aside">
        The image holds itself{" "}
        <span className="number">
          {copies.across} × {copies.down}
        </span>{" "}
        times: all that is in it comes so often on every surface.
      </p>
      <Refusal result={cutting.result} />
      {cutting.isAsked && (
        <p className="aside">It is being cut: the new revision comes by itself, or Judge says why not.</p>
      )}
      {onCut && !cutting.isAsked && (
        <Button size="sm" variant="outline-secondary" disabled={cutting.isOn} onClick={() => onCut(copies)}>
          {cutting.isOn ? "Cutting…" : "Cut it to one copy"}
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
