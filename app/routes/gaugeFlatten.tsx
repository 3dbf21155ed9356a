import { useEffect, useRef, useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { Form, useNavigation } from "react-router";
import { formatLength } from "#core/length/formatLength";
import { MM_PER_UNIT } from "#core/length/parseLength";
import { bend, bowOf, MOST_BOW } from "#core/photo/lens";
import { flattenRecipeSchema, FLAT_LAYOUTS } from "#core/photo/recipe";
import { QUALITIES } from "#core/photo/region";
import { database } from "#server/db/database";
import { listFlattenings } from "#server/flattening/queries";
import type { Person } from "#server/auth/person";
import { startFlattening } from "#server/flattening/commands";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { ImageTable, type Drawing } from "../components/ImageTable";
import { closePreviewUrl } from "../components/previewUrl";
import { UndoRedo } from "../components/UndoRedo";
import { Refusal } from "../components/Refusal";
import { asJson } from "../asJson";
import { act, idOf, look } from "../guard";
import { drawTo, putDown, type Hand, type Surface, type Tool } from "../photo/drawRegion";
import { FlatPicture } from "../photo/FlatPicture";
import { Flattenings } from "../photo/Flattenings";
import { moved, placeOf, type Grip } from "../photo/grab";
import { PatchRow } from "../photo/PatchRow";
import { readRegion, startRegion, type RegionFields } from "../photo/readRegion";
import { RegionOverlay } from "../photo/RegionOverlay";
import { TakeOut } from "../photo/TakeOut";
import { realPlace, tryRegion } from "../photo/tryRegion";
import { useFlatPreview } from "../photo/useFlatPreview";
import { useFollow } from "../view/live";
import { Unsaved } from "../view/Unsaved";
import { useBench } from "../view/useBench";
import { useHistory } from "../view/useHistory";
import { useKept } from "../view/useKept";
import { useView } from "../view/viewContext";
import type { Route } from "./+types/gaugeFlatten";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async ({ params }: Route.LoaderArgs) => ({
  flattenings: await listFlattenings(database(), idOf(params)),
}));

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const read = flattenRecipeSchema.safeParse(asJson(String(form.get("recipe") ?? "")));
    if (!read.success) {
      const [issue] = read.error.issues;
      throw badField(`/${issue.path.join("/")}`, issue.message);
    }
    return { begun: (await startFlattening(idOf(params), read.data, person)).id };
  },
);

type Pointer = "move" | Tool;
const TOOLS: [Pointer, string][] = [
  ["corners", "Corners"],
  ["straight", "Straight edge"],
  ["check", "Check point"],
  ["patch", "Paint out"],
  ["move", "Move"],
];

const HINTS: Record<Pointer, string> = {
  corners: "Drag the corners onto the wall's own, or an edge, or the whole.",
  straight: "Draw along something straight, then pull the middle onto it.",
  check: "Click a place whose real position you know.",
  patch: "Drag over what stands in front; drag a patch to change it.",
  move: "Drag the picture.",
};

const LAYOUT_WORDS = { placed: "It is there once", repeating: "It goes on and on" } as const;
const QUALITY_WORDS = {
  full: "as the photograph",
  half: "half of it",
  rough: "rough, for a backdrop",
} as const;

/** From so much bend on, in pixels, a straight edge shows that it is not. */
const BENT_PX = 0.7;

/** Takes regions of a photograph, flattened, as materials of their own. */
export default function GaugeFlatten({
  loaderData: { flattenings },
  actionData: answer,
}: Route.ComponentProps) {
  const actionData = useKept(answer);
  const { material, mayMake } = useBench();
  useFollow(`flattening:${material.id}`);
  const { unit } = useView();
  const busy = useNavigation().state === "submitting";
  const map = material.maps.find(({ role, channel }) => role === "base_color" && channel === "color");
  const photo = map ?? { width: 1, height: 1 };
  const {
    now: fields,
    set,
    back,
    again,
    canGoBack,
    canGoAgain,
    saved,
    markSaved,
  } = useHistory<RegionFields>(() => startRegion(photo, `${material.name}, flat`));
  const change = (changed: Partial<RegionFields>, touched?: string) =>
    set((before) => ({ ...before, ...changed }), touched);
  const begun = actionData && "begun" in actionData ? actionData.begun : undefined;
  useEffect(() => {
    if (begun !== undefined) markSaved();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what was taken, and not what is moved since
  }, [begun]);
  const [tool, setTool] = useState<Pointer>("corners");
  const [grip, setGrip] = useState<Grip>({ kind: "corner", index: 0 });
  const drag = useRef<{ hand: Hand; count: number }>({ hand: { grip, at: { x: 0, y: 0 } }, count: 0 });

  const reading = readRegion(fields, unit);
  const { flat, trouble, residuals, size } = tryRegion(fields, reading, photo);
  const url = map ? closePreviewUrl(map) : "";
  const preview = useFlatPreview(
    url,
    photo,
    "recipe" in reading && !trouble ? reading.recipe : undefined,
    fields.patches.flatMap(({ material: one }) => one ?? []),
  );
  if (!map) return <p className="page">There is no picture that could be flattened.</p>;

  const surface: Surface | undefined =
    flat && "recipe" in reading
      ? {
          widthMm: flat.width,
          patches: reading.recipe.patches,
          toReal: (place) => realPlace(fields, photo, flat, place),
          text: (mm) => String(Number((mm / MM_PER_UNIT[unit]).toFixed(2))),
        }
      : undefined;
  const drawing: Drawing | undefined =
    tool === "move"
      ? undefined
      : {
          active: placeOf(fields, grip),
          onStart(at, reach) {
            const before = { fields, hand: { grip, at } };
            const { fields: after, hand } = putDown(before, tool, at, reach, surface);
            drag.current = { hand, count: drag.current.count + 1 };
            if (after !== fields) set(() => after, `drag-${drag.current.count}`);
            setGrip(hand.grip);
          },
          onMove(at) {
            const { hand, count } = drag.current;
            drag.current.hand = drawTo({ fields, hand }, tool, at, surface).hand;
            // Several moves may come before the screen is drawn again.
            set((before) => drawTo({ fields: before, hand }, tool, at, surface).fields, `drag-${count}`);
          },
          onNudge: (dx, dy) => set((before) => moved(before, grip, dx, dy), `nudge-${JSON.stringify(grip)}`),
          onNext: () => setGrip({ kind: "corner", index: grip.kind === "corner" ? (grip.index + 1) % 4 : 0 }),
        };
  const bends = fields.straight.map((line) => bend(line, photo, fields.bow));
  const input = (field: "name" | "width" | "height", label: string, placeholder?: string) => (
    <Fields.Group controlId={`flat-${field}`}>
      <Fields.Label>{label}</Fields.Label>
      <Fields.Control
        value={fields[field]}
        placeholder={placeholder}
        autoComplete="off"
        isInvalid={"field" in reading && reading.field === field}
        onChange={(event) => change({ [field]: event.target.value }, field)}
      />
    </Fields.Group>
  );

  return (
    <div className="gauge">
      <Unsaved when={fields !== saved && mayMake && !busy} what="the region" />
      <div className="gauge-image">
        <ImageTable
          map={map}
          alt="Photograph"
          repeat={null}
          unit={unit}
          drawing={drawing}
          reading={HINTS[tool]}
          overlay={(toView) => (
            <RegionOverlay
              fields={fields}
              flat={flat}
              patches={"recipe" in reading ? reading.recipe.patches : []}
              active={tool === "move" ? undefined : placeOf(fields, grip)}
              toView={toView}
            />
          )}
          tools={
            <>
              <div className="tool-row" role="group" aria-label="Pointer">
                {TOOLS.map(([name, words]) => (
                  <button key={name} type="button" aria-pressed={tool === name} onClick={() => setTool(name)}>
                    {words}
                  </button>
                ))}
              </div>
              <UndoRedo back={back} again={again} canGoBack={canGoBack} canGoAgain={canGoAgain} />
            </>
          }
        />
      </div>
      <Form method="post" className="gauge-form" aria-label="Flatten">
        <input
          type="hidden"
          name="recipe"
          value={"recipe" in reading ? JSON.stringify(reading.recipe) : ""}
        />
        <fieldset disabled={!mayMake}>
          <div className="gauge-fields">
            {input("name", "Name of the new material")}
            <div className="pair">
              {input("width", "Real width", "3000")}
              {input("height", "Real height", "2400")}
            </div>
            <FlatPicture preview={preview} trouble={trouble} />
            {size && (
              <p className="aside number">
                {size.width} × {size.height} px
              </p>
            )}
            <div className="pair">
              <Fields.Group controlId="flat-layout">
                <Fields.Label>On a surface</Fields.Label>
                <Fields.Select
                  value={fields.layout}
                  onChange={(event) =>
                    change({ layout: FLAT_LAYOUTS.find((one) => one === event.target.value)! })
                  }
                >
                  {FLAT_LAYOUTS.map((layout) => (
                    <option key={layout} value={layout}>
                      {LAYOUT_WORDS[layout]}
                    </option>
                  ))}
                </Fields.Select>
              </Fields.Group>
              <Fields.Group controlId="flat-quality">
                <Fields.Label>Pixels</Fields.Label>
                <Fields.Select
                  value={fields.quality}
                  onChange={(event) =>
                    change({ quality: QUALITIES.find((one) => one === event.target.value)! })
                  }
                >
                  {QUALITIES.map((quality) => (
                    <option key={quality} value={quality}>
                      {QUALITY_WORDS[quality]}
                    </option>
                  ))}
                </Fields.Select>
              </Fields.Group>
            </div>
            <Fields.Group controlId="flat-bow">
              <Fields.Label>
                Bow of the lens <span className="number">{fields.bow.toFixed(3)}</span>
              </Fields.Label>
              <Fields.Range
                min={-MOST_BOW}
                max={MOST_BOW}
                step={0.005}
                value={fields.bow}
                onChange={(event) => change({ bow: Number(event.target.value) }, "bow")}
              />
            </Fields.Group>
            {bends.length > 0 && (
              <div className="point-rows">
                {bends.map((px, i) => (
                  <p key={i}>
                    Edge {i + 1}{" "}
                    <span className={Math.abs(px) > BENT_PX ? "mark look" : "dim"}>
                      {Math.abs(px) > BENT_PX ? "bends" : "straight"}{" "}
                      <span className="number">{Math.abs(px).toFixed(1)} px</span>
                    </span>
                    <TakeOut
                      what={`edge ${i + 1}`}
                      onClick={() => change({ straight: fields.straight.filter((_, k) => k !== i) })}
                    />
                  </p>
                ))}
                <Button
                  size="sm"
                  variant="outline-secondary"
                  onClick={() => change({ bow: Number(bowOf(fields.straight, photo).toFixed(4)) })}
                >
                  Take the bow out
                </Button>
              </div>
            )}
            {fields.control.length > 0 && (
              <div className="point-rows">
                {fields.control.map((point, i) => {
                  const typed = (field: "across" | "down", label: string) => (
                    <input
                      className="form-control form-control-sm number"
                      aria-label={`Check point ${i + 1}, ${label}`}
                      placeholder={label}
                      value={point[field]}
                      onChange={(event) =>
                        change(
                          {
                            control: fields.control.map((one, k) =>
                              k === i ? { ...one, [field]: event.target.value } : one,
                            ),
                          },
                          `control-${i}${field}`,
                        )
                      }
                    />
                  );
                  return (
                    <p key={i} className="point-row">
                      <span>{i + 1}</span>
                      {typed("across", "from the left")}
                      {typed("down", "from the top")}
                      <TakeOut
                        what={`check point ${i + 1}`}
                        onClick={() => change({ control: fields.control.filter((_, k) => k !== i) })}
                      />
                    </p>
                  );
                })}
                {residuals.length > 0 && (
                  <p role="status">
                    They are off by{" "}
                    <span className="number">{residuals.map((mm) => formatLength(mm, unit)).join(", ")}</span>
                    .
                  </p>
                )}
              </div>
            )}
            {fields.patches.map((patch, i) => (
              <PatchRow
                key={i}
                index={i}
                patch={patch}
                onChange={(changed, touched) =>
                  change(
                    { patches: fields.patches.map((one, k) => (k === i ? { ...one, ...changed } : one)) },
                    touched && `patch-${i}${touched}`,
                  )
                }
                onRemove={() => change({ patches: fields.patches.filter((_, k) => k !== i) })}
              />
            ))}
          </div>
          <div className="gauge-save">
            <Refusal result={actionData} />
            <Flattenings flattenings={flattenings} newest={begun} />
            <Button type="submit" disabled={busy || trouble !== undefined || !("recipe" in reading)}>
              Create material
            </Button>
          </div>
        </fieldset>
      </Form>
    </div>
  );
}
