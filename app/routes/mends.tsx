import { useState } from "react";
import { Form, Link } from "react-router";
import { z } from "zod";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { readAsked, startChange } from "#server/change/commands";
import { database } from "#server/db/database";
import { dropMend } from "#server/mending/commands";
import { listOpenMends, MOST_MENDS } from "#server/mending/many";
import { ChangeStatus } from "../change/ChangeStatus";
import { Button } from "../components/Button";
import { Empty } from "../components/Empty";
import { Refusal } from "../components/Refusal";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, look } from "../guard";
import { isOutdated, MendCard } from "../mend/MendCard";
import { refusalOf } from "../refusal";
import { useCatchUp, useFresh } from "../view/live";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/mends";

export const meta: Route.MetaFunction = () => [{ title: "What was mended – Kalonomy" }];

export const loader = look(async ({ person }: Route.LoaderArgs & { person: Person }) => ({
  mends: await listOpenMends(database()),
  most: MOST_MENDS,
  mayMake: mayDo(person, "make"),
}));

const material = z.array(z.uuid()).min(1, "Tick a material first.");
const ACTS = intents(
  intent("keep", { material }),
  intent("drop", { material, mend: z.array(z.uuid()).min(1) }),
);

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const asked = fieldsOf(form, ACTS);
  if (asked.intent === "keep")
    return {
      change: await startChange(
        readAsked(JSON.stringify({ kind: "mend", materials: asked.material })),
        person,
      ),
    };
  for (const [i, id] of asked.material.entries()) await dropMend(id, asked.mend[i]);
  return { dropped: asked.material.length };
});

/** Mends that wait to be looked at: what is ticked is kept or discarded in one act. */
export default function Mends({
  loaderData: { mends, most, mayMake },
  actionData: answer,
}: Route.ComponentProps) {
  const actionData = useKept(answer);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const waiting = mends.filter(({ after, failure }) => after !== null && failure === null);
  const running = mends.filter(({ after, failure }) => after === null && failure === null);
  const chosen = waiting.filter(({ id }) => !left.has(id));
  const keepable = chosen.filter((mend) => !isOutdated(mend));
  useFresh(({ topic }) => topic === "library" || topic === "change");
  useCatchUp("mends", running.length > 0);
  const done = actionData && !refusalOf(actionData) ? actionData : undefined;
  const toggle = (id: string) =>
    setLeft((before) => {
      const next = new Set(before);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  return (
    <div className="page">
      <p className="path">
        <Link to="/library">Library</Link>
      </p>
      <h1>What was mended</h1>
      {mends.length === most && <p className="aside">The newest {most} are shown.</p>}
      <Refusal result={actionData} />
      {done && "change" in done && done.change !== undefined && (
        <ChangeStatus key={done.change} id={done.change} />
      )}
      {done && "dropped" in done && <p role="status">{done.dropped} discarded.</p>}
      {mends.length === 0 ? (
        <Empty title="Nothing waits to be looked at">
          <p>
            Select materials in the <Link to="/library">library</Link>, and choose Mend seams or Even out
            light under Change.
          </p>
        </Empty>
      ) : (
        <>
          <div className="acts">
            <span role="status">
              {waiting.length} to be looked at
              {running.length > 0 && `, ${running.length} under way`}
            </span>
            {mayMake && waiting.length > 0 && (
              <Form method="post">
                {keepable.map(({ material: { id } }) => (
                  <input key={id} type="hidden" name="material" value={id} />
                ))}
                <Button type="submit" name="intent" value="keep" size="sm" disabled={keepable.length === 0}>
                  {`Keep ${keepable.length}`}
                </Button>
              </Form>
            )}
            {mayMake && waiting.length > 0 && (
              <Form method="post">
                {chosen.map(({ id, material: { id: one } }) => (
                  <span key={id}>
                    <input type="hidden" name="material" value={one} />
                    <input type="hidden" name="mend" value={id} />
                  </span>
                ))}
                <Button
                  type="submit"
                  name="intent"
                  value="drop"
                  size="sm"
                  variant="outline-secondary"
                  disabled={chosen.length === 0}
                >
                  {`Discard ${chosen.length}`}
                </Button>{" "}
                <Button
                  size="sm"
                  variant="link"
                  onClick={() => setLeft(new Set(chosen.length > 0 ? waiting.map(({ id }) => id) : []))}
                >
                  {chosen.length > 0 ? "Tick none" : "Tick all"}
                </Button>
              </Form>
            )}
          </div>
          <ul className="mend-cards" aria-label="Mended">
            {mends.map((mend) => (
              <MendCard
                key={mend.id}
                mend={mend}
                isChosen={!left.has(mend.id)}
                mayMake={mayMake}
                onToggle={() => toggle(mend.id)}
              />
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
