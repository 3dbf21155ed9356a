import { lazy, Suspense, useEffect, useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { formatLength } from "#core/length/formatLength";
import { LengthError, parseLength } from "#core/length/parseLength";
import { look } from "../guard";
import { useBench } from "../view/useBench";
import { useView } from "../view/viewContext";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async () => null);

const WallView = lazy(() => import("../components/WallView"));

const WALL_HEIGHT = 2.7;

/** The material on a wall of chosen width, with a figure for scale and a light that can be turned to graze it. */
export default function BenchWall() {
  const { material } = useBench();
  const { unit } = useView();
  const [typed, setTyped] = useState("4 m");
  const [width, setWidth] = useState(4000);
  const [trouble, setTrouble] = useState<string>();
  const [light, setLight] = useState({ around: 125, above: 40 });
  const [here, setHere] = useState(false);
  useEffect(() => setHere(true), []);

  function typeWidth(text: string) {
    setTyped(text);
    try {
      const mm = parseLength(text, { unit });
      if (mm < 300 || mm > 30_000)
        throw new LengthError(text, "is no width for this wall; 0.3 m to 30 m can be shown");
      setWidth(mm);
      setTrouble(undefined);
    } catch (error) {
      if (!(error instanceof LengthError)) throw error;
      setTrouble(error.message);
    }
  }
  return (
    <div className="wall-view">
      <div
        className="wall-canvas"
        role="img"
        aria-label={`${material.name} on a wall ${formatLength(width, "m")} wide, with a figure of 1.7 m`}
      >
        {here && (
          <Suspense fallback={<p className="page">Setting the wall up…</p>}>
            <WallView material={material} wall={{ width: width / 1000, height: WALL_HEIGHT }} light={light} />
          </Suspense>
        )}
        {!material.repeat && material.layout !== "plain" && (
          <p className="wall-warning mark look">size unknown: not to scale</p>
        )}
      </div>
      <div className="wall-controls">
        <Fields.Group controlId="wall-width">
          <Fields.Label>Wall width</Fields.Label>
          <Fields.Control
            value={typed}
            isInvalid={trouble !== undefined}
            onChange={(event) => typeWidth(event.target.value)}
          />
          <Fields.Text>
            {trouble ?? `${formatLength(WALL_HEIGHT * 1000, "m")} high; the figure is 1.7 m`}
          </Fields.Text>
        </Fields.Group>
        <Fields.Group controlId="light-above">
          <Fields.Label>
            Light above the surface <span className="number">{light.above}°</span>
          </Fields.Label>
          <Fields.Range
            min={3}
            max={90}
            value={light.above}
            onChange={(event) => setLight({ ...light, above: Number(event.target.value) })}
          />
          <Fields.Text>low grazes: relief shows</Fields.Text>
        </Fields.Group>
        <Fields.Group controlId="light-around">
          <Fields.Label>
            Light from <span className="number">{light.around}°</span>
          </Fields.Label>
          <Fields.Range
            min={0}
            max={360}
            value={light.around}
            onChange={(event) => setLight({ ...light, around: Number(event.target.value) })}
          />
          <Fields.Text>0° from the right, 90° from above</Fields.Text>
        </Fields.Group>
        <p className="aside">
          Drag turns the view, the wheel comes closer. Of the finish it shows tint, roughness and relief; the
          step Finish shows all of it.
        </p>
      </div>
    </div>
  );
}
