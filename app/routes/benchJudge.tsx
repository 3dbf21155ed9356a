import { lazy, Suspense, useEffect, useState } from "react";
import { densityOf } from "#core/gauge/repeat";
import { DEFAULT_CAMERA, holdsUpFrom } from "#core/judge/holdsUp";
import { REPETITION_LOOK } from "#core/judge/repetition";
import { DIRECTION_WORDS, SEAM_LOOK, SEAM_WRONG, type SeamReading } from "#core/judge/seams";
import { DIRECTIONS, type Direction } from "#core/raster/directions";
import { formatLength } from "#core/length/formatLength";
import { ROLE_NAMES } from "#core/roles/roles";
import { database } from "#server/db/database";
import { listReadings } from "#server/images/queries";
import { findMaterial } from "#server/material/queries";
import type { Person } from "#server/auth/person";
import { mendRecipeSchema } from "#core/mend/recipe";
import { listCameras } from "#server/project/queries";
import { listMends, type MendRow } from "#server/mending/queries";
import { addJob } from "#server/jobs/queue";
import { dropMend, keepMend, startMend } from "#server/mending/commands";
import { badField, conflict } from "#server/problem";
import { Form } from "react-router";
import { Button } from "../components/Button";
import { InlineNumber } from "../components/InlineNumber";
import { Refusal } from "../components/Refusal";
import { useCatchUp } from "../view/live";
import { seamWords } from "../view/seamWords";
import { SeamSample } from "../components/SeamSample";
import { isRunning, isWaiting, Mends } from "../components/Mends";
import { MendedSample, WaitingMend, type Waiting } from "../components/WaitingMend";
import { closePreviewUrl } from "../components/previewUrl";
import { act, found, idOf, look } from "../guard";
import { useBench } from "../view/useBench";
import type { Route } from "./+types/benchJudge";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async ({ params }: Route.LoaderArgs & { person: Person }) => {
  const db = database();
  const material = found(await findMaterial(db, idOf(params)), "material");
  const readings = await listReadings(
    db,
    material.maps.map(({ sha256 }) => sha256),
  );
  for (const { sha256, reading } of readings)
    if (reading && !reading.seams) await addJob(db, "heal-previews", { sha256, channel: "color" });
  const mends = await listMends(db, material.id);
  return {
    readings: Object.fromEntries(readings.map((one) => [one.sha256, one])),
    mends,
    waiting: await waitingFor(mends.find(isWaiting)),
    cameras: await listCameras(db, material.id),
  };
});

/** What a mend that waits would make of the material. */
async function waitingFor(mend: MendRow | undefined): Promise<Waiting | undefined> {
  if (!mend?.proposal) return undefined;
  const { id, recipe, proposal } = mend;
  const images = await listReadings(
    database(),
    proposal.maps.map(({ sha256 }) => sha256),
  );
  const maps = proposal.maps.flatMap(({ role, sha256, channel, derived }) => {
    const image = images.find((one) => one.sha256 === sha256);
    if (!image || !derived?.includes(recipe.kind)) return [];
    const { width, height, reading } = image;
    return [{ role, sha256, channel, width, height, ...(reading?.seams && { seams: reading.seams }) }];
  });
  return { id, recipe, figures: proposal.figures, maps };
}

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const waiting = form.get("waiting");
    if (waiting) {
      const settle = form.get("answer") === "keep" ? keepMend : dropMend;
      const { failure, toRevision } = await settle(idOf(params), idOf({ id: String(waiting) }), person);
      if (form.get("answer") === "keep" && failure) throw conflict(failure);
      return { id: String(waiting), fromRevision: toRevision ?? 0 };
    }
    const kind = form.get("mend");
    const numbers = { across: Number(form.get("across")), down: Number(form.get("down")) };
    const edges = { across: form.has("across"), down: form.has("down") };
    const recipe = kind === "even-out" ? { kind } : { kind, ...(kind === "one-copy" ? numbers : edges) };
    const read = mendRecipeSchema.safeParse(recipe);
    if (!read.success) throw badField("/mend", read.error.issues[0].message);
    // A cut to one copy loses nothing; what mixes or gives up is looked at before it is kept.
    const lookFirst = read.data.kind !== "one-copy";
    const { id, fromRevision } = await startMend(idOf(params), read.data, person, lookFirst);
    return { id, fromRevision };
  },
);

const DistanceChart = lazy(() => import("../components/DistanceChart"));

/** What the pixels say of the material: its seams, how much it repeats, and from where on it holds up. */
export default function BenchJudge({
  loaderData: { readings, mends, waiting, cameras },
  actionData,
}: Route.ComponentProps) {
  const { material, mayMake } = useBench();
  const running = mends.some(isRunning);
  useCatchUp(material.id, running);
  const maps = material.maps
    .filter(({ role, channel }) => role !== "reference" && role !== "environment" && channel === "color")
    .toSorted((a, b) => Number(b.role === "base_color") - Number(a.role === "base_color"));
  const [shown, setShown] = useState(maps[0]?.role);
  const [tiled, setTiled] = useState(true);
  const [asItIs, setAsItIs] = useState(false);
  const map = maps.find(({ role }) => role === shown) ?? maps[0];
  if (!map)
    return <p className="page">A plain colour has no seams and no pixels: there is nothing to judge.</p>;
  const reading = readings[map.sha256];
  const repetition = readings[maps[0].sha256]?.repetition;
  const repeating = material.layout === "repeating";
  return (
    <div className="judge">
      <div className="judge-picture">
        <div className="map-tabs" role="group" aria-label="Maps">
          {maps.map(({ role }) => (
            <button key={role} type="button" aria-pressed={role === map.role} onClick={() => setShown(role)}>
              {ROLE_NAMES[role]}
            </button>
          ))}
          <span className="spring" />
          {waiting && (
            <button type="button" aria-pressed={!asItIs} onClick={() => setAsItIs(!asItIs)}>
              As mended
            </button>
          )}
          {repeating && (!waiting || asItIs) && (
            <button type="button" aria-pressed={tiled} onClick={() => setTiled(!tiled)}>
              Three by three, shifted by half
            </button>
          )}
        </div>
        <div className="judge-sample">
          {waiting && !asItIs ? (
            <MendedSample waiting={waiting} role={map.role} />
          ) : (
            <SeamSample
              url={closePreviewUrl(map)}
              tiled={tiled && repeating}
              seams={reading?.reading?.seams}
              spots={map.role === "base_color" ? repetition?.spots : []}
              width={map.width}
              height={map.height}
            />
          )}
        </div>
        {repeating && tiled && (
          <p className="aside">
            A square marks the largest step of an edge that does not continue, a circle a loud spot that
            repeats.
          </p>
        )}
      </div>
      <div className="judge-figures">
        {waiting && <WaitingMend waiting={waiting} mayMake={mayMake} />}
        {repeating && (
          <section aria-labelledby="seams">
            <h2 id="seams">Seams</h2>
            <SeamTable
              rows={maps.map((one) => ({ role: one.role, seams: readings[one.sha256]?.reading?.seams }))}
            />
            <p className="aside">
              Whether it continues at its other side, by the steps across its edges against those inside, and
              by whether what repeats in it comes out even. The figure is how likely a seam is.
            </p>
            <Refusal result={actionData} />
            {mayMake && (
              <MendChoice
                readings={maps.map((one) => readings[one.sha256]?.reading?.seams)}
                running={running}
              />
            )}
            <Mends mends={mends} />
          </section>
        )}
        {repeating && repetition && (
          <section aria-labelledby="repetition">
            <h2 id="repetition">Repetition</h2>
            <p>
              <span className={repetition.giveaway >= REPETITION_LOOK ? "mark look" : undefined}>
                {Math.round(repetition.giveaway * 100)} %
              </span>{" "}
              {repetition.spots.length === 0
                ? "No spot stands out: tiled over a wall it does not give itself away."
                : `${repetition.spots.length === 1 ? "One spot stands" : `${repetition.spots.length} spots stand`} out, the loudest by ${Math.abs(repetition.spots[0].lightness).toFixed(1)} L*${timesOnWall(material.repeat)}.`}
            </p>
          </section>
        )}
        <section aria-labelledby="enough">
          <h2 id="enough">Enough pixels?</h2>
          <Enough material={material} maps={maps} cameras={cameras} />
        </section>
      </div>
    </div>
  );
}

/** How often a spot is seen on a wall of 6 × 3 m. */
function timesOnWall(repeat: { width: number; height: number } | null): string {
  if (!repeat) return "";
  const times = Math.ceil(6000 / repeat.width) * Math.ceil(3000 / repeat.height);
  return `, ${times} times on a wall of 6 × 3 m`;
}

function SeamTable({ rows }: { rows: { role: keyof typeof ROLE_NAMES; seams?: SeamReading }[] }) {
  return (
    <table className="ledger tight">
      <thead>
        <tr>
          <th scope="col">Map</th>
          {DIRECTIONS.map((direction) => (
            <th key={direction} scope="col" className="number">
              {DIRECTION_WORDS[direction]}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ role, seams }) => (
          <tr key={role}>
            <td>{ROLE_NAMES[role]}</td>
            {seams ? (
              DIRECTIONS.map((direction) => (
                <td key={direction} className={`number${levelOf(seams[direction].broken)}`}>
                  {seamWords(seams[direction].broken)}
                </td>
              ))
            ) : (
              <td colSpan={2} className="dim">
                being read…
              </td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const levelOf = (broken: number) =>
  broken >= SEAM_WRONG ? " mark wrong" : broken >= SEAM_LOOK ? " mark look" : "";

function MendChoice({ readings, running }: { readings: (SeamReading | undefined)[]; running: boolean }) {
  const shows = (direction: Direction) =>
    readings.some((seams) => seams && seams[direction].broken >= SEAM_LOOK);
  return (
    <Form method="post" className="mend">
      <p className="inline-choice">
        Join{" "}
        <label>
          <input type="checkbox" name="across" defaultChecked={shows("across")} /> left to right
        </label>{" "}
        <label>
          <input type="checkbox" name="down" defaultChecked={shows("down")} /> top to bottom
        </label>
      </p>
      <div className="acts">
        <Button
          type="submit"
          name="mend"
          value="seams"
          size="sm"
          variant="outline-secondary"
          disabled={running}
        >
          {running ? "Mending…" : "Mend the seams"}
        </Button>
        <Button
          type="submit"
          name="mend"
          value="crop"
          size="sm"
          variant="outline-secondary"
          disabled={running}
        >
          Crop to whole modules
        </Button>
        <Button
          type="submit"
          name="mend"
          value="even-out"
          size="sm"
          variant="outline-secondary"
          disabled={running}
        >
          Even out light and dark
        </Button>
      </div>
      <p className="aside">
        You see what comes of it before it is kept. All maps are cut alike; the revision before keeps them as
        they came. A crop looks for the pitch of the pattern and leaves whole repeats of it.
      </p>
    </Form>
  );
}

type Bench = ReturnType<typeof useBench>["material"];

interface EnoughProps {
  material: Bench;
  maps: Bench["maps"];
  cameras: Route.ComponentProps["loaderData"]["cameras"];
}

function Enough({ material, maps, cameras }: EnoughProps) {
  const own = cameras.find(({ uses }) => uses);
  const [project, setProject] = useState(own?.id ?? "");
  const [camera, setCamera] = useState(own?.camera ?? DEFAULT_CAMERA);
  const [here, setHere] = useState(false);
  useEffect(() => setHere(true), []);
  const { repeat } = material;
  if (!repeat)
    return (
      <p>
        {maps[0].width} × {maps[0].height} px, but its size is unknown: gauge it first, then this says from
        which distance it holds up.
      </p>
    );
  const lines = maps.map(({ role, width }) => ({
    name: ROLE_NAMES[role],
    density: densityOf(width, repeat.width),
  }));
  const set = (key: keyof typeof camera) => (event: React.ChangeEvent<HTMLInputElement>) => {
    const value = Number(event.target.value);
    const most = key === "angleDegrees" ? 170 : 32_768;
    if (value >= 1 && value <= most) setCamera({ ...camera, [key]: value });
  };
  return (
    <>
      {cameras.length > 0 && (
        <label className="inline-choice">
          With the camera of{" "}
          <select
            value={project}
            onChange={(event) => {
              setProject(event.target.value);
              setCamera(cameras.find(({ id }) => id === event.target.value)?.camera ?? DEFAULT_CAMERA);
            }}
          >
            <option value="">no project</option>
            {cameras.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
      )}
      <p className="inline-choice" key={project}>
        <InlineNumber
          before="Picture"
          after="px wide,"
          min={1}
          max={32768}
          defaultValue={camera.widthPx}
          onChange={set("widthPx")}
        />{" "}
        <InlineNumber
          before="angle"
          after="°"
          min={1}
          max={170}
          step="any"
          defaultValue={camera.angleDegrees}
          onChange={set("angleDegrees")}
        />
      </p>
      <table className="ledger tight">
        <thead>
          <tr>
            <th scope="col">Map</th>
            <th scope="col" className="number">
              px / m
            </th>
            <th scope="col" className="number">
              holds up from
            </th>
          </tr>
        </thead>
        <tbody>
          {lines.map(({ name, density }) => (
            <tr key={name}>
              <td>{name}</td>
              <td className="number">{Math.round(density)}</td>
              <td className="number">{formatLength(holdsUpFrom(camera, density) * 1000, "m")}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {here && (
        <Suspense fallback={<p className="aside">Drawing the chart…</p>}>
          <DistanceChart camera={camera} lines={lines} />
        </Suspense>
      )}
    </>
  );
}
