import { methodWords } from "#core/gauge/methodWords";
import { useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { formatLength, formatSize } from "#core/length/formatLength";
import type { LengthUnit } from "#core/length/parseLength";
import { database } from "#server/db/database";
import { findMaterial } from "#server/material/queries";
import { askForModules } from "#server/counting/commands";
import { FindMaterial } from "../components/FindMaterial";
import { closePreviewUrl, previewUrl } from "../components/previewUrl";
import { moduleOf, type ModuleOnSurface } from "../gauge/moduleOf";
import { typedLength } from "../gauge/typedLength";
import { Scene, type Shown } from "../gauge/Scene";
import { found, idOf, look } from "../guard";
import { useBench } from "../view/useBench";
import { useView } from "../view/viewContext";
import type { FoundMaterial } from "./materialFind";
import type { Route } from "./+types/gaugeCompare";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async ({ params }: Route.LoaderArgs) => ({
  modules: await askForModules(found(await findMaterial(database(), idOf(params)), "material")),
}));

const SIGHTS = [
  { width: 2400, height: 1600 },
  { width: 4500, height: 3000 },
  { width: 9000, height: 6000 },
];

/** The result looked at: in courses, and at one scale beside another material and things that everybody knows. */
export default function GaugeCompare({ loaderData: { modules } }: Route.ComponentProps) {
  const { material } = useBench();
  const { unit } = useView();
  const [sight, setSight] = useState(1);
  const [other, setOther] = useState<FoundMaterial>();
  const map = material.maps.find(({ role }) => role === "base_color");
  if (!material.repeat)
    return <p className="page">The size is unknown. Find it first; then it can be compared.</p>;
  const shown: Shown[] = [
    {
      name: material.name,
      repeat: material.repeat,
      picture: map && closePreviewUrl(map),
      color: material.finish.color,
    },
  ];
  const beside = other && shownOf(other);
  return (
    <div className="gauge">
      <div className="fit-plan">
        <Scene {...SIGHTS[sight]} materials={beside ? [...shown, beside] : shown} />
      </div>
      <div className="gauge-form">
        <p className="gauge-size number">{formatSize(material.repeat, unit)}</p>
        <Conclusion />
        <Fields.Group controlId="sight">
          <Fields.Label>Look at</Fields.Label>
          <Fields.Select value={sight} onChange={(event) => setSight(Number(event.target.value))}>
            {SIGHTS.map((size, i) => (
              <option key={i} value={i}>
                {formatSize(size, unit)}
              </option>
            ))}
          </Fields.Select>
        </Fields.Group>
        <Courses module={moduleOf(material.repeat, material.gauge, modules?.count)} unit={unit} />
        <FindMaterial
          label="Beside it"
          chosen={other}
          without={[material.id]}
          onChoose={setOther}
          describe={({ repeat, layout }) =>
            repeat ? formatSize(repeat, unit) : layout === "plain" ? "plain colour" : "size unknown"
          }
        />
        {other && !beside && (
          <p className="mark look">The size of {other.name} is unknown: it has no scale.</p>
        )}
      </div>
    </div>
  );
}

function shownOf({ name, repeat, preview, layout, color }: FoundMaterial): Shown | undefined {
  if (layout === "plain") return { name, repeat: { width: 1000, height: 1000 }, color: color ?? undefined };
  return repeat && preview ? { name, repeat, picture: previewUrl(preview, 1024) } : undefined;
}

/** What was concluded, by whom, how, and how sure. */
function Conclusion() {
  const { material } = useBench();
  const { gauge, sizeState } = material;
  const error = typeof gauge?.errorPercent === "number" ? gauge.errorPercent : 0;
  return (
    <p>
      {sizeState === "assumed" ? "Assumed" : "Known"} by {methodWords(gauge)}
      {error > 0 && <span className="number">, ± {error.toFixed(2)} %</span>}
      {typeof gauge?.by === "string" && `, found by ${gauge.by}`}.
    </p>
  );
}

interface CoursesProps {
  module: ModuleOnSurface;
  unit: LengthUnit;
}

/** So many courses rise so much, and so much is how many courses. */
function Courses({ module, unit }: CoursesProps) {
  const [count, setCount] = useState("12");
  const [height, setHeight] = useState("1 m");
  const { up, across } = module;
  if (!up && !across) return null;
  const many = Number(count);
  const { mm } = typedLength(height, unit);
  const size = (up ?? across)!.coordinating;
  const what = up ? "courses" : "modules";
  return (
    <div className="course-counter">
      <label>
        <input
          className="number"
          type="number"
          min={1}
          value={count}
          onChange={(event) => setCount(event.target.value)}
          aria-label={`How many ${what}`}
        />{" "}
        {what} are <strong className="number">{many > 0 ? formatLength(many * size, unit) : "–"}</strong>
      </label>
      <label>
        <input
          className="number"
          value={height}
          onChange={(event) => setHeight(event.target.value)}
          aria-label="How much"
        />{" "}
        are <strong className="number">{mm === undefined ? "–" : (mm / size).toFixed(2)}</strong> {what}
      </label>
    </div>
  );
}
