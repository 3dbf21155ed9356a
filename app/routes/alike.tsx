import { Form, Link, redirect } from "react-router";
import { z } from "zod";
import type { Part } from "#core/judge/likeness";
import { formatBytes } from "#core/length/formatBytes";
import { mayDo } from "#server/auth/levels";
import { database } from "#server/db/database";
import { DECISIONS, listLikePairs, type Decision, type LikePair } from "#server/likeness/queries";
import { decideLikeness } from "#server/likeness/commands";
import type { Person } from "#server/auth/person";
import { listMerges, listSameFiles } from "#server/merge/sql";
import { Button } from "../components/Button";
import { Empty } from "../components/Empty";
import { previewUrl } from "../components/previewUrl";
import { Refusal } from "../components/Refusal";
import { act, look } from "../guard";
import { differencesOf } from "../intake/differencesOf";
import { Merged } from "../merge/Merged";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/alike";

export const meta: Route.MetaFunction = () => [{ title: "Alike – Kalonomy" }];

/** Most files that are shown which several materials have. */
const MOST = 40;
/** So many merges are offered to be undone. */
const MOST_MERGES = 20;

export const loader = look(async ({ person }: Route.LoaderArgs & { person: Person }) => ({
  pairs: await listLikePairs(database()),
  sameFiles: await listSameFiles(database(), MOST),
  merges: await listMerges(database(), { limit: MOST_MERGES }),
  mayMake: mayDo(person, "make"),
}));

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const pair = { first: z.string().parse(form.get("first")), second: z.string().parse(form.get("second")) };
  const word = form.get("decision");
  const decision = DECISIONS.find((one) => one === word) ?? null;
  const { materials, line } = await decideLikeness(pair, decision, person);
  const [one, other] = materials;
  // What is the same is one material: which of them stays is said next.
  if (decision === "same" && materials.length === 2)
    return redirect(`/merge?${new URLSearchParams({ first: one.id, second: other.id })}`);
  const names = materials.length === 2 ? `${one.name} and ${other.name}` : null;
  return { ...pair, decision, line, names, was: String(form.get("was") ?? "") };
});

const WORDS: Record<Decision, string> = {
  same: "The same",
  variant: "A variant of it",
  different: "Something else",
};

/** Pictures that are alike, side by side: what differs, and what somebody decided once. */
export default function Alike({ loaderData, actionData }: Route.ComponentProps) {
  const { pairs, sameFiles, merges, mayMake } = loaderData;
  const answer = useKept(actionData);
  return (
    <div className="page">
      <p className="path">
        <Link to="/intakes">Intake</Link>
      </p>
      <h1>Alike</h1>
      <p className="aside">
        Pictures that may be one and the same, however they were encoded, resized, tinted, turned, mirrored,
        shifted, cropped or mended. Decide once; it is remembered.
      </p>
      <Merged merges={merges} mayMake={mayMake} />
      <Refusal result={answer} />
      {answer && "was" in answer && <JustDecided answer={answer} pairs={pairs} />}
      {sameFiles.map(({ sha256, materials }) => (
        <section
          key={sha256}
          className="like-pair same-file"
          aria-label={materials.map(({ name }) => name).join(" and ")}
        >
          <figure>
            <LikePicture sha256={sha256} />
          </figure>
          <div className="like-words">
            <p>One file under {materials.length} names:</p>
            <ul>
              {materials.map(({ id, name, code }, at) => (
                <li key={id}>
                  <Link to={`/materials/${id}`}>{name}</Link> <span className="number dim">{code}</span>{" "}
                  {at > 0 && mayMake && <MergeLink first={materials[0]} second={materials[at]} />}
                </li>
              ))}
            </ul>
          </div>
        </section>
      ))}
      {pairs.length === 0 && sameFiles.length === 0 ? (
        <Empty title="No two pictures are alike">
          <p>Each download is compared with the library when it comes in.</p>
        </Empty>
      ) : (
        pairs.map((pair) => <Pair key={pair.first + pair.second} pair={pair} mayMake={mayMake} />)
      )}
    </div>
  );
}

interface JustDecidedProps {
  answer: {
    first: string;
    second: string;
    decision: Decision | null;
    line: string | null;
    names: string | null;
    was: string;
  };
  pairs: LikePair[];
}

/** What was decided last, whose pair has gone below those that wait, with a way back. */
function JustDecided({ answer, pairs }: JustDecidedProps) {
  const { first, second, decision, line, was } = answer;
  const pair = pairs.find((one) => one.first === first && one.second === second);
  const names = answer.names ?? (pair ? namesOf(pair) : "The pair");
  return (
    <Form method="post" className="acts mb-2" role="status">
      <input type="hidden" name="first" value={first} />
      <input type="hidden" name="second" value={second} />
      <input type="hidden" name="was" value={decision ?? ""} />
      <span>
        {names}: {decision === null ? "not decided" : WORDS[decision].toLowerCase()}.
        {line !== null && (
          <>
            {" "}
            They are of <Link to={`/lines/${line}`}>one line</Link>.
          </>
        )}
        {decision === "variant" && line === null && " Their lines stay as they are."}
      </span>
      <Button type="submit" size="sm" variant="outline-secondary" name="decision" value={was}>
        Undo
      </Button>
    </Form>
  );
}

const namesOf = ({ sides }: LikePair) => sides.map(({ owners }) => owners[0].name).join(" and ");

function MergeLink({ first, second }: Record<"first" | "second", { id: string; name: string }>) {
  return (
    <Link className="tall-link" to={`/merge?${new URLSearchParams({ first: first.id, second: second.id })}`}>
      Merge {second.name} with {first.name}
    </Link>
  );
}

/** The picture, with a frame around the part of it that the other one shows too. */
function LikePicture({ sha256, part }: { sha256: string; part?: Part }) {
  const percent = (share: number) => `${share * 100}%`;
  return (
    <span className="like-picture">
      <img src={previewUrl(sha256, 256)} alt="" />
      {part && (
        <span
          className="like-part"
          style={{
            left: percent(part.left),
            top: percent(part.top),
            width: percent(part.width),
            height: percent(part.height),
          }}
        />
      )}
    </span>
  );
}

function Pair({ pair, mayMake }: { pair: LikePair; mayMake: boolean }) {
  return (
    <section className="like-pair" aria-label={namesOf(pair)}>
      {pair.sides.map(({ sha256, width, height, format, bitDepth, bytes, owners }, side) => (
        <figure key={sha256}>
          <LikePicture sha256={sha256} part={side === 0 ? pair.parts?.first : pair.parts?.second} />
          <figcaption>
            {owners.map((owner) => (
              <span key={owner.id}>
                <Link to={owner.kind === "material" ? `/materials/${owner.id}` : `/intakes/${owner.intake}`}>
                  {owner.name}
                </Link>
                {owner.kind === "candidate" && " (waits)"}{" "}
              </span>
            ))}
            <span className="number dim">
              {width} × {height}, {bitDepth === 32 ? "float" : `${bitDepth}-bit`} {format},{" "}
              {formatBytes(bytes)}
            </span>
          </figcaption>
        </figure>
      ))}
      <div className="like-words">
        <p>
          <span className="number">{Math.round(pair.alike * 100)} %</span> alike
        </p>
        <ul>
          {differencesOf(pair).map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
        {mayMake ? (
          <Form method="post" className="acts">
            <input type="hidden" name="first" value={pair.first} />
            <input type="hidden" name="second" value={pair.second} />
            <input type="hidden" name="was" value={pair.decision ?? ""} />
            {(Object.keys(WORDS) as Decision[]).map((decision) => (
              <Button
                key={decision}
                type="submit"
                size="sm"
                name="decision"
                value={pair.decision === decision ? "" : decision}
                variant={pair.decision === decision ? "primary" : "outline-secondary"}
                aria-pressed={pair.decision === decision}
              >
                {WORDS[decision]}
              </Button>
            ))}
          </Form>
        ) : (
          <p>{pair.decision ? WORDS[pair.decision] : "Nobody has decided yet."}</p>
        )}
        {mayMake && pair.decision === "same" && <MergeOwners sides={pair.sides} />}
        {pair.decidedBy && <p className="aside">Decided by {pair.decidedBy}.</p>}
      </div>
    </section>
  );
}

/** A way to make one of the materials on both sides; what still waits is no material yet. */
function MergeOwners({ sides }: Pick<LikePair, "sides">) {
  const [first, second] = sides.map(({ owners }) => owners.find(({ kind }) => kind === "material"));
  if (!first || !second || first.id === second.id) return null;
  return (
    <p>
      <MergeLink first={first} second={second} />
    </p>
  );
}
