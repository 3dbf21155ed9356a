import { Link } from "react-router";
import { z } from "zod";
import type { Person } from "#server/auth/person";
import { planChange, readAsked, startChange } from "#server/change/commands";
import { database } from "#server/db/database";
import { listBulkChanges } from "#server/change/queries";
import { readPage } from "#server/db/page";
import { countWords, kindWords } from "../change/changeWords";
import { Empty } from "../components/Empty";
import { LedgerHead } from "../components/LedgerHead";
import { Pages } from "../components/Pages";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, look } from "../guard";
import { pageIn } from "../pageIn";
import { useFresh } from "../view/live";
import { moment } from "../view/moment";
import type { Route } from "./+types/changes";

export const meta: Route.MetaFunction = () => [{ title: "Changes – Kalonomy" }];

export const loader = look(({ request }: Route.LoaderArgs) =>
  readPage(pageIn(request), (slice) => listBulkChanges(database(), slice)),
);

const ACTS = intents(
  intent("plan", { asked: z.string().max(1_000_000) }),
  intent("start", { asked: z.string().max(1_000_000) }),
);

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const { intent, asked } = fieldsOf(form, ACTS);
  const change = readAsked(asked);
  return intent === "plan"
    ? { plan: await planChange(change, person) }
    : { change: await startChange(change, person) };
});

/** What was done to many materials at once, the newest first. */
export default function Changes({ loaderData: { items, page, next } }: Route.ComponentProps) {
  useFresh(({ topic }) => topic === "change");
  return (
    <div className="page">
      <p className="path">
        <Link to="/library">Library</Link>
      </p>
      <h1>Changes</h1>
      {items.length === 0 && page === 1 ? (
        <Empty title="Nothing was changed for many at once">
          <p>
            Select materials in the <Link to="/library">library</Link>, or take many{" "}
            <Link to="/sizes">sizes</Link>: what was done stands here, and can be taken back.
          </p>
        </Empty>
      ) : (
        <table className="ledger">
          <LedgerHead columns={["What", "By", "When", "What became of it"]} />
          <tbody>
            {items.map((change) => (
              <tr key={change.id}>
                <th scope="row">
                  <Link to={`/changes/${change.id}`}>{kindWords(change.kind)}</Link>
                </th>
                <td>{change.madeBy}</td>
                <td>{moment(change.madeAt)}</td>
                <td>
                  {countWords(change.counts)}
                  {change.undoneBy && <span className="dim">, by {change.undoneBy}</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Pages page={page} next={next} />
    </div>
  );
}
