import { Link } from "react-router";
import type { GroupMember, PlanGroup, PlanSummary, SummedNote } from "#core/convert/planSummary";
import { formatBytes } from "#core/length/formatBytes";
import { formatSeconds } from "#core/length/formatSeconds";
import { formatSize } from "#core/length/formatLength";
import type { MapChannel } from "#core/roles/channel";
import { useView } from "../view/viewContext";
import { Notes } from "./Notes";
import { previewUrl } from "./previewUrl";

interface PlanViewProps {
  summary: PlanSummary;
  /** That it takes to make, without what was made before. */
  seconds: number;
  /** What is no material. */
  leftOut: string[];
  profileNames: Record<string, string>;
}

/** What a delivery will make, before it is made: what is to be looked at, and below it what becomes of which materials. */
export function PlanView({ summary, seconds, leftOut, profileNames }: PlanViewProps) {
  const { materials, files, bytes, look, notCarried, groups } = summary;
  return (
    <>
      <section className="plan-summary" aria-label="Look before">
        <p>
          {materials} {materials === 1 ? "material" : "materials"}, {files} files, about {formatBytes(bytes)};{" "}
          {seconds === 0 ? "no image is left to make." : `about ${formatSeconds(seconds)} to make.`}
          {leftOut.length > 0 && ` Left out, being no materials: ${leftOut.join(", ")}.`}
        </p>
        <Summed title="Look at" notes={look} all={materials} />
        <Summed title="Values that a renderer does not get" notes={notCarried} all={materials} />
        {look.length === 0 && notCarried.length === 0 && (
          <p className="dim">Nothing is to be looked at first.</p>
        )}
      </section>
      {groups.map((group, at) => (
        <Group
          key={`${group.profile} ${group.members[0].id}`}
          group={group}
          profile={profileNames[group.profile] ?? group.profile}
          isOpen={groups.length <= 2 && at === 0}
        />
      ))}
    </>
  );
}

function Summed({ title, notes, all }: { title: string; notes: SummedNote[]; all: number }) {
  const of = ({ count, of }: SummedNote) => {
    if (all === 1) return "";
    if (count === all) return " (all of them)";
    return ` (${of.join(", ")}${count > of.length ? ` and ${count - of.length} more` : ""})`;
  };
  return <Notes title={title} lines={notes.map((note) => `${note.text}${of(note)}`)} look />;
}

function Group({ group, profile, isOpen }: { group: PlanGroup; profile: string; isOpen: boolean }) {
  const { count, members, files, container } = group;
  const names = members.slice(0, 3).map(({ name }) => name);
  return (
    <section className="plan">
      <h2>
        {names.join(", ")}
        {count > names.length && ` and ${count - names.length} more`}{" "}
        <span className="dim">for {profile}</span>
      </h2>
      <ul className="plan-members" aria-label="Materials">
        {members.map((member) => (
          <Patch key={member.id} member={member} />
        ))}
        {count > members.length && <li className="dim">and {count - members.length} more</li>}
      </ul>
      <details open={isOpen}>
        <summary>
          {files.length === 0 ? "No image" : files.length === 1 ? "One image" : `${files.length} images`}
          {count > 1 && " of each"}
          {container && `, and ${container.replace(/^.*(\.\w+)$/, "a $1")}`}, and what is done
        </summary>
        {files.length > 0 && (
          <table className="ledger tight">
            <thead>
              <tr>
                <th scope="col">Input</th>
                <th scope="col">From</th>
                <th scope="col">What is done</th>
                <th scope="col" className="number">
                  Becomes
                </th>
              </tr>
            </thead>
            <tbody>
              {files.map(({ slot, from, operations, becomes }) => (
                <tr key={slot}>
                  <td>{slot}</td>
                  <td className="file">{from.join(", ")}</td>
                  <td>
                    {operations.length === 0 ? (
                      <span className="dim">as it is</span>
                    ) : (
                      operations.map((word) => <code key={word}>{word}</code>)
                    )}
                  </td>
                  <td className="number">{becomes}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {members.map((member) => (
          <Words key={member.id} member={member} isAlone={count === 1} />
        ))}
      </details>
    </section>
  );
}

/** A small picture of a material, under its name. */
function Patch({ member: { id, name, picture, color } }: { member: GroupMember }) {
  return (
    <li>
      <Link to={`/materials/${id}`} title={name}>
        {picture ? (
          <img
            src={previewUrl(picture.sha256, 64, picture.channel as MapChannel)}
            alt={name}
            loading="lazy"
          />
        ) : (
          <span
            className="plan-color"
            role="img"
            aria-label={name}
            style={{ background: color ?? undefined }}
          />
        )}
      </Link>
    </li>
  );
}

function Words({ member, isAlone }: { member: GroupMember; isAlone: boolean }) {
  const { unit } = useView();
  const { name, revision, repeat, isPlain, steps, warnings, notCarried, correction } = member;
  return (
    <div className="plan-words">
      <p className="number dim">
        {!isAlone && `${name} · `}revision {revision} ·{" "}
        {repeat ? formatSize(repeat, unit) : isPlain ? "plain colour" : "size unknown"}
      </p>
      <Notes title="Left to do at the receiving end" lines={steps} />
      <Notes title="Look at" lines={warnings} look />
      <Notes title="Changed for this renderer alone" lines={correction} />
      <Notes title="Values that this renderer does not get" lines={notCarried} look />
    </div>
  );
}
