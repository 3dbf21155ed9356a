import { Link } from "react-router";
import { database } from "#server/db/database";
import { listRevisions, listUses } from "#server/material/queries";
import { Empty } from "../components/Empty";
import { idOf, look } from "../guard";
import type { Route } from "./+types/benchUses";
import { moment } from "../view/moment";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async ({ params }: Route.LoaderArgs) => {
  const id = idOf(params);
  return { uses: await listUses(database(), id), revisions: await listRevisions(database(), id) };
});

const PLACES = { collection: "collections", project: "projects", delivery: "deliveries" } as const;

export default function BenchUses({ loaderData: { uses, revisions } }: Route.ComponentProps) {
  return (
    <div className="page narrow">
      <h2>Uses</h2>
      {uses.length === 0 ? (
        <Empty title="Not used yet">
          <p>
            Select it in the <Link to="/library">library</Link> to put it into a collection or give it to a
            project.
          </p>
        </Empty>
      ) : (
        <table className="ledger">
          <tbody>
            {uses.map(({ kind, id, name }) => (
              <tr key={`${kind}${id}`}>
                <td>{kind}</td>
                <td>
                  <Link to={`/${PLACES[kind]}/${id}`}>{name}</Link>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <h2>Revisions</h2>
      <table className="ledger">
        <thead>
          <tr>
            <th scope="col">Revision</th>
            <th scope="col">What</th>
            <th scope="col">By</th>
            <th scope="col">When</th>
          </tr>
        </thead>
        <tbody>
          {revisions.map((revision) => (
            <tr key={revision.number}>
              <td className="number">{revision.number}</td>
              <td>{revision.note}</td>
              <td>{revision.madeBy}</td>
              <td className="number">{moment(revision.madeAt)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
