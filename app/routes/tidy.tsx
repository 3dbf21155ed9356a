import { useState, type ReactNode } from "react";
import { Link, useSearchParams } from "react-router";
import { z } from "zod";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { say } from "#core/findings/say";
import { database } from "#server/db/database";
import { keepOneCollection, mergeTwins } from "#server/tidy/commands";
import { startRemake, stopRemake, undoRemake } from "#server/remake/remake";
import { newestRemake, type Remake } from "#server/remake/sql";
import { startLook } from "#server/tidy/originals";
import type { LicenceInTrouble } from "#server/tidy/queries";
import { readTidy } from "#server/tidy/readTidy";
import { ChangeMany } from "../change/ChangeMany";
import { ActButton } from "../components/ActButton";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, look } from "../guard";
import { refusalOf } from "../refusal";
import { Samples } from "../tidy/Samples";
import { useCatchUp, useFresh } from "../view/live";
import { moment } from "../view/moment";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/tidy";

export const meta: Route.MetaFunction = () => [{ title: "What to tidy – Kalonomy" }];

const AGES = [
  [0, "at all"],
  [30, "for a month"],
  [182, "for half a year"],
  [365, "for a year"],
] as const;

const querySchema = z.object({ days: z.coerce.number().int().min(0).max(36_500).catch(30) });

export const loader = look(async ({ request, person }: Route.LoaderArgs & { person: Person }) => {
  const { days } = querySchema.parse(
    Object.fromEntries([["days", "30"], ...new URL(request.url).searchParams]),
  );
  return {
    days,
    ...(await readTidy(days)),
    remake: saidRemake(await newestRemake(database())),
    mayMake: mayDo(person, "make"),
    mayKeep: mayDo(person, "keep"),
  };
});

const saidRemake = (remake: Remake | undefined) =>
  remake
    ? {
        ...remake,
        otherwise: remake.otherwise.map(({ material, came, went }) => ({
          ...{ material, came: say(came), went: say(went) },
        })),
      }
    : null;

const ACTS = intents(
  intent("merge-twins", { first: z.uuid(), later: z.uuid() }),
  intent("keep-collection", { keep: z.uuid() }),
  intent("look"),
  intent("remake"),
  intent("judge"),
  intent("stop", { run: z.uuid() }),
  intent("undo", { run: z.uuid() }),
);

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const fields = fieldsOf(form, ACTS);
  switch (fields.intent) {
    case "merge-twins": {
      const { merged, failed } = await mergeTwins(fields.first, fields.later, person);
      const not = failed.map(({ name, reason }) => `${name}: ${reason}`).join(" ");
      return { done: `${merged} merged. ${not}`, to: "/alike" };
    }
    case "keep-collection": {
      const { deleted } = await keepOneCollection(fields.keep, person);
      return { done: `Deleted: ${deleted.join(", ")}.`, to: `/collections/${fields.keep}` };
    }
    case "look":
      await startLook(person);
      return null;
    case "remake":
    case "judge":
      await startRemake(undefined, person, fields.intent === "judge");
      return null;
    case "stop":
      await stopRemake(fields.run, person);
      return null;
    case "undo":
      await undoRemake(fields.run);
      return null;
  }
});

/** What a library gathers in time and does not need, each with the act that tidies it. */
export default function Tidy({ loaderData, actionData: answer }: Route.ComponentProps) {
  const { twins, same, unused, licences, gone, looked, most, remake, days, mayMake, mayKeep } = loaderData;
  const actionData = useKept(answer);
  const isLooking = looked !== null && looked.doneAt === null && looked.failure === null;
  useFresh(
    ({ topic, id }) => topic === "library" || topic === "change" || id === looked?.id || id === remake?.id,
  );
  useCatchUp(remake?.id ?? "", remake?.doneAt === null);
  useCatchUp(looked?.id ?? "", isLooking);
  const done = actionData && !refusalOf(actionData) && "done" in actionData ? actionData : undefined;
  return (
    <div className="page">
      <p className="path">
        <Link to="/library">Library</Link>
      </p>
      <h1>What to tidy</h1>
      <Refusal result={actionData} />
      {done && (
        <p role="status">
          {done.done} <Link to={done.to}>Look</Link>
        </p>
      )}
      <Part
        title="Taken in twice"
        empty={twins.length === 0}
        nothing="No two intakes brought the same files."
      >
        {twins.map(({ first, later, pairs }) => (
          <div key={first.id + later.id} className="tidy-row">
            <Samples of={pairs.slice(0, 8).map(([one]) => one)} />
            <p>
              {pairs.length === 1 ? "1 material" : `${pairs.length} materials`} of the{" "}
              <Link to={`/intakes/${later.id}`}>intake of {moment(later.at)}</Link> had come with the{" "}
              <Link to={`/intakes/${first.id}`}>intake of {moment(first.at)}</Link>:{" "}
              {pairs
                .slice(0, 4)
                .map(([one, other]) => (one.name === other.name ? one.name : `${one.name} and ${other.name}`))
                .join(", ")}
              {pairs.length > 4 && " …"}
            </p>
            {mayMake && (
              <ActButton intent="merge-twins" fields={{ first: first.id, later: later.id }}>
                {pairs.length === 1
                  ? "Merge them"
                  : `Merge ${pairs.length > most ? `the first ${most}` : pairs.length}, two by two`}
              </ActButton>
            )}
          </div>
        ))}
      </Part>
      <Part
        title="Collections with the same contents"
        empty={same.length === 0}
        nothing="No two collections hold the same."
      >
        {same.map(({ materials, samples, collections }) => (
          <div key={collections[0].id} className="tidy-row">
            <Samples of={samples} />
            <ul>
              {collections.map(({ id, name, inside, projects }) => (
                <li key={id}>
                  <Link className="tall-link" to={`/collections/${id}`}>
                    {inside ? `${inside} / ${name}` : name}
                  </Link>{" "}
                  <span className="dim">
                    {projects.length > 0 ? `taken by ${projects.join(", ")}` : "taken by no project"}
                  </span>{" "}
                  {mayKeep && (
                    <ActButton intent="keep-collection" fields={{ keep: id }}>
                      {`Keep ${name} alone`}
                    </ActButton>
                  )}
                </li>
              ))}
            </ul>
            <p className="dim">
              {materials === 1 ? "The same material" : `The same ${materials} materials`}. Projects take the
              one that is kept; the others are deleted.
            </p>
          </div>
        ))}
      </Part>
      <Part title="Used by nobody" empty={false} nothing="">
        <Unused unused={unused} days={days} mayKeep={mayKeep} />
      </Part>
      <Part
        title="Licences"
        empty={licences.length === 0}
        nothing="None has ended, or is for another project."
      >
        {licences.map((licence) => (
          <div key={licence.id + licence.why} className="tidy-row">
            <Samples of={licence.samples} />
            <p>
              <Link to={`/licences/${licence.id}`}>{licence.name}</Link>{" "}
              <span className={`mark ${licence.why === "ends" ? "look" : "wrong"}`}>
                {licenceWords(licence)}
              </span>{" "}
              {licence.materials === 1 ? "1 material" : `${licence.materials} materials`}
              {licence.projects.length > 0 && `, in ${licence.projects.join(", ")}`}.
            </p>
          </div>
        ))}
      </Part>
      <Part title="Originals that are gone" empty={false} nothing="">
        <p>
          {isLooking
            ? `Looking: ${looked.lookedAt} of ${looked.total} files …`
            : looked?.doneAt
              ? `Looked for ${looked.lookedAt} files, ${moment(looked.doneAt)}: ${gone.length === 0 ? "all are there" : `${gone.length} ${gone.length === 1 ? "map has" : "maps have"} lost ${gone.length === 1 ? "its" : "their"} file`}.`
              : "Nobody has looked yet."}{" "}
          {looked?.failure && <span className="mark wrong">{looked.failure}</span>}
        </p>
        {gone.length > 0 && (
          <>
            <p>
              A file is known by its content: <Link to="/intakes">hand the download in again</Link>, and it
              lies where it belongs, whatever becomes of that intake.
            </p>
            <ul>
              {gone.map(({ sha256, fileName, role, material }) => (
                <li key={material.id + role}>
                  <Link to={`/materials/${material.id}`}>{material.name}</Link>:{" "}
                  <span className="file">{fileName}</span>{" "}
                  <span className="tag-code" title={sha256}>
                    {sha256.slice(0, 12)}
                  </span>
                </li>
              ))}
            </ul>
          </>
        )}
        {mayMake && !isLooking && <ActButton intent="look">Look for all originals</ActButton>}
      </Part>
      <Part id="pictures" title="Pictures made and materials judged again" empty={false} nothing="">
        <Remade remake={remake} />
        {mayMake && remake?.doneAt !== null && (
          <div className="acts">
            <ActButton intent="remake">Make all pictures again</ActButton>
            <ActButton intent="judge">Judge all again</ActButton>
            {remake?.mayUndo && (
              <ActButton intent="undo" fields={{ run: remake.id }}>
                Undo judging
              </ActButton>
            )}
          </div>
        )}
        {mayMake && remake && remake.doneAt === null && (
          <ActButton intent="stop" fields={{ run: remake.id }}>
            Stop
          </ActButton>
        )}
      </Part>
    </div>
  );
}

/** How far the making of pictures is, which could not be made, and what is said of materials otherwise. */
function Remade({ remake }: { remake: Route.ComponentProps["loaderData"]["remake"] }) {
  if (!remake)
    return (
      <p>
        The small pictures of maps can be made again. Judging reads the files themselves anew, as this version
        reads them, and says what it finds in place of what was said before; what is set stays as it is.
      </p>
    );
  const {
    total,
    made,
    failed,
    failure,
    doneAt,
    stoppedBy,
    undoneAt,
    judges,
    materials,
    judged,
    otherwise,
    notJudged,
  } = remake;
  return (
    <>
      <p role="status">
        {doneAt === null
          ? judges && made + failed.length === total
            ? `Being judged: ${judged + notJudged.length} of ${materials} …`
            : `Being made: ${made + failed.length} of ${total} …`
          : `${made} of ${total} ${total === 1 ? "picture" : "pictures"} made${judges ? `, ${judged} of ${materials} judged` : ""}, ${moment(doneAt)}, for ${remake.madeBy}.`}{" "}
        {stoppedBy && `Stopped by ${stoppedBy}.`}
        {failure && <span className="mark wrong">{failure}</span>}
      </p>
      {undoneAt && (
        <p>
          Taken back {moment(undoneAt)}: of each is said what was said before, unless it was changed since.
        </p>
      )}
      {judges && doneAt !== null && judged > 0 && otherwise.length === 0 && (
        <p>Of each is said what was said before.</p>
      )}
      {otherwise.length > 0 && (
        <>
          <p>Otherwise than before:</p>
          <ul>
            {otherwise.map(({ material, came, went }) => (
              <li key={material.id}>
                <Link to={`/materials/${material.id}`}>{material.name}</Link>:{" "}
                {came.map(({ message }, at) => (
                  <span key={at}>{message} </span>
                ))}
                {went.length > 0 && (
                  <span className="dim">No longer: {went.map(({ message }) => message).join(" ")}</span>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
      {notJudged.length > 0 && (
        <ul>
          {notJudged.map(({ material, reason }) => (
            <li key={material.id}>
              <Link to={`/materials/${material.id}`}>{material.name}</Link>: {reason}
            </li>
          ))}
        </ul>
      )}
      {failed.length > 0 && (
        <ul>
          {failed.map(({ fileName, reason, material }) => (
            <li key={material.id + fileName}>
              <Link to={`/materials/${material.id}`}>{material.name}</Link>:{" "}
              <span className="file">{fileName}</span> {reason}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

function Part({
  id,
  title,
  empty,
  nothing,
  children,
}: {
  id?: string;
  title: string;
  empty: boolean;
  nothing: string;
  children: ReactNode;
}) {
  return (
    <section id={id} className="tidy-part" aria-label={title}>
      <h2>{title}</h2>
      {empty ? <p className="dim">{nothing}</p> : children}
    </section>
  );
}

const licenceWords = ({ why, endsOn }: LicenceInTrouble) =>
  why === "ended" ? `ended ${endsOn}` : why === "ends" ? `ends ${endsOn}` : "is for another project";

/** What nobody has taken for so long, and the way to take it out of the library. */
function Unused({
  unused: { total, items, ids },
  days,
  mayKeep,
}: {
  unused: Route.ComponentProps["loaderData"]["unused"];
  days: number;
  mayKeep: boolean;
}) {
  const [isAsked, setAsked] = useState(false);
  const [, setParams] = useSearchParams();
  return (
    <>
      <p>
        {total === 1 ? "1 material has" : `${total} materials have`} been in no collection and no project, and
        never delivered,{" "}
        <select
          aria-label="For how long"
          value={days}
          onChange={(event) => setParams({ days: event.target.value }, { preventScrollReset: true })}
        >
          {AGES.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
        .
      </p>
      {total > 0 && (
        <>
          <Samples of={items} />
          {total > items.length && <p className="dim">The {items.length} that came first are shown.</p>}
          {mayKeep && !isAsked && (
            <Button size="sm" variant="outline-secondary" onClick={() => setAsked(true)}>
              {`Take ${ids.length === 1 ? "it" : `all ${ids.length}`} out of the library…`}
            </Button>
          )}
          {isAsked && (
            <ChangeMany ids={ids} what="delete" choices={NO_CHOICES} onClose={() => setAsked(false)} />
          )}
        </>
      )}
    </>
  );
}

const NO_CHOICES = {
  ...{ suppliers: [], tags: [], licences: [], nameRule: null, grades: [], collections: [] },
};
