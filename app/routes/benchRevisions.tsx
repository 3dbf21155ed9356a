import { z } from "zod";
import { Form as Fields } from "react-bootstrap";
import { Form, Link, redirect, useNavigation, useSubmit } from "react-router";
import { revisionChanges, type MapChange } from "#core/finish/revisionChanges";
import { ROLE_NAMES } from "#core/roles/roles";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { revisionNumber } from "#server/http/api/shapes";
import { restoreRevision } from "#server/material/commands";
import { findMaterial, listRevisions } from "#server/material/queries";
import { Button } from "../components/Button";
import { LedgerHead } from "../components/LedgerHead";
import { previewUrl } from "../components/previewUrl";
import { Refusal } from "../components/Refusal";
import { fieldsOf } from "../fieldsOf";
import { act, idOf, look } from "../guard";
import { moment } from "../view/moment";
import { useBench } from "../view/useBench";
import type { Route } from "./+types/benchRevisions";

export { StepError as ErrorBoundary } from "../components/StepError";

const asked = z.coerce.number().pipe(revisionNumber).optional().catch(undefined);

export const loader = look(async ({ params, request }: Route.LoaderArgs) => {
  const id = idOf(params);
  const search = new URL(request.url).searchParams;
  const revisions = await listRevisions(database(), id);
  const newest = revisions[0]?.number ?? 1;
  const to = asked.parse(search.get("to") ?? undefined) ?? newest;
  const from = asked.parse(search.get("from") ?? undefined) ?? Math.max(1, to - 1);
  const [before, after] = [await findMaterial(database(), id, from), await findMaterial(database(), id, to)];
  return {
    revisions,
    newest,
    sides: [before, after].map(
      (one) => one && { revision: one.revision, note: one.note, madeBy: one.madeBy, madeAt: one.madeAt },
    ),
    changes: before && after && revisionChanges(before, after),
  };
});

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const { revision } = fieldsOf(form, z.object({ revision: revisionNumber }));
    await restoreRevision(idOf(params), revision, person);
    return redirect(`/materials/${idOf(params)}/uses`);
  },
);

const PICTURE = { width: 460, height: 300 };

/** Two revisions side by side: under one light, by their values, and map by map. */
export default function BenchRevisions({
  loaderData: { revisions, newest, sides, changes },
  actionData,
}: Route.ComponentProps) {
  const { material, mayMake } = useBench();
  const submit = useSubmit();
  const busy = useNavigation().state === "submitting";
  const side = (at: 0 | 1) => {
    const shown = sides[at];
    const label = at === 0 ? "Left" : "Right";
    return (
      <section aria-label={`${label} revision`}>
        <Fields.Select
          size="sm"
          name={at === 0 ? "from" : "to"}
          aria-label={`${label} revision`}
          defaultValue={shown?.revision}
          key={shown?.revision}
        >
          {revisions.map(({ number, note }) => (
            <option key={number} value={number}>
              revision {number}: {note}
            </option>
          ))}
        </Fields.Select>
        {shown ? (
          <>
            <img
              {...PICTURE}
              alt={`${material.name} as in revision ${shown.revision}`}
              src={`/api/v1/materials/${material.id}/picture?width=${PICTURE.width}&height=${PICTURE.height}&revision=${shown.revision}`}
            />
            <p className="dim">
              {shown.note}. {shown.madeBy}, <span className="number">{moment(shown.madeAt)}</span>
            </p>
          </>
        ) : (
          <p className="mark look">There is no such revision.</p>
        )}
      </section>
    );
  };
  const older = sides.find((shown) => shown && shown.revision !== newest);
  return (
    <div className="page narrow revisions">
      <p className="path">
        <Link to="../uses">Uses and revisions</Link>
      </p>
      <h2>Two revisions side by side</h2>
      <Refusal result={actionData} />
      <Form
        className="two-revisions"
        aria-label="Which revisions"
        onChange={(event) => void submit(event.currentTarget, { replace: true, preventScrollReset: true })}
      >
        {side(0)}
        {side(1)}
        <noscript>
          <button type="submit">Show</button>
        </noscript>
      </Form>
      {changes && changes.values.length + changes.maps.length === 0 && <p>They do not differ.</p>}
      {changes && changes.values.length > 0 && (
        <table className="ledger">
          <LedgerHead columns={["Value", ...sides.map((one) => `revision ${one?.revision}`)]} />
          <tbody>
            {changes.values.map(({ name, before, after }) => (
              <tr key={name}>
                <td>{name}</td>
                <td className="number">{before ?? "–"}</td>
                <td className="number">{after ?? "–"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {changes && changes.maps.length > 0 && (
        <table className="ledger">
          <LedgerHead columns={["Map", ...sides.map((one) => `revision ${one?.revision}`)]} />
          <tbody>
            {changes.maps.map(({ role, before, after }) => (
              <tr key={role}>
                <td>{ROLE_NAMES[role]}</td>
                <td>
                  <MapOf map={before} />
                </td>
                <td>
                  <MapOf map={after} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {mayMake && older && (
        <Form method="post" className="mt-3">
          <input type="hidden" name="revision" value={older.revision} />
          <Button type="submit" size="sm" variant="outline-secondary" disabled={busy}>
            Restore revision {older.revision}
          </Button>
        </Form>
      )}
    </div>
  );
}

/** A map as it is, small. */
function MapOf({ map }: { map: MapChange["before"] }) {
  if (!map) return <span className="dim">none</span>;
  const { sha256, channel, fileName, width, height, normalDirection } = map;
  return (
    <figure className="changed-map">
      <img src={previewUrl(sha256, 256, channel)} alt="" loading="lazy" width={96} height={96} />
      <figcaption>
        {fileName}{" "}
        <span className="number dim">
          {width} × {height}
          {normalDirection && `, green ${normalDirection === "+Y" ? "up" : "down"}`}
        </span>
      </figcaption>
    </figure>
  );
}
