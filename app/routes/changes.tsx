import { Link } from "react-router";
import { database } from "#server/db/database";
import { listBulkChanges } from "#server/change/queries";
import { readPage } from "#server/db/page";
import { countWords, kindWords } from "../change/changeWords";
import { Empty } from "../components/Empty";
import { LedgerHead } from "../components/LedgerHead";
import { Pages } from "../components/Pages";
import { look } from "../guard";
import { pageIn } from "../pageIn";
import { useFresh } from "../view/live";
import { moment } from "../view/moment";
import type { Route } from "./+types/changes";

export const meta: Route.MetaFunction = () => [{ title: "Changes – Kalonomy" }];

export const loader = look(({ request }: Route.LoaderArgs) =>
  readPage(pageIn(request), (slice) => listBulkChanges(database(), slice)),
);

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
