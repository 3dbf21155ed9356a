import type { ReactNode } from "react";
import { z } from "zod";
import { Form, Link, useNavigation } from "react-router";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { listRevisions, listUses } from "#server/material/queries";
import { revisionNumber } from "#server/http/api/shapes";
import { listWearers } from "#server/material/wear";
import { restoreRevision, takeWearOver } from "#server/material/commands";
import { listMerges } from "#server/merge/sql";
import { listHoldings } from "#server/project/queries";
import { moveProjectBack, moveProjectsOn } from "#server/project/commands";
import { Merged } from "../merge/Merged";
import { Holdings } from "../project/Holdings";
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
  const [uses, holdings, revisions, wearers, merges] = await Promise.all([
    listUses(database(), id),
    listHoldings(database(), id),
    listRevisions(database(), id),
    listWearers(database(), id),
    listMerges(database(), { kept: id, limit: MERGES }),
  ]);
  return { uses: uses.filter(({ kind }) => kind !== "project"), holdings, revisions, wearers, merges };
});

/** So many that were merged into it are named. */
const MERGES = 20;

const ASKED = intents(
  intent("restore", { revision: revisionNumber }),
  intent("take-over", { material: z.uuid().optional() }),
  intent("move-on", { project: z.array(z.uuid()).min(1) }),
  intent("move-back", { project: z.uuid() }),
);

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const asked = fieldsOf(form, ASKED);
    if (asked.intent === "take-over")
      return {
        takenOver: await takeWearOver(idOf(params), asked.material ? [asked.material] : undefined, person),
      };
    if (asked.intent === "move-on") {
      await moveProjectsOn(idOf(params), asked.project);
      return {};
    }
    if (asked.intent === "move-back") {
      await moveProjectBack(asked.project, idOf(params));
      return {};
    }
    const { revision } = asked;
    return { restored: revision, as: (await restoreRevision(idOf(params), revision, person)).revision };
  },
);

/** Side by side with the others: small, and drawn once for each revision. */
const PICTURE = { width: 144, height: 90 };

const PLACES = { collection: "collections", project: "projects", delivery: "deliveries" } as const;

export default function BenchUses({
  loaderData: { uses, holdings, revisions, wearers, merges },
  actionData,
}: Route.ComponentProps) {
  const { material, mayMake } = useBench();
  const busy = useNavigation().state === "submitting";
  return (
    <div className="page narrow">
      <h2>Uses</h2>
      {wearers.length > 0 && (
        <Wearers wearers={wearers} newest={material.revision} mayMake={mayMake} busy={busy} />
      )}
      {actionData && "takenOver" in actionData && actionData.takenOver && (
        <p className="saved" role="status">
          {actionData.takenOver.saved.length === 1
            ? "One material uses the newest revision now."
            : `${actionData.takenOver.saved.length} materials use the newest revision now.`}
          {actionData.takenOver.failed.map(({ name, reason }) => ` ${name}: ${reason}`)}
        </p>
      )}
      {holdings.length > 0 && (
        <Holdings material={material} holdings={holdings} mayMake={mayMake} busy={busy} />
      )}
      {uses.length === 0 ? (
        wearers.length + holdings.length === 0 && (
          <Empty title="Not used yet">
            <p>
              {material.kind === "wear" ? (
                "Lay it over a material at the end of that one’s finish."
              ) : (
                <>
                  Select it in the <Link to="/library">library</Link> to put it into a collection or give it
                  to a project.
                </>
              )}
            </p>
          </Empty>
        )
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
      <Merged merges={merges} mayMake={mayMake} />
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
                {revision.number !== material.revision && (
                  <Link
                    to={`../revisions?from=${revision.number}`}
                    className="btn btn-sm btn-outline-secondary me-2"
                  >
                    Compare
                    <span className="visually-hidden"> revision {revision.number} with the newest</span>
                  </Link>
                )}
                {mayMake && revision.number !== material.revision && (
                  <Form method="post" className="d-inline">
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

interface WearersProps {
  wearers: { id: string; code: string; name: string; layerRevision: number }[];
  newest: number;
  mayMake: boolean;
  busy: boolean;
}

/** The materials that a wear layer is laid over: each stays with the revision that it took. */
function Wearers({ wearers, newest, mayMake, busy }: WearersProps) {
  const behind = wearers.filter(({ layerRevision }) => layerRevision < newest);
  const takeOver = (material: string | undefined, words: ReactNode) => (
    <Form method="post">
      <input type="hidden" name="intent" value="take-over" />
      {material && <input type="hidden" name="material" value={material} />}
      <Button type="submit" size="sm" variant="outline-secondary" disabled={busy}>
        {words}
      </Button>
    </Form>
  );
  return (
    <section aria-label="Laid over">
      <h3>Laid over</h3>
      <table className="ledger">
        <thead>
          <tr>
            <th scope="col">Material</th>
            <th scope="col" className="number">
              Revision of this layer
            </th>
            <td />
          </tr>
        </thead>
        <tbody>
          {wearers.map(({ id, code, name, layerRevision }) => (
            <tr key={id}>
              <td>
                <Link to={`/materials/${id}/finish`}>{name}</Link> <span className="tag-code">{code}</span>
              </td>
              <td className="number">
                {layerRevision}
                {layerRevision < newest && <span className="mark look ms-2">there is revision {newest}</span>}
              </td>
              <td>
                {mayMake &&
                  layerRevision < newest &&
                  takeOver(
                    id,
                    <>
                      Take over<span className="visually-hidden"> in {name}</span>
                    </>,
                  )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {mayMake &&
        behind.length > 1 &&
        takeOver(undefined, `Take revision ${newest} over in all ${behind.length}`)}
    </section>
  );
}
