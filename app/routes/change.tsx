import { Link, useFetcher } from "react-router";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { undoChange } from "#server/change/commands";
import { findBulkChange, listChangedItems, UNDO_DAYS } from "#server/change/queries";
import { database } from "#server/db/database";
import { readPage } from "#server/db/page";
import { countWords, kindWords, STATE_WORDS } from "../change/changeWords";
import { Button } from "../components/Button";
import { LedgerHead } from "../components/LedgerHead";
import { Pages } from "../components/Pages";
import { Refusal } from "../components/Refusal";
import { act, found, idOf, look } from "../guard";
import { pageIn } from "../pageIn";
import { useCatchUp, useFresh } from "../view/live";
import { moment } from "../view/moment";
import type { Route } from "./+types/change";

export const meta: Route.MetaFunction = () => [{ title: "Changes – Kalonomy" }];

export const loader = look(async ({ params, request, person }: Route.LoaderArgs & { person: Person }) => {
  const id = idOf(params);
  const change = found(await findBulkChange(database(), id), "change");
  const page = await readPage(pageIn(request), (slice) => listChangedItems(database(), id, slice));
  return {
    ...{ change, ...page, undoDays: UNDO_DAYS },
    mayMake: mayDo(person, change.kind === "delete" ? "keep" : "make"),
  };
});

export const action = act(
  async ({ params, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    await undoChange(idOf(params), person);
    return {};
  },
);

/** One act on many materials: what became of each, and a way to take it back. */
export default function Change({ loaderData }: Route.ComponentProps) {
  const { change, items, page, next, mayMake, undoDays } = loaderData;
  const fetcher = useFetcher<typeof action>();
  useFresh(({ topic, id }) => topic === "change" && id === change.id);
  useCatchUp(change.id, change.state === "running" || change.state === "undoing");
  return (
    <div className="page">
      <p className="path">
        <Link to="/changes">Changes</Link>
      </p>
      <h1>{kindWords(change.kind)}</h1>
      <p>
        By {change.madeBy}, {moment(change.madeAt)}: {countWords(change.counts)}.
        {change.undoneBy && change.undoneAt && (
          <>
            {" "}
            Taken back by {change.undoneBy}, {moment(change.undoneAt)}.
          </>
        )}{" "}
        {change.failure && <span className="mark wrong">{change.failure}</span>}
      </p>
      {mayMake && change.canUndo && (
        <p className="acts">
          <Button
            variant="outline-secondary"
            size="sm"
            onClick={() => void fetcher.submit({ intent: "undo" }, { method: "post" })}
          >
            Undo
          </Button>
          <span className="dim">
            As long as {undoDays} days, and for those alone that nobody has changed since.
          </span>
        </p>
      )}
      <Refusal result={fetcher.data} />
      <table className="ledger">
        <LedgerHead columns={["Material", "What", "Before", "After", "State"]} />
        <tbody>
          {items.map(({ material, name, code, isThere, state, reason, said }) => (
            <tr key={material}>
              <th scope="row">
                {isThere ? <Link to={`/materials/${material}`}>{name}</Link> : name}{" "}
                <span className="number dim">{code}</span>
              </th>
              {(["name", "before", "after"] as const).map((key) => (
                <td key={key}>
                  {said?.map((one) => (
                    <div key={one.name}>{one[key]}</div>
                  ))}
                </td>
              ))}
              <td>
                {reason ? <span className="mark look">{STATE_WORDS[state]}</span> : STATE_WORDS[state]}
                {reason && <span className="dim"> {reason}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Pages page={page} next={next} />
    </div>
  );
}
