import { Form as Fields } from "react-bootstrap";
import { Form, Link } from "react-router";
import { z } from "zod";
import { cameraSchema, DEFAULT_CAMERA } from "#core/judge/holdsUp";
import { mayDo } from "#server/auth/levels";
import { listCollectionNames } from "#server/collection/queries";
import { database } from "#server/db/database";
import { listKept, setKept } from "#server/delivery/kept";
import { bringUpToDate, listOutOfDate } from "#server/delivery/outOfDate";
import { listDeliveries } from "#server/delivery/queries";
import { listSamples } from "#server/material/samples";
import { pageOf, sliceOf } from "#server/db/page";
import type { Person } from "#server/auth/person";
import { findProjectPlace, listMovedOn, listNewer, listTaken } from "#server/project/queries";
import {
  changeProject,
  moveProjectBack,
  moveProjectOn,
  setProjectCamera,
  shareWithProject,
} from "#server/project/commands";
import { Button } from "../components/Button";
import { Chip } from "../components/Chip";
import { DeliveryTable } from "../components/DeliveryTable";
import { InlineNumber } from "../components/InlineNumber";
import { Empty } from "../components/Empty";
import { Newer } from "../project/Newer";
import { Refusal } from "../components/Refusal";
import { SamplePatch } from "../components/SamplePatch";
import { SampleWall, SIDE } from "../components/SampleWall";
import { More, NameField } from "../components/More";
import { Pages } from "../components/Pages";
import { KeptDestinations } from "../destination/KeptDestinations";
import { OutOfDate } from "../destination/OutOfDate";
import { act, found, idOf, look } from "../guard";
import { fieldsOf, intent, intents, nameField, orNull } from "../fieldsOf";
import { pageIn } from "../pageIn";
import { useFresh } from "../view/live";
import { useTitleBlock } from "../view/titleBlock";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/project";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.project.name ?? "Project"} – Kalonomy` },
];

export const loader = look(async ({ request, params, person }: Route.LoaderArgs & { person: Person }) => {
  const id = idOf(params);
  const db = database();
  const page = pageIn(request);
  const [here, { items, total }, unsized, collections, deliveries, outOfDate, destinations] =
    await Promise.all([
      findProjectPlace(db, id),
      listSamples(db, { project: id, asTakenBy: id, ...sliceOf(page) }),
      listSamples(db, { project: id, sizeState: "unknown", limit: 0 }),
      listCollectionNames(db),
      listDeliveries(db, { offset: 0, limit: 60 }, id),
      listOutOfDate(db, { project: id }),
      listKept(db, id),
    ]);
  const project = found(here, "project");
  const taken = await listTaken(
    db,
    id,
    items.map(({ id }) => id),
  );
  return {
    newer: project.newer.length > 0 ? await listNewer(db, id, NEWER) : [],
    movedOn: await listMovedOn(db, id, NEWER),
    taken: Object.fromEntries(taken.map((one) => [one.material, one])),
    project,
    samples: items,
    total,
    unsized: unsized.total,
    pages: pageOf(page, total),
    free: collections
      .filter((one) => !project.collections.some((taken) => taken.id === one.id))
      .map(({ id, name }) => ({ id, name })),
    deliveries,
    outOfDate,
    destinations,
    mayMake: mayDo(person, "make"),
  };
});

/** So many are shown with their pictures; the others are counted. */
const NEWER = 24;

const ACTS = intents(
  intent("take-collection", { collection: z.uuid() }),
  intent("leave-collection", { collection: z.uuid() }),
  intent("leave-material", { material: z.uuid() }),
  intent("change", { name: nameField("the project"), number: orNull(z.string().trim()) }),
  intent("camera", cameraSchema.shape),
  intent("move-on", { material: z.array(z.uuid()) }),
  intent("move-back", { material: z.uuid() }),
  intent("keep-destinations", { destination: z.array(z.uuid()) }),
  intent("bring-up-to-date"),
);

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const id = idOf(params);
    const asked = fieldsOf(form, ACTS);
    switch (asked.intent) {
      case "keep-destinations":
        await setKept(id, asked.destination, person);
        break;
      case "bring-up-to-date":
        return { brought: await bringUpToDate(person, { project: id }) };
      case "take-collection":
        await shareWithProject(id, "collections", { add: [asked.collection], remove: [] });
        break;
      case "leave-collection":
        await shareWithProject(id, "collections", { add: [], remove: [asked.collection] });
        break;
      case "leave-material":
        await shareWithProject(id, "materials", { add: [], remove: [asked.material] });
        break;
      case "change":
        await changeProject(id, { name: asked.name, number: asked.number });
        break;
      case "camera":
        await setProjectCamera(id, { widthPx: asked.widthPx, angleDegrees: asked.angleDegrees });
        break;
      case "move-on":
        await moveProjectOn(id, asked.material);
        break;
      case "move-back":
        await moveProjectBack(id, asked.material);
        break;
    }
    return null;
  },
);

export default function Project({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useKept(answer);
  const {
    project,
    taken,
    samples,
    total,
    unsized,
    pages,
    free,
    deliveries,
    outOfDate,
    destinations,
    mayMake,
  } = loaderData;
  const brought = actionData && "brought" in actionData ? actionData.brought : undefined;
  useFresh((event) => event.topic === "library" || event.topic === "delivery");
  useTitleBlock(
    project.name,
    `${total} ${total === 1 ? "material" : "materials"}${unsized > 0 ? `, ${unsized} of unknown size` : ""}`,
  );
  const remark = (id: string) => {
    if (!taken[id]) return undefined;
    const { taken: revision, newest, mergedInto } = taken[id];
    if (mergedInto) return `revision ${revision}, is now ${mergedInto}`;
    return newest > revision ? (
      <Link className="tall-link" to={`/materials/${id}/revisions?from=${revision}`}>
        revision {revision}, newest is {newest}
      </Link>
    ) : (
      `revision ${revision}`
    );
  };
  return (
    <div className="page">
      <p className="path">
        <Link to="/projects">Projects</Link>
      </p>
      <div className="sentence-row">
        <h1>
          {project.number && <span className="number dim">{project.number} </span>}
          {project.name}
        </h1>
        <div className="acts">
          {mayMake && samples.length > 0 && (
            <Link className="btn btn-primary btn-sm" to={`/deliveries/new?project=${project.id}`}>
              Convert and deliver
            </Link>
          )}
          {mayMake && (
            <More key={`${project.number}${project.name}`} label="Rename" intent="change">
              <Fields.Control
                size="sm"
                name="number"
                aria-label="Number"
                placeholder="Number"
                defaultValue={project.number ?? ""}
                maxLength={40}
              />
              <NameField name={project.name} />
            </More>
          )}
        </div>
      </div>
      <Refusal result={actionData} />
      {mayMake && (
        <Form method="post" className="inline-choice">
          <InlineNumber
            before="Its pictures are"
            after="px wide,"
            name="widthPx"
            min={1}
            max={32768}
            required
            defaultValue={(project.camera ?? DEFAULT_CAMERA).widthPx}
          />{" "}
          <InlineNumber
            before="taken at an angle of"
            after="°"
            name="angleDegrees"
            min={1}
            max={170}
            step="any"
            required
            defaultValue={(project.camera ?? DEFAULT_CAMERA).angleDegrees}
          />{" "}
          <Button type="submit" name="intent" value="camera" size="sm" variant="outline-secondary">
            {project.camera ? "Change the camera" : "Keep as its camera"}
          </Button>
        </Form>
      )}
      <div className="shared-by">
        <span>Takes</span>
        {project.collections.length === 0 && <span className="dim">no collection yet</span>}
        {project.collections.map(({ id, name, count }) => (
          <Chip
            key={id}
            to={`/collections/${id}`}
            name={name}
            count={count}
            remove={
              mayMake
                ? { label: `Leave ${name}`, fields: { intent: "leave-collection", collection: id } }
                : undefined
            }
          />
        ))}
        {project.singly > 0 && <span>and {project.singly} singly</span>}
        {mayMake && free.length > 0 && (
          <Form method="post" className="row-form small">
            <input type="hidden" name="intent" value="take-collection" />
            <Fields.Select size="sm" name="collection" aria-label="Collection to take">
              {free.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </Fields.Select>
            <Button type="submit" size="sm" variant="outline-secondary">
              Take collection
            </Button>
          </Form>
        )}
      </div>
      <Newer
        key={project.id}
        project={project}
        newer={loaderData.newer}
        total={project.newer}
        movedOn={loaderData.movedOn}
        mayMake={mayMake}
      />
      {samples.length === 0 ? (
        <Empty title="No materials yet">
          <p>
            Take a collection above, or select single materials in the <Link to="/library">library</Link> and
            give them to this project.
          </p>
        </Empty>
      ) : (
        <SampleWall label={`Materials of ${project.name}`}>
          {samples.map((sample) => (
            <SamplePatch
              key={sample.id}
              sample={sample}
              side={SIDE}
              remark={remark(sample.id)}
              act={mayMake && taken[sample.id]?.singly ? <TakeOut material={sample} /> : undefined}
            />
          ))}
        </SampleWall>
      )}
      <Pages {...pages} />
      <OutOfDate deliveries={outOfDate} brought={brought} mayMake={mayMake} where="at the destinations" />
      <KeptDestinations destinations={destinations} mayMake={mayMake} />
      {deliveries.length > 0 && (
        <>
          <h2>Deliveries</h2>
          <DeliveryTable deliveries={deliveries} />
        </>
      )}
    </div>
  );
}

/** For a material that the project took singly; what comes with a collection leaves with it. */
function TakeOut({ material }: { material: { id: string; name: string } }) {
  return (
    <Form method="post" className="tag-remark">
      <input type="hidden" name="intent" value="leave-material" />
      <input type="hidden" name="material" value={material.id} />
      <button
        type="submit"
        className="plain tall-link"
        aria-label={`Take ${material.name} out of the project`}
      >
        taken singly: take out
      </button>
    </Form>
  );
}
