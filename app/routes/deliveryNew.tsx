import { Alert, Form as Fields } from "react-bootstrap";
import { Form, Link, redirect, useNavigation, useSubmit } from "react-router";
import { z } from "zod";
import { summedPlans } from "#core/convert/planSummary";
import { database } from "#server/db/database";
import type { Person } from "#server/auth/person";
import { listDestinations } from "#server/destination/queries";
import { findOrCreateDestination } from "#server/destination/commands";
import { listProfiles } from "#server/profile/sql";
import { startDelivery } from "#server/delivery/commands";
import { secondsExpected } from "#server/delivery/timeExpected";
import { planDelivery, type DeliveryRequest } from "#server/delivery/plan";
import { Problem } from "#server/problem";
import { findSelection } from "#server/selection/sql";
import { Button } from "../components/Button";
import { PlanView } from "../components/PlanView";
import { Refusal } from "../components/Refusal";
import { act, look } from "../guard";
import { useTitleBlock } from "../view/titleBlock";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/deliveryNew";

export const meta: Route.MetaFunction = () => [{ title: "Convert – Kalonomy" }];

const MAX_PIXELS = [512, 1024, 2048, 4096, 8192];

/** What the address or the form says; the same for the plan and for the run. */
async function readRequest(
  fields: URLSearchParams | FormData,
): Promise<DeliveryRequest & { selection?: string }> {
  const id = z.uuid();
  const materials = z.array(id).max(5000).safeParse(fields.getAll("material"));
  const one = (name: string) => id.safeParse(fields.get(name)).data;
  const selection = one("selection");
  const chosen = selection === undefined ? [] : await findSelection(database(), selection);
  const maxPixels = z.coerce.number().int().min(16).safeParse(fields.get("maxPixels"));
  const destination = fields.get("destination");
  return {
    ...(materials.success && materials.data.length > 0 && { materials: materials.data }),
    ...(chosen.length > 0 && { materials: chosen, selection }),
    ...(one("collection") && { collection: one("collection") }),
    ...(one("project") && { project: one("project") }),
    profiles: fields.getAll("profile").map(String),
    ...(maxPixels.success && { maxPixels: maxPixels.data }),
    ...(destination ? { destination: String(destination) } : {}),
  };
}

export const loader = look(async ({ request }: Route.LoaderArgs) => {
  const { searchParams } = new URL(request.url);
  const { selection, ...wanted } = await readRequest(searchParams);
  const [profiles, destinations] = [await listProfiles(database()), await listDestinations(database())];
  const answer = {
    wanted: { ...wanted, selection, materials: selection === undefined ? wanted.materials : undefined },
    isLost: searchParams.has("selection") && selection === undefined,
    profiles: profiles.map(({ id, name, description }) => ({ id, name, description })),
    destinations,
  };
  if (wanted.profiles.length === 0)
    return { ...answer, summary: null, seconds: 0, leftOut: [], trouble: null };
  try {
    const { materials, leftOut } = await planDelivery(wanted);
    const seconds = await secondsExpected(database(), materials);
    return { ...answer, summary: summedPlans(materials), seconds, leftOut, trouble: null };
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    return { ...answer, summary: null, seconds: 0, leftOut: [], trouble: error.detail };
  }
});

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const { selection: _, ...request } = await readRequest(form);
  const name = String(form.get("newDestination") ?? "").trim();
  if (name) {
    // A request that cannot be carried out leaves no destination behind.
    await planDelivery(request);
    request.destination = (await findOrCreateDestination(name)).id;
  }
  const delivery = await startDelivery(request, person);
  return redirect(`/deliveries/${delivery.id}`);
});

export default function DeliveryNew({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useKept(answer);
  const { wanted, isLost, profiles, destinations, summary, seconds, leftOut, trouble } = loaderData;
  const submit = useSubmit();
  const busy = useNavigation().state !== "idle";
  const { materials = 0, files = 0 } = summary ?? {};
  useTitleBlock(
    summary ? `${materials} ${materials === 1 ? "material" : "materials"}` : "nothing",
    summary ? `${files} files planned` : "",
  );
  const hidden = (
    <>
      {wanted.materials?.map((id) => (
        <input key={id} type="hidden" name="material" value={id} />
      ))}
      {wanted.selection && <input type="hidden" name="selection" value={wanted.selection} />}
      {wanted.collection && <input type="hidden" name="collection" value={wanted.collection} />}
      {wanted.project && <input type="hidden" name="project" value={wanted.project} />}
    </>
  );
  if (!wanted.materials && !wanted.selection && !wanted.collection && !wanted.project)
    return (
      <div className="page">
        <h1>Convert</h1>
        <p>
          {isLost && "What was selected is kept for a day, and is not known any more. "}
          Choose what to convert first: select materials in the <Link to="/library">library</Link>, or open a
          collection or a project.
        </p>
      </div>
    );
  return (
    <div className="page convert">
      <div className="convert-form">
        <h1>Convert</h1>
        <Form
          method="get"
          preventScrollReset
          onChange={(event) => void submit(event.currentTarget, { replace: true, preventScrollReset: true })}
        >
          {hidden}
          <fieldset>
            <legend>For which renderers?</legend>
            {profiles.map(({ id, name, description }) => (
              <div key={id} className="profile-choice">
                <Fields.Check
                  id={id}
                  name="profile"
                  value={id}
                  label={name}
                  defaultChecked={wanted.profiles.includes(id)}
                />
                {wanted.profiles.includes(id) && <p>{description}</p>}
              </div>
            ))}
          </fieldset>
          <Fields.Group controlId="maxPixels" className="mb-3">
            <Fields.Label>Largest image</Fields.Label>
            <Fields.Select name="maxPixels" defaultValue={wanted.maxPixels ?? ""}>
              <option value="">as the renderer takes it</option>
              {MAX_PIXELS.map((value) => (
                <option key={value} value={value}>
                  {value} px
                </option>
              ))}
            </Fields.Select>
          </Fields.Group>
          <noscript>
            <Button type="submit" variant="outline-secondary">
              Show the plan
            </Button>
          </noscript>
        </Form>
        {summary && (
          <Form method="post">
            {hidden}
            {wanted.profiles.map((id) => (
              <input key={id} type="hidden" name="profile" value={id} />
            ))}
            {wanted.maxPixels && <input type="hidden" name="maxPixels" value={wanted.maxPixels} />}
            <Fields.Group controlId="destination" className="mb-2">
              <Fields.Label>Where to</Fields.Label>
              <Fields.Select name="destination" defaultValue="">
                <option value="">an archive to download</option>
                {destinations.map(({ id, name, folder }) => (
                  <option key={id} value={id}>
                    {name} ({folder}/)
                  </option>
                ))}
              </Fields.Select>
            </Fields.Group>
            <Fields.Group controlId="newDestination" className="mb-3">
              <Fields.Label>or into a new destination</Fields.Label>
              <Fields.Control
                name="newDestination"
                placeholder="Name of a folder that everybody reaches"
                maxLength={100}
              />
            </Fields.Group>
            <Refusal result={actionData} />
            <Button type="submit" disabled={busy}>
              Start: {files} {files === 1 ? "file" : "files"}
            </Button>
          </Form>
        )}
      </div>
      <div className="convert-plan">
        {trouble && <Alert variant="danger">{trouble}</Alert>}
        {!summary && !trouble && (
          <p className="dim">
            Choose a renderer: the plan of what becomes what appears here, before anything is made.
          </p>
        )}
        {summary && (
          <PlanView
            summary={summary}
            seconds={seconds}
            leftOut={leftOut}
            profileNames={Object.fromEntries(profiles.map(({ id, name }) => [id, name]))}
          />
        )}
      </div>
    </div>
  );
}
