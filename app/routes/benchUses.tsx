import { Form, Link, useNavigation } from "react-router";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { listRevisions, listUses } from "#server/material/queries";
import { revisionNumber } from "#server/http/api/shapes";
import { restoreRevision } from "#server/material/commands";
import { Button } from "../components/Button";
import { Empty } from "../components/Empty";
import { Refusal } from "../components/Refusal";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, idOf, look } from "../guard";
import { useBench } from "../view/useBench";
import type { Route } from "./+types/benchUses";
import { moment } from "../view/moment";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async ({ params }: Route.LoaderArgs) => {
  const id = idOf(params);
  return { uses: await listUses(database(), id), revisions: await listRevisions(database(), id) };
});

const ASKED = intents(intent("restore", { revision: revisionNumber }));

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const { revision } = fieldsOf(form, ASKED);
    return { restored: revision, as: (await restoreRevision(idOf(params), revision, person)).revision };
  },
);

/** Side by side with the others: small, and drawn once for each revision. */
const PICTURE = { width: 144, height: 90 };

const PLACES = { collection: "collections", project: "projects", delivery: "deliveries" } as const;

export default function BenchUses({ loaderData: { uses, revisions }, actionData }: Route.ComponentProps) {
  const { material, mayMake } = useBench();
  const busy = useNavigation().state === "submitting";
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
      <Refusal result={actionData} />
      {actionData && "restored" in actionData && (
        <p className="saved" role="status">
          As in revision {actionData.restored} again: saved as revision {actionData.as}.
        </p>
      )}
      <table className="ledger">
        <thead>
          <tr>
            <th scope="col">Revision</th>
            <th scope="col">What</th>
            <th scope="col">By</th>
            <th scope="col">When</th>
            <th scope="col">Under the studio’s light</th>
            <td />
          </tr>
        </thead>
        <tbody>
          {revisions.map((revision) => (
            <tr key={revision.number}>
              <td className="number">{revision.number}</td>
              <td>{revision.note}</td>
              <td>{revision.madeBy}</td>
              <td className="number">{moment(revision.madeAt)}</td>
              <td>
                <img
                  {...PICTURE}
                  loading="lazy"
                  alt={`${material.name} as in revision ${revision.number}`}
                  src={`/api/v1/materials/${material.id}/picture?width=${PICTURE.width}&height=${PICTURE.height}&revision=${revision.number}`}
                />
              </td>
              <td>
                {mayMake && revision.number !== material.revision && (
                  <Form method="post">
                    <input type="hidden" name="intent" value="restore" />
                    <input type="hidden" name="revision" value={revision.number} />
                    <Button type="submit" size="sm" variant="outline-secondary" disabled={busy}>
                      Restore<span className="visually-hidden"> revision {revision.number}</span>
                    </Button>
                  </Form>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
