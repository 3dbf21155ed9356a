import { useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { Form } from "react-router";
import { cutsOf, equalCuts, STARTS, type Cuts, type Division, type Run } from "#core/gauge/fitSurface";
import { GaugeError, MUCH_STRETCH, stretchOf } from "#core/gauge/repeat";
import { formatSize } from "#core/length/formatLength";
import { mendRecipeSchema } from "#core/mend/recipe";
import { database } from "#server/db/database";
import { findMaterial } from "#server/material/queries";
import { listMends } from "#server/mending/queries";
import type { Person } from "#server/auth/person";
import { askForModules } from "#server/counting/commands";
import { savedOf } from "#server/material/clash";
import { measuredImage, setRepeat } from "#server/material/commands";
import { startMend } from "#server/mending/commands";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { isRunning, Mends } from "../components/Mends";
import { Refusal } from "../components/Refusal";
import { CutWords } from "../gauge/CutWords";
import { Divisions } from "../gauge/Divisions";
import { countedOf, moduleOf, startFor } from "../gauge/moduleOf";
import { Take } from "../gauge/Take";
import { typedLength } from "../gauge/typedLength";
import { SurfacePlan } from "../gauge/SurfacePlan";
import { act, found, idOf, look } from "../guard";
import { useCatchUp } from "../view/live";
import { useBench } from "../view/useBench";
import { useView } from "../view/viewContext";
import type { Route } from "./+types/gaugeFit";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async ({ params }: Route.LoaderArgs) => {
  const material = found(await findMaterial(database(), idOf(params)), "material");
  return { modules: await askForModules(material), mends: await listMends(database(), material.id) };
});

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const number = (field: string) => Number(form.get(field));
    if (form.get("act") === "start") {
      const read = mendRecipeSchema.safeParse({
        kind: "start",
        right: number("right"),
        down: number("down"),
      });
      if (!read.success) throw badField("/right", read.error.issues[0].message);
      return { asked: (await startMend(idOf(params), read.data, person)).id };
    }
    const material = found(await findMaterial(database(), idOf(params)), "material");
    if (!material.repeat) throw badField("/width", "The size of the image has to be known first.");
    const side = (field: string) => (form.get(field) ? number(field) : undefined);
    const stretch = stretchOf(measuredImage(material), { width: number("width"), height: number("height") });
    if (Math.abs(stretch) > MUCH_STRETCH && !form.has("meant"))
      throw badField(
        "/meant",
        `The image would be stretched by ${Math.abs(stretch).toFixed(1)} %. Say that it is meant.`,
      );
    const counted = countedOf(material.gauge);
    const request = {
      method: "fitted" as const,
      width: number("width"),
      height: number("height"),
      surface: { width: side("surfaceWidth"), height: side("surfaceHeight") },
      before: material.repeat,
      ...(counted && { counted }),
      assumed: material.sizeState === "assumed",
    };
    const outcome = await setRepeat(material.id, request, number("seen"), person, { merges: true });
    return { saved: savedOf(outcome).material.revision };
  },
);

const START_WORDS = {
  corner: "a whole module",
  module: "centred module",
  joint: "centred joint",
  equal: "equal cuts",
} as const;
const WAYS = [...STARTS, "equal"] as const;
type Way = (typeof WAYS)[number];

/** The material on a surface of known size: sizes that divide it, and where the first course begins. */
export default function GaugeFit({ loaderData: { modules, mends }, actionData }: Route.ComponentProps) {
  const { material, mayMake } = useBench();
  const { unit } = useView();
  const [width, setWidth] = useState("4 m");
  const [height, setHeight] = useState("2.6 m");
  const [wayAcross, setWayAcross] = useState<Way>("corner");
  const [wayUp, setWayUp] = useState<Way>("corner");
  const running = mends.some(isRunning);
  useCatchUp(material.id, running || modules === null);
  const { repeat } = material;
  if (!repeat)
    return <p className="page">The size is unknown. Find it first; then it can be fitted to a surface.</p>;

  const surface = { width: typedLength(width, unit), height: typedLength(height, unit) };
  const module = moduleOf(repeat, material.gauge, modules?.count);
  const across = runOf(surface.width.mm, module.across, repeat.width);
  const up = runOf(surface.height.mm, module.up, repeat.height);
  const acrossCuts = across && cuts(across, wayAcross, 0);
  const upCuts = up && cuts(up, wayUp, 0);
  const { lattice } = modules ?? {};
  const upright = lattice?.upright ?? false;
  const shift = lattice?.shift ?? 0;
  const map = material.maps.find(({ role }) => role === "base_color");
  const start =
    lattice && map && acrossCuts && upCuts
      ? startFor(lattice, map, repeat, { left: acrossCuts.origin, bottom: upCuts.origin })
      : undefined;

  return (
    <div className="gauge">
      <div className="fit-plan">
        <SurfacePlan
          surface={{ width: surface.width.mm, height: surface.height.mm }}
          module={module}
          repeat={repeat}
          origin={{ left: acrossCuts?.origin ?? 0, bottom: upCuts?.origin ?? 0 }}
          shift={shift}
          upright={upright}
          start={start ?? { right: 0, down: 0 }}
          map={map}
        />
        <CutWords
          name="Across"
          cuts={acrossCuts}
          second={across && module.across && shift && !upright ? cuts(across, wayAcross, -shift) : undefined}
          beside="the course above"
        />
        <CutWords
          name="Up"
          cuts={upCuts}
          second={up && module.up && shift && upright ? cuts(up, wayUp, -shift) : undefined}
          beside="the column to the right"
        />
      </div>
      <div className="gauge-form">
        <fieldset disabled={!mayMake}>
          <div className="pair">
            <Length
              id="surface-width"
              label="Width of the surface"
              value={width}
              trouble={surface.width.trouble}
              onChange={setWidth}
            />
            <Length
              id="surface-height"
              label="Height or depth"
              value={height}
              trouble={surface.height.trouble}
              onChange={setHeight}
            />
          </div>
          <Divisions
            caption="Sizes that divide the width"
            run={across}
            repeat={repeat.width}
            save={(division) => ({
              width: division.size * perRepeat(division, across!, repeat.width),
              height: repeat.height,
            })}
            surface={{ surfaceWidth: surface.width.mm }}
          />
          <Divisions
            caption="Sizes that divide the height"
            run={up}
            repeat={repeat.height}
            save={(division) => ({
              width: repeat.width,
              height: division.size * perRepeat(division, up!, repeat.height),
            })}
            surface={{ surfaceHeight: surface.height.mm }}
          />
          {surface.width.mm !== undefined && surface.height.mm !== undefined && (
            <Take
              size={{ width: surface.width.mm, height: surface.height.mm }}
              surface={{ surfaceWidth: surface.width.mm, surfaceHeight: surface.height.mm }}
            >
              One image from corner to corner
            </Take>
          )}
          <div className="pair">
            <Start id="start-across" label="Begins across with" value={wayAcross} onChange={setWayAcross} />
            <Start id="start-up" label="Begins upwards with" value={wayUp} onChange={setWayUp} />
          </div>
          {start && (Math.abs(start.right) > 0.0005 || Math.abs(start.down) > 0.0005) && (
            <Form method="post">
              <input type="hidden" name="act" value="start" />
              <input type="hidden" name="right" value={start.right} />
              <input type="hidden" name="down" value={start.down} />
              <Button type="submit" size="sm" variant="outline-secondary" disabled={running}>
                Let the maps begin there
              </Button>
            </Form>
          )}
          <Refusal result={actionData} />
          {actionData && "saved" in actionData && actionData.saved === material.revision && (
            <p className="saved" role="status">
              Saved as revision {actionData.saved}: {formatSize(repeat, unit)}.
            </p>
          )}
          <Mends mends={mends.filter(({ recipe }) => recipe.kind === "start").slice(0, 2)} />
        </fieldset>
      </div>
    </div>
  );
}

/** A run of modules, or of whole repeats where there are none. */
const runOf = (
  length: number | undefined,
  module: { coordinating: number; joint: number } | undefined,
  repeat: number,
): Run | undefined =>
  length === undefined ? undefined : { length, ...(module ?? { coordinating: repeat, joint: 0 }) };

function cuts(run: Run, way: Way, shift: number): Cuts | undefined {
  try {
    const start = way === "equal" ? equalCuts(run).start : way;
    return cutsOf(run, start, shift);
  } catch (error) {
    if (error instanceof GaugeError) return undefined;
    throw error;
  }
}

/** How many modules, or repeats, one repeat has. */
const perRepeat = (division: Division, run: Run, repeat: number) =>
  division.unit === "repeats" ? 1 : Math.round(repeat / run.coordinating);

interface LengthProps {
  id: string;
  label: string;
  value: string;
  trouble: string | undefined;
  onChange(text: string): void;
}

function Length({ id, label, value, trouble, onChange }: LengthProps) {
  return (
    <Fields.Group controlId={id}>
      <Fields.Label>{label}</Fields.Label>
      <Fields.Control
        value={value}
        isInvalid={trouble !== undefined}
        autoComplete="off"
        onChange={(event) => onChange(event.target.value)}
      />
      <Fields.Control.Feedback type="invalid">{trouble}</Fields.Control.Feedback>
    </Fields.Group>
  );
}

function Start({
  id,
  label,
  value,
  onChange,
}: {
  id: string;
  label: string;
  value: Way;
  onChange(way: Way): void;
}) {
  return (
    <Fields.Group controlId={id}>
      <Fields.Label>{label}</Fields.Label>
      <Fields.Select
        value={value}
        onChange={(event) => onChange(WAYS.find((way) => way === event.target.value)!)}
      >
        {WAYS.map((way) => (
          <option key={way} value={way}>
            {START_WORDS[way]}
          </option>
        ))}
      </Fields.Select>
    </Fields.Group>
  );
}
