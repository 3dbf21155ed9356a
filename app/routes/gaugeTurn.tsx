import { useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { Form } from "react-router";
import { CLEAR_GRAIN, type Grain } from "#core/gauge/grain";
import type { Point } from "#core/gauge/repeat";
import { snapToJoints } from "#core/gauge/snap";
import { formatSize } from "#core/length/formatLength";
import { mendRecipeSchema } from "#core/mend/recipe";
import { quarterTurn, seamlessTurns, type Turn } from "#core/mend/turn";
import { database } from "#server/db/database";
import { findMaterial } from "#server/material/queries";
import { listMends } from "#server/mending/queries";
import type { Person } from "#server/auth/person";
import { askForModules } from "#server/counting/commands";
import { startMend } from "#server/mending/commands";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { ImageTable } from "../components/ImageTable";
import { isRunning, Mends } from "../components/Mends";
import { Refusal } from "../components/Refusal";
import { LatticeLines } from "../gauge/LatticeLines";
import { act, found, idOf, look } from "../guard";
import { useCatchUp } from "../view/live";
import { useBench } from "../view/useBench";
import { useView } from "../view/viewContext";
import type { Route } from "./+types/gaugeTurn";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async ({ params }: Route.LoaderArgs) => {
  const material = found(await findMaterial(database(), idOf(params)), "material");
  return { modules: await askForModules(material), mends: await listMends(database(), material.id) };
});

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const { kind, ...numbers } = Object.fromEntries([...form].map(([name, value]) => [name, String(value)]));
    const read = mendRecipeSchema.safeParse({
      kind,
      ...Object.fromEntries(Object.entries(numbers).map(([name, text]) => [name, Number(text)])),
    });
    if (!read.success) throw badField("/kind", read.error.issues[0].message);
    return { asked: (await startMend(idOf(params), read.data, person)).id };
  },
);

/** Which way the maps run, and where they begin: all of them together. */
export default function GaugeTurn({ loaderData: { modules, mends }, actionData }: Route.ComponentProps) {
  const { material, mayMake } = useBench();
  const { unit } = useView();
  const running = mends.some(isRunning);
  useCatchUp(material.id, running || modules === null);
  const [start, setStart] = useState<Point>();
  const [chosen, setChosen] = useState("0");
  const map = material.maps.find(({ role }) => role === "base_color") ?? material.maps[0];
  if (!map) return <p className="page">A plain colour has nothing to turn.</p>;
  const { lattice, count } = modules ?? {};
  const columns = count?.across !== undefined && !count.bond.startsWith("herringbone");
  const turns = material.layout === "repeating" ? seamlessTurns(material.repeat ?? map).slice(0, 12) : [];
  const turn = turns[Number(chosen)];
  const pulled = (point: Point, reach: number) =>
    lattice ? snapToJoints(point, lattice, reach, columns).point : point;
  return (
    <div className="gauge">
      <div className="gauge-image">
        <ImageTable
          map={map}
          alt="Base color map"
          repeat={material.repeat}
          unit={unit}
          drawing={{
            active: start,
            onStart: (point, reach) => setStart(pulled(point, reach)),
            onMove: (point, reach) => setStart(pulled(point, reach)),
            onNudge: (dx, dy) =>
              setStart((before = { x: 0, y: 0 }) => ({
                x: Math.min(map.width, Math.max(0, before.x + dx)),
                y: Math.min(map.height, Math.max(0, before.y + dy)),
              })),
          }}
          reading="Click where the image should begin."
          overlay={(toView) => (
            <>
              {lattice && count && (
                <LatticeLines lattice={lattice} image={map} columns={columns} toView={toView} />
              )}
              {start && <Corner at={toView(start)} />}
            </>
          )}
        />
      </div>
      <div className="gauge-form">
        <fieldset disabled={!mayMake || running}>
          <h2>Turn</h2>
          {modules?.grain && <GrainWords grain={modules.grain} />}
          <div className="turns">
            <Ask recipe={{ kind: "turn", ...quarterTurn(1) }}>90° to the left</Ask>
            <Ask recipe={{ kind: "turn", ...quarterTurn(3) }}>90° to the right</Ask>
            <Ask recipe={{ kind: "turn", ...quarterTurn(2) }}>Upside down</Ask>
          </div>
          {turns.length === 0 && material.layout === "repeating" && (
            <p className="aside">At no other angle does this size repeat with right corners.</p>
          )}
          {turns.length > 0 && (
            <>
              <Fields.Group controlId="angle">
                <Fields.Label>Other angles at which it repeats</Fields.Label>
                <Fields.Select value={chosen} onChange={(event) => setChosen(event.target.value)}>
                  {turns.map(({ angle, repeat }, i) => (
                    <option key={i} value={i}>
                      {angle.toFixed(1)}° to the left
                      {material.repeat && `, repeats after ${formatSize(repeat, unit)}`}
                    </option>
                  ))}
                </Fields.Select>
              </Fields.Group>
              {turn && (
                <Ask recipe={{ kind: "turn", ...turn.turn }}>
                  {`Turn by ${turn.angle.toFixed(1)}°${turn.skewPercent > 0.005 ? `, skewed by ${turn.skewPercent.toFixed(2)} %` : ""}`}
                </Ask>
              )}
            </>
          )}
          {material.layout === "repeating" && (
            <>
              <h2>Start</h2>
              {start ? (
                <Ask recipe={{ kind: "start", right: -start.x / map.width, down: -start.y / map.height }}>
                  Begin at the cross
                </Ask>
              ) : (
                <p>Click in the picture where its upper left corner should be.</p>
              )}
              {lattice && (
                <Ask
                  recipe={{
                    kind: "start",
                    right: -(columns ? lattice.left : 0) / map.width,
                    down: -lattice.top / map.height,
                  }}
                >
                  Begin in the middle of a joint
                </Ask>
              )}
            </>
          )}
          <Refusal result={actionData} />
          <Mends mends={mends.filter(({ recipe }) => recipe.kind === "start" || recipe.kind === "turn")} />
        </fieldset>
      </div>
    </div>
  );
}

/** So near to level or upright, in degrees, it is said to be. */
const NEARLY = 3;

function GrainWords({ grain: { angle, clear } }: { grain: Grain }) {
  if (clear < CLEAR_GRAIN) return <p className="aside">It has no grain that would show.</p>;
  const near = (degrees: number) => Math.abs(((angle - degrees + 270) % 180) - 90) <= NEARLY;
  return (
    <p className="aside">
      Its grain runs{" "}
      {near(0)
        ? "across"
        : near(90)
          ? "up and down"
          : angle < 90
            ? "upwards to the right"
            : "upwards to the left"}
      {!near(0) && !near(90) && (
        <span className="number">, {Math.min(angle, 180 - angle).toFixed(0)}° from level</span>
      )}
      .
    </p>
  );
}

type Recipe = ({ kind: "turn" } & Turn) | { kind: "start"; right: number; down: number };

function Ask({ recipe, children }: { recipe: Recipe; children: string }) {
  return (
    <Form method="post">
      {Object.entries(recipe).map(([name, value]) => (
        <input key={name} type="hidden" name={name} value={value} />
      ))}
      <Button type="submit" size="sm" variant="outline-secondary">
        {children}
      </Button>
    </Form>
  );
}

/** The corner that the image will have. */
function Corner({ at: { x, y } }: { at: Point }) {
  const path = `M${x} ${y}h60M${x} ${y}v60M${x - 7} ${y}h14M${x} ${y - 7}v14`;
  return (
    <g className="gauge-mark">
      <path className="casing" d={path} />
      <path d={path} />
    </g>
  );
}
