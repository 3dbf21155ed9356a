import { Form, Link } from "react-router";
import { z } from "zod";
import { mayDo } from "#server/auth/levels";
import { database } from "#server/db/database";
import {
  DECISIONS,
  decideLikeness,
  listLikePairs,
  type Decision,
  type LikePair,
} from "#server/db/likenesses";
import type { Person } from "#server/db/people";
import { notFound } from "#server/problem";
import { Button } from "../components/Button";
import { Empty } from "../components/Empty";
import { previewUrl } from "../components/previewUrl";
import { act, look } from "../guard";
import { differencesOf } from "../intake/differencesOf";
import type { Route } from "./+types/alike";

export const meta: Route.MetaFunction = () => [{ title: "Alike – Kalonomy" }];

export const loader = look(async ({ person }: Route.LoaderArgs & { person: Person }) => ({
  pairs: await listLikePairs(database()),
  mayMake: mayDo(person, "make"),
}));

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const pair = { first: z.string().parse(form.get("first")), second: z.string().parse(form.get("second")) };
  const word = form.get("decision");
  const decision = DECISIONS.find((one) => one === word) ?? null;
  if (!(await decideLikeness(database(), pair, decision, person.id))) throw notFound("pair");
  return { decision };
});

const WORDS: Record<Decision, string> = {
  same: "The same",
  variant: "A variant of it",
  different: "Something else",
};

/** Pictures that are alike, side by side: what differs, and what somebody decided once. */
export default function Alike({ loaderData: { pairs, mayMake } }: Route.ComponentProps) {
  return (
    <div className="page">
      <p className="path">
        <Link to="/intakes">Intake</Link>
      </p>
      <h1>Alike</h1>
      <p className="aside">
        Pictures that may be one and the same, however they were encoded, resized, tinted, turned or shifted.
        Decide once; it is remembered.
      </p>
      {pairs.length === 0 ? (
        <Empty title="No two pictures are alike">
          <p>Each download is compared with the library when it comes in.</p>
        </Empty>
      ) : (
        pairs.map((pair) => <Pair key={pair.first + pair.second} pair={pair} mayMake={mayMake} />)
      )}
    </div>
  );
}

function Pair({ pair, mayMake }: { pair: LikePair; mayMake: boolean }) {
  const names = pair.sides.map(({ owners }) => owners[0].name).join(" and ");
  return (
    <section className="like-pair" aria-label={names}>
      {pair.sides.map(({ sha256, width, height, format, bitDepth, bytes, owners }) => (
        <figure key={sha256}>
          <img src={previewUrl(sha256, 256)} alt="" />
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
              {(bytes / 2 ** 20).toFixed(1)} MiB
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
        {pair.decidedBy && <p className="aside">Decided by {pair.decidedBy}.</p>}
      </div>
    </section>
  );
}
