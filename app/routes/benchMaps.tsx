import { useState } from "react";
import { ROLE_NAMES } from "#core/roles/roles";
import { densityOf } from "#core/gauge/repeat";
import { derivedWords, isMaking, mendRecipeSchema, possibleMakings } from "#core/mend/recipe";
import { database } from "#server/db/database";
import { listMends } from "#server/mending/queries";
import type { Person } from "#server/auth/person";
import { startMend } from "#server/mending/commands";
import { badField } from "#server/problem";
import { Findings } from "../components/Findings";
import { ImageTable } from "../components/ImageTable";
import { MakeMissing } from "../components/MakeMissing";
import { isRunning, Mends } from "../components/Mends";
import { Refusal } from "../components/Refusal";
import { act, idOf, look } from "../guard";
import { useCatchUp } from "../view/live";
import { useBench } from "../view/useBench";
import { useView } from "../view/viewContext";
import type { Route } from "./+types/benchMaps";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async ({ params }: Route.LoaderArgs) => ({
  mends: await listMends(database(), idOf(params)),
}));

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const number = (name: string) => (form.has(name) ? { [name]: Number(form.get(name)) } : {});
    const flag = (name: string, kind: string) =>
      form.get("kind") === kind ? { [name]: form.has(name) } : {};
    const read = mendRecipeSchema.safeParse({
      kind: form.get("kind"),
      ...number("reachMm"),
      ...number("depthMm"),
      ...number("fine"),
      ...number("level"),
      ...number("variation"),
      ...flag("darkIsDeep", "height-from-color"),
      ...flag("darkIsRough", "roughness-from-color"),
    });
    if (!read.success) {
      const [issue] = read.error.issues;
      throw badField(`/${issue.path.join("/")}`, issue.message);
    }
    const { id } = await startMend(idOf(params), read.data, person);
    return { id };
  },
);

/** The maps of the material, one at a time, large. */
export default function BenchMaps({ loaderData: { mends }, actionData }: Route.ComponentProps) {
  const { material, mayMake } = useBench();
  const running = mends.some(isRunning);
  useCatchUp(material.id, running);
  const { unit } = useView();
  const maps = material.maps.toSorted(
    (a, b) => Number(b.role === "base_color") - Number(a.role === "base_color"),
  );
  const [shown, setShown] = useState(maps[0]?.role);
  const map = maps.find(({ role }) => role === shown) ?? maps[0];
  if (!map)
    return (
      <div className="plain-face" style={{ background: material.finish.color }}>
        <p>
          <span className="number">{material.finish.color}</span> · roughness{" "}
          <span className="number">{material.finish.roughness}</span>
        </p>
      </div>
    );
  return (
    <>
      <div className="map-tabs" role="group" aria-label="Maps">
        {maps.map(({ role }) => (
          <button key={role} type="button" aria-pressed={role === map.role} onClick={() => setShown(role)}>
            {ROLE_NAMES[role]}
          </button>
        ))}
      </div>
      <ImageTable
        map={map}
        alt={`${ROLE_NAMES[map.role]} map`}
        repeat={material.repeat}
        unit={unit}
        tools={
          <span className="map-facts">
            <span className="file">{map.fileName.replace(/#alpha$/, ", fourth channel")}</span>
            <span className="number">
              {map.width} × {map.height} px, {map.bitDepth}-bit
            </span>
            {map.derived.length > 0 && <span className="mark look">{derivedWords(map.derived)}</span>}
            {map.normalDirection && <span className="number">{map.normalDirection.replace("-", "−")}</span>}
            {material.repeat && (
              <span className="number">{Math.round(densityOf(map.width, material.repeat.width))} px/m</span>
            )}
          </span>
        }
      />
      <Refusal result={actionData} />
      {mayMake && material.layout === "repeating" && (
        <MakeMissing possible={possibleMakings(maps.map(({ role }) => role))} running={running} />
      )}
      {/* What was made says so itself; what is under way or failed is told here. */}
      <Mends mends={mends.filter((mend) => isMaking(mend.recipe) && mend.toRevision === null).slice(0, 2)} />
      <Findings findings={material.findings} />
    </>
  );
}
