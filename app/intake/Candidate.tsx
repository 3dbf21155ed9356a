import { useState } from "react";
import { Link } from "react-router";
import type { SaidFinding } from "#core/findings/say";
import type { ImageReading } from "#core/judge/imageReading";
import type { RepetitionReading } from "#core/judge/repetition";
import { formatLength, formatSize } from "#core/length/formatLength";
import { fileOf, isToldApart } from "#core/roles/channel";
import { ROLE_NAMES, type Role } from "#core/roles/roles";
import type { CandidateRow } from "#server/intake/queries";
import { Button } from "../components/Button";
import { Findings } from "../components/Findings";
import { SeamSample } from "../components/SeamSample";
import { previewUrl } from "../components/previewUrl";
import { useView } from "../view/viewContext";
import { DragHandle } from "../components/DragHandle";
import { DropTarget, useArranging, type MovableFile } from "./Arrange";
import { Figures } from "./Figures";
import { MoveFile } from "./MoveFile";
import { RoleOptions } from "./RoleOptions";

const KINDS = { material: undefined, wear: "wear layer", environment: "environment" } as const;
const LAYOUT_WORDS = { "cut-outs": "sheet of cut-outs", placed: "placed once" } as Record<
  string,
  string | undefined
>;

/** What is asked above, once for all. */
const ASKED = new Set(["role-unknown", "normal-direction-assumed"]);

type ShownCandidate = Omit<CandidateRow, "findings"> & { findings: SaidFinding[] };

interface CandidateProps {
  candidate: ShownCandidate;
  readings: Record<string, { reading: ImageReading | null; repetition: RepetitionReading | null }>;
  mayMake: boolean;
  busy: boolean;
  /** What the intake does on a clash. */
  onClash: string;
  /** Codes of findings that are told once for all candidates. */
  common: string[];
}

/** One row of the review: what was recognised, how sure, what is to be said of it, and what can be set. */
export function Candidate({ candidate, readings, mayMake, busy, onClash, common }: CandidateProps) {
  const { id, name, maps, findings, state, material, clashes, licence } = candidate;
  const [tiled, setTiled] = useState(false);
  const { unit } = useView();
  const base = maps.find(({ role }) => role === "base_color") ?? maps[0];
  const open = state === "waiting" && mayMake;
  const normal = maps.find(({ role }) => role === "geometry_normal");
  const marks = [KINDS[candidate.kind], LAYOUT_WORDS[candidate.layout]].filter(Boolean);
  const siblings = [...new Set(maps.map(fileOf))];
  // A file whose channels are maps of their own is told by them.
  const listed = maps.filter((map) => !(map.leftOut && isToldApart(map, maps)));
  const section = (place?: { ref(node: HTMLElement | null): void; isOver: boolean }) => (
    <section
      ref={place?.ref}
      className={`candidate ${state}${place?.isOver ? " over" : ""}`}
      aria-label={name}
    >
      {open && <input type="hidden" name="candidate" value={id} />}
      <div className="candidate-sample">
        {!base && candidate.sheet?.color && (
          <span className="color-sample" style={{ background: candidate.sheet.color }} />
        )}
        {base && (
          <>
            <SeamSample
              url={previewUrl(base.sha256, 256, base.channel)}
              tiled={tiled}
              seams={readings[base.sha256]?.reading?.seams}
              spots={readings[base.sha256]?.repetition?.spots}
              width={base.width}
              height={base.height}
            />
            {candidate.layout === "repeating" && (
              <button
                type="button"
                className="plain-button"
                aria-pressed={tiled}
                onClick={() => setTiled(!tiled)}
              >
                {tiled ? "One image" : "Tiled, with its seams"}
              </button>
            )}
          </>
        )}
      </div>
      <div className="candidate-body">
        <div className="candidate-head">
          {open ? (
            <label>
              <span className="visually-hidden">Name</span>
              <input type="hidden" name={`${id}/name-read`} value={name} />
              <input className="name-input" name={`${id}/name`} defaultValue={name} maxLength={200} />
            </label>
          ) : (
            <h2>{name}</h2>
          )}
          {marks.map((mark) => (
            <span key={mark} className="stamp">
              {mark}
            </span>
          ))}
          <span className="spring" />
          {open && (
            <Button type="submit" name="only" value={id} size="sm" disabled={busy}>
              Accept
            </Button>
          )}
          {material && <Link to={`/materials/${material}`}>In the library</Link>}
        </div>
        {candidate.sheet && <SheetWords sheet={candidate.sheet} />}
        {maps.length > 0 && (
          <table className="ledger tight">
            <thead>
              <tr>
                <th scope="col">File</th>
                <th scope="col">Role</th>
                <th scope="col">How sure</th>
                <th scope="col" className="number">
                  Pixels
                </th>
                <th scope="col" className="number">
                  Bits
                </th>
                {open && (
                  <th scope="col">
                    <span className="visually-hidden">Where it belongs</span>
                  </th>
                )}
              </tr>
            </thead>
            <tbody>
              {listed.map((map, at) => (
                <MapRow
                  key={map.file}
                  map={map}
                  candidate={id}
                  siblings={siblings}
                  isFirst={listed.findIndex((other) => fileOf(other) === fileOf(map)) === at}
                  open={open}
                />
              ))}
            </tbody>
          </table>
        )}
        {base && candidate.kind !== "environment" && <Figures candidate={candidate} readings={readings} />}
        {open && normal && (
          <label className="inline-choice">
            Green of the normal map points{" "}
            <select name={`${id}/direction`} defaultValue={normal.normalDirection ?? ""}>
              {!normal.normalDirection && <option value="">up, +Y (assumed)</option>}
              <option value="+Y">up, +Y{normal.normalDirection ? "" : " (sure)"}</option>
              <option value="-Y">down, −Y</option>
            </select>
          </label>
        )}
        {open && clashes.length > 0 && (
          <label className="inline-choice">
            The library has{" "}
            {clashes[0].isWhole ? "all of it as" : clashes[0].same === "name" ? "the name" : "the picture"}{" "}
            <Link to={`/materials/${clashes[0].id}`}>{clashes[0].name}</Link>:{" "}
            <select
              name={`${id}/clash`}
              defaultValue={candidate.onClash ?? (clashes[0].isWhole ? "skip" : onClash)}
            >
              <option value="keep-both">keep both</option>
              <option value="skip">skip it</option>
              <option value="replace">replace it by a new revision</option>
            </select>
          </label>
        )}
        {candidate.hint?.repeat && (
          <p className="aside">
            By the geometry of {candidate.hint.from} one repeat is{" "}
            <span className="number">{formatSize(candidate.hint.repeat, unit)}</span>; it is taken over as
            assumed.
          </p>
        )}
        {licence && open && (
          <label className="licence-choice">
            <input type="checkbox" name={`${id}/licence`} />
            <span>
              Licence as {licence.file} says: <strong>{licence.name}</strong>
              {licence.nonCommercial && ", not for paid work"}
              {licence.projects === "one" && ", for one project"}
              {licence.credit && `, name ${licence.credit}`}. I have read it. <q>{licence.sentence}</q>
            </span>
          </label>
        )}
        <Findings
          findings={findings}
          isFolded={({ level, code }) =>
            level === "note" || (open && ASKED.has(code)) || (level === "look" && common.includes(code))
          }
        />
      </div>
    </section>
  );
  return open ? (
    <DropTarget candidate={id} name={name}>
      {section}
    </DropTarget>
  ) : (
    section()
  );
}

interface MapRowProps {
  map: CandidateRow["maps"][number];
  candidate: string;
  /** All files of the candidate. */
  siblings: string[];
  /** Of the maps that its file is: all of them move together. */
  isFirst: boolean;
  open: boolean;
}

/** One map: what it is taken for, how surely, and a way to where it belongs. */
function MapRow({ map, candidate, siblings, isFirst, open }: MapRowProps) {
  const [isMoving, setMoving] = useState(false);
  const canMove = useArranging() !== undefined && open;
  const file = fileOf(map);
  return (
    <>
      <tr>
        <td className="file">
          {canMove && isFirst && (
            <DragHandle
              id={`${candidate} ${file}`}
              data={
                {
                  name: file,
                  candidate,
                  file,
                  sha256: map.sha256,
                  channel: map.channel,
                } satisfies MovableFile
              }
            />
          )}
          <img className="thumb" src={previewUrl(map.sha256, 64, map.channel)} alt="" loading="lazy" />
          {channelWords(map)}
        </td>
        <td>
          {open ? (
            <RoleChoice
              key={map.role}
              field={`${candidate}/role/${map.file}`}
              role={map.role}
              likely={map.likely}
              file={map.file}
            />
          ) : map.role === "unknown" ? (
            "left out"
          ) : (
            ROLE_NAMES[map.role]
          )}
        </td>
        <td>{open || map.role !== "unknown" ? <Sureness {...map} /> : null}</td>
        <td className="number">
          {map.width} × {map.height}
        </td>
        <td className="number">{map.bitDepth === 32 ? "float" : map.bitDepth}</td>
        {open && (
          <td>
            {canMove && isFirst && (
              <button
                type="button"
                className="plain-button"
                aria-expanded={isMoving}
                aria-label={`Move ${file}`}
                onClick={() => setMoving(!isMoving)}
              >
                Move
              </button>
            )}
          </td>
        )}
      </tr>
      {isMoving && canMove && (
        <tr>
          <td colSpan={6}>
            <MoveFile
              candidate={candidate}
              file={file}
              siblings={siblings}
              onClose={() => setMoving(false)}
            />
          </td>
        </tr>
      )}
    </>
  );
}

/** What the supplier's product sheet says, and what is taken over from it. */
function SheetWords({ sheet }: { sheet: NonNullable<CandidateRow["sheet"]> }) {
  const { unit } = useView();
  const { line, variant, code, sheen } = sheet;
  const module = line.coverSize ?? line.workSize;
  return (
    <p className="aside">
      {sheet.supplier.name}, {line.name}, <span className="number">{code}</span>
      {Object.entries(variant).map(([key, value]) => `, ${key} ${value}`)}.{" "}
      {module && (
        <>
          {line.coverSize ? "Shows " : "Work size "}
          <span className="number">{formatSize(module, unit)}</span>
          {!line.coverSize && line.jointMm ? (
            <>
              , joint <span className="number">{formatLength(line.jointMm, unit)}</span>
            </>
          ) : null}
          {line.picture
            ? `, ${line.picture.across} × ${line.picture.up} in the picture: its size is taken over.`
            : ". How many the picture shows is not said: gauge it."}{" "}
        </>
      )}
      {sheen !== null && `Sheen ${sheen} at 60°: the roughness is estimated from it. `}
      Licence as the supplier states it: {line.licence.name}.
    </p>
  );
}

function channelWords({ file, channel }: CandidateRow["maps"][number]): string {
  if (channel === "color") return file;
  const plain = file.slice(0, -(channel.length + 1));
  return channel === "alpha" ? `${plain}, fourth channel` : `${plain}, ${channel}`;
}

interface RoleChoiceProps {
  field: string;
  role: Role | "unknown";
  likely: Role[];
  file: string;
}

function RoleChoice({ field, role, likely, file }: RoleChoiceProps) {
  return (
    <select
      name={field}
      defaultValue={role === "unknown" ? "leave-out" : role}
      aria-label={`Role of ${file}`}
    >
      <RoleOptions likely={likely} leaveOut="leave out" />
    </select>
  );
}

function Sureness({ confidence, role, leftOut }: CandidateRow["maps"][number]) {
  if (leftOut || (role !== "unknown" && confidence === 0)) return <span>as somebody said</span>;
  if (role === "unknown") return <span className="mark look">please say</span>;
  const words = confidence >= 0.95 ? "certain" : confidence >= 0.8 ? "quite sure" : "a guess";
  return (
    <span className={confidence < 0.8 ? "mark look" : undefined}>
      {words} <span className="number dim">{Math.round(confidence * 100)} %</span>
    </span>
  );
}
