import { useEffect, useRef, useState } from "react";
import { Alert, Form as Fields } from "react-bootstrap";
import { Trash } from "react-bootstrap-icons";
import { Form, Link, useNavigation } from "react-router";
import type { Point } from "#core/gauge/repeat";
import { formatLength, formatSize } from "#core/length/formatLength";
import { MM_PER_UNIT } from "#core/length/parseLength";
import { HomographyError, homographyOf, project } from "#core/photo/homography";
import { bend, bowOf, MOST_BOW, unbowed } from "#core/photo/lens";
import { flattenRecipeSchema, FLAT_LAYOUTS } from "#core/photo/recipe";
import { flatSize, flattening, QUALITIES, RegionError } from "#core/photo/region";
import { database } from "#server/db/database";
import { listFlattenings, type FlatteningRow } from "#server/flattening/queries";
import type { Person } from "#server/auth/person";
import { startFlattening } from "#server/flattening/commands";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { FindMaterial } from "../components/FindMaterial";
import { ImageTable, type Drawing } from "../components/ImageTable";
import { closePreviewUrl } from "../components/previewUrl";
import { Progress } from "../components/Progress";
import { UndoRedo } from "../components/UndoRedo";
import { Refusal } from "../components/Refusal";
import { asJson } from "../asJson";
import { act, idOf, look } from "../guard";
import { gripAt, moved, placeOf, type Grip } from "../photo/grab";
import { draggedPatch, patchAt, type PatchGrip, type Rectangle } from "../photo/patchGrab";
import { readRegion, startRegion, type PatchFields, type RegionFields } from "../photo/readRegion";
import { RegionOverlay } from "../photo/RegionOverlay";
import { useFlatPreview } from "../photo/useFlatPreview";
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

type Tool = "move" | "corners" | "straight" | "check" | "patch";
const TOOLS: [Tool, string][] = [
  ["corners", "Corners"],
  ["straight", "Straight edge"],
  ["check", "Check point"],
  ["patch", "Paint out"],
  ["move", "Move"],
];

const HINTS: Record<Tool, string> = {
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
  } = useHistory<RegionFields>(() => startRegion(photo, `${material.name}, flat`));
  const change = (changed: Partial<RegionFields>, touched?: string) =>
    set((before) => ({ ...before, ...changed }), touched);
  const [tool, setTool] = useState<Tool>("corners");
  const [grip, setGrip] = useState<Grip>({ kind: "corner", index: 0 });
  const drag = useRef<{ at: Point; count: number; patch?: PatchGrip; rectangle?: Rectangle }>({
    at: { x: 0, y: 0 },
    count: 0,
  });

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

  const toReal = (point: Point) => {
    const back = homographyOf(
      fields.corners.map((corner) => unbowed(corner, photo, fields.bow)),
      realCorners(flat!),
    );
    return project(back, unbowed(point, photo, fields.bow));
  };
  const text = (mm: number) => String(Number((mm / MM_PER_UNIT[unit]).toFixed(2)));
  const typedRectangle = ({ x, y, width, height }: Rectangle) => ({
    x: text(x),
    y: text(y),
    width: text(width),
    height: text(height),
  });
  const newPatch = (at: Point): PatchFields => ({
    ...typedRectangle({ ...toReal(at), width: 1, height: 1 }),
    shiftX: "0",
    shiftY: "0",
    material: null,
  });
  /** Where it is taken from: the side where there is more of the wall. */
  const shiftOf = ({ x, width }: Rectangle) => ({
    shiftX: text(x + width / 2 < flat!.width / 2 ? width : -width),
  });

  const drawing: Drawing | undefined =
    tool === "move"
      ? undefined
      : {
          active: placeOf(fields, grip),
          onStart(at, reach) {
            drag.current = { at, count: drag.current.count + 1 };
            if (tool === "patch") {
              if (!flat || !("recipe" in reading)) return;
              const real = toReal(at);
              const edge = toReal({ x: at.x + reach, y: at.y });
              const held = patchAt(
                reading.recipe.patches,
                real,
                Math.hypot(edge.x - real.x, edge.y - real.y),
              );
              drag.current.patch = held;
              drag.current.rectangle = held && reading.recipe.patches[held.index];
              if (!held) change({ patches: [...fields.patches, newPatch(at)] }, `drag-${drag.current.count}`);
              return;
            }
            const touched = `drag-${drag.current.count}`;
            const near = gripAt(fields, at, reach);
            if (near && (tool === "corners" || near.kind === "straight" || near.kind === "control"))
              return setGrip(near);
            if (tool === "straight") {
              change({ straight: [...fields.straight, [at, at, at]] }, touched);
              setGrip({ kind: "straight", index: fields.straight.length, end: 2 });
            } else if (tool === "check") {
              change({ control: [...fields.control, { at, across: "", down: "" }] }, touched);
              setGrip({ kind: "control", index: fields.control.length });
            }
          },
          onMove(at) {
            const { at: from, count, patch, rectangle } = drag.current;
            const touched = `drag-${count}`;
            if (tool === "patch") {
              if (!flat) return;
              const [a, b] = [toReal(from), toReal(at)];
              const drawn = rectangle
                ? draggedPatch(rectangle, patch!.part, b.x - a.x, b.y - a.y)
                : draggedPatch(
                    { ...a, width: 0, height: 0 },
                    { right: true, bottom: true },
                    b.x - a.x,
                    b.y - a.y,
                  );
              set((before) => {
                const index = patch?.index ?? before.patches.length - 1;
                const changed = { ...typedRectangle(drawn), ...(!patch && shiftOf(drawn)) };
                return {
                  ...before,
                  patches: before.patches.map((one, i) => (i === index ? { ...one, ...changed } : one)),
                };
              }, touched);
              return;
            }
            drag.current = { at, count };
            set((before) => {
              const after = moved(before, grip, at.x - from.x, at.y - from.y);
              if (grip.kind !== "straight" || grip.end === 1) return after;
              // The middle follows as long as it has not been pulled onto the edge.
              return {
                ...after,
                straight: after.straight.map((line, i) => (i === grip.index ? centred(line) : line)),
              };
            }, touched);
          },
          onNudge: (dx, dy) => set((before) => moved(before, grip, dx, dy), `nudge-${JSON.stringify(grip)}`),
          onNext: () => setGrip({ kind: "corner", index: grip.kind === "corner" ? (grip.index + 1) % 4 : 0 }),
        };
  const bends = fields.straight.map((line) => bend(line, photo, fields.bow));
  const begun = actionData && "begun" in actionData ? actionData.begun : undefined;
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
              Make the material
            </Button>
          </div>
        </fieldset>
      </Form>
    </div>
  );
}

const centred = ([a, , b]: [Point, Point, Point]): [Point, Point, Point] => [
  a,
  { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 },
  b,
];

const realCorners = ({ width, height }: { width: number; height: number }) => [
  { x: 0, y: 0 },
  { x: width, y: 0 },
  { x: width, y: height },
  { x: 0, y: height },
];

interface Tried {
  flat?: { toPhoto(real: Point): Point; width: number; height: number };
  trouble?: string;
  residuals: number[];
  size?: { width: number; height: number };
}

/** The region as far as it goes: before its size is typed, only its corners are checked, on a unit square. */
function tryRegion(
  fields: RegionFields,
  reading: ReturnType<typeof readRegion>,
  photo: { width: number; height: number },
): Tried {
  if ("field" in reading) return { trouble: reading.message, residuals: [] };
  const region =
    "recipe" in reading
      ? reading.recipe
      : { corners: fields.corners, width: 1000, height: 1000, bow: fields.bow };
  try {
    const { toPhoto, residuals } = flattening(region, photo);
    const { width, height } = region;
    return {
      flat: { toPhoto, width, height },
      residuals,
      size: "recipe" in reading ? flatSize(region, photo, reading.recipe.quality) : undefined,
    };
  } catch (error) {
    if (error instanceof RegionError || error instanceof HomographyError)
      return { trouble: error.message, residuals: [] };
    throw error;
  }
}

function FlatPicture({
  preview,
  trouble,
}: {
  preview: ReturnType<typeof useFlatPreview>;
  trouble: string | undefined;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!preview || !("data" in preview) || !canvas.current) return;
    canvas.current.width = preview.width;
    canvas.current.height = preview.height;
    const image = new ImageData(new Uint8ClampedArray(preview.data), preview.width, preview.height);
    canvas.current.getContext("2d")!.putImageData(image, 0, 0);
  }, [preview]);
  const failure = trouble ?? (preview && "failure" in preview ? preview.failure : undefined);
  if (failure)
    return (
      <Alert variant="warning" className="refusal">
        {failure}
      </Alert>
    );
  return (
    <figure className="flat-picture">
      <canvas ref={canvas} role="img" aria-label="The region as it will be" />
      <figcaption>
        {!preview
          ? "Type the real size, and it is shown here as it will be."
          : "share" in preview && preview.share < 0.995
            ? `As it will be, cut off where the photograph ends: ${Math.round(preview.share * 100)} % of it are left.`
            : "As it will be."}
      </figcaption>
    </figure>
  );
}

function TakeOut({ what, onClick }: { what: string; onClick(): void }) {
  return (
    <Button size="sm" variant="link" aria-label={`Take ${what} out`} onClick={onClick}>
      <Trash aria-hidden="true" />
    </Button>
  );
}

interface PatchRowProps {
  index: number;
  patch: PatchFields;
  onChange(changed: Partial<PatchFields>, touched?: string): void;
  onRemove(): void;
}

function PatchRow({ index, patch, onChange, onRemove }: PatchRowProps) {
  const { unit } = useView();
  const [other, setOther] = useState(patch.material !== null);
  const typed = (field: Exclude<keyof PatchFields, "material">, label: string) => (
    <label>
      <span>{label}</span>
      <input
        className="form-control form-control-sm number"
        aria-label={`Patch ${index + 1}, ${label}`}
        value={patch[field]}
        onChange={(event) => onChange({ [field]: event.target.value }, field)}
      />
    </label>
  );
  return (
    <fieldset className="patch-row">
      <legend>
        Painted out {index + 1}
        <TakeOut what={`patch ${index + 1}`} onClick={onRemove} />
      </legend>
      {typed("x", "from the left")}
      {typed("y", "from the top")}
      {typed("width", "wide")}
      {typed("height", "high")}
      {!other && typed("shiftX", "taken so far right")}
      {!other && typed("shiftY", "and so far down")}
      <label className="whole">
        <input
          type="checkbox"
          checked={other}
          onChange={(event) => {
            setOther(event.target.checked);
            if (!event.target.checked) onChange({ material: null });
          }}
        />{" "}
        filled with another material{patch.material && `: ${patch.material.name}`}
      </label>
      {other && (
        <div className="whole">
          <FindMaterial
            label={`Material of patch ${index + 1}`}
            chosen={undefined}
            onChoose={({ id, name, preview, repeat }) =>
              onChange({ material: { id, name, preview, repeat } })
            }
            describe={({ repeat }) => (repeat ? formatSize(repeat, unit) : "size unknown")}
          />
        </div>
      )}
    </fieldset>
  );
}

/** What was taken from this photograph, newest first. */
function Flattenings({ flattenings, newest }: { flattenings: FlatteningRow[]; newest: string | undefined }) {
  if (flattenings.length === 0) return null;
  return (
    <ul className="flattenings" aria-label="Taken from this photograph">
      {flattenings.slice(0, 4).map(({ id, recipe, made, failure, share }) => (
        <li key={id} className={id === newest ? "newest" : undefined}>
          {made ? (
            <Link to={`/materials/${made}`}>{recipe.name}</Link>
          ) : failure ? (
            <span className="mark wrong">
              {recipe.name}: {failure}
            </span>
          ) : (
            <Progress label={recipe.name} done={share} total={1} />
          )}
        </li>
      ))}
      {flattenings.length > 4 && <li className="dim">and {flattenings.length - 4} more</li>}
    </ul>
  );
}
