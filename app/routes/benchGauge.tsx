import { useEffect, useState } from "react";
import { Alert, Form as Fields } from "react-bootstrap";
import { Form, redirect, useNavigation, useFetcher } from "react-router";
import { z } from "zod";
import {
  GaugeError,
  gaugeRepeat,
  MUCH_STRETCH,
  type GaugeResult,
  type PixelSize,
  type Point,
} from "#core/gauge/repeat";
import { snapToJoints } from "#core/gauge/snap";
import { formatSize } from "#core/length/formatLength";
import { database } from "#server/db/database";
import { findMaterial, findNextUnsized, type MaterialRow } from "#server/material/queries";
import type { Person } from "#server/auth/person";
import { askForModules } from "#server/counting/commands";
import { copyMaterial, handOnRepeat, measuredImage, setRepeat } from "#server/material/commands";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { ImageTable, type Drawing } from "../components/ImageTable";
import { previewUrl } from "../components/previewUrl";
import { asTyped, typedLength } from "../gauge/typedLength";
import { UndoRedo } from "../components/UndoRedo";
import { Refusal } from "../components/Refusal";
import { GaugeInputs } from "../gauge/GaugeInputs";
import { LatticeLines } from "../gauge/LatticeLines";
import { NO_LINE } from "../gauge/LineRows";
import { Mark, Rod, rodLabel, type Ends } from "../gauge/Marks";
import { Proposal } from "../gauge/Proposal";
import { EMPTY_GAUGE, linesOf, readGauge, writeGauge, type GaugeFields } from "../gauge/readGauge";
import { NextUnknown } from "../gauge/NextUnknown";
import { Siblings } from "../gauge/Siblings";
import { isMuch, Result } from "../gauge/Result";
import { BothSizes } from "../gauge/BothSizes";
import { startGauge } from "../gauge/startGauge";
import { act, found, idOf, look } from "../guard";
import { refusalOf } from "../refusal";
import { useCatchUp } from "../view/live";
import { useBench } from "../view/useBench";
import { useHistory } from "../view/useHistory";
import { useKept } from "../view/useKept";
import { useView } from "../view/viewContext";
import type { Route } from "./+types/benchGauge";
import type { FoundMaterial } from "./materialFind";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async ({ params }: Route.LoaderArgs) => {
  const material = found(await findMaterial(database(), idOf(params)), "material");
  const other = material.gauge?.method === "same-as" ? String(material.gauge.material) : undefined;
  const same = other === undefined ? undefined : await findMaterial(database(), other);
  return {
    modules: await askForModules(material),
    same: same && foundOf(same),
    next: await findNextUnsized(database(), material.id),
  };
});

function foundOf({ id, code, name, repeat, sizeState, layout }: MaterialRow): FoundMaterial {
  return { id, code, name, repeat, sizeState, layout, preview: null, color: null };
}

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const text = (field: string, empty = "") => String(form.get(field) ?? empty);
    const fields = Object.fromEntries(
      Object.entries(EMPTY_GAUGE).map(([field, empty]) => [field, text(field, empty)]),
    ) as GaugeFields;
    const same = fields.method === "same-as" ? await findMaterial(database(), fields.material) : undefined;
    const reading = readGauge(fields, person.unit, same?.repeat);
    if ("waiting" in reading) throw badField("/method", "Something is not filled in yet.");
    if ("field" in reading) throw badField(`/${reading.field}`, reading.message);
    const material = found(await findMaterial(database(), idOf(params)), "material");
    const { result } = tryGauge(measuredImage(material), reading);
    if (result && isMuch(result) && !form.has("meant"))
      throw badField(
        "/meant",
        `The image would be stretched by more than ${MUCH_STRETCH} %. Say that it is meant.`,
      );
    if (!result) throw badField("/method", "That gives no size.");
    if (form.get("intent") === "copy-mine") {
      const copy = await copyMaterial(material.id, `${material.name}, mine`, person);
      await setRepeat(copy.id, reading.request, undefined, person);
      return redirect(`/materials/${copy.id}/gauge`);
    }
    const seen = Number(form.get("over") ?? form.get("seen"));
    const outcome = await setRepeat(material.id, reading.request, seen, person, { merges: true });
    if ("clash" in outcome) return { meanwhile: outcome.clash };
    const others = z.array(z.uuid()).max(200).catch([]).parse(form.getAll("also"));
    return {
      saved: outcome.saved.material.revision,
      handedOn: await handOnRepeat(material.id, others, person),
    };
  },
);

const METHODS = [
  [
    "modules",
    "Modules",
    "Count what repeats. Where a size is not known, as the length of boards, leave it empty.",
  ],
  ["cover", "Cover sizes", "Count lapped pieces by the part that shows."],
  ["size", "Overall size", "The real size of the whole image is known."],
  ["lines", "Lines", "Draw one or more lines over things of known length: the size that fits them all best."],
  ["rectangle", "A rectangle", "Draw it over something whose width and height are known."],
  ["density", "Density", "How many pixels a metre has is known, as of a scan."],
  ["same-as", "Same as another material", "Its maps cover as much as those of another one, as variants do."],
] as const;

type Tool = "move" | "rod" | "mark";
type End = keyof Ends;

export default function BenchGauge({
  loaderData: { modules, same: sameBefore, next },
  actionData: answer,
}: Route.ComponentProps) {
  const actionData = useKept(answer);
  const { material, mayMake, siblings } = useBench();
  const { unit } = useView();
  const cutting = useFetcher<{ fromRevision?: number }>();
  const busy = useNavigation().state === "submitting";
  const present = () => startGauge(writeGauge(material.gauge, material.repeat), material, unit);
  const history = useHistory<GaugeFields>(present);
  const fields = history.now;
  // The revision that the fields began with: what others save meanwhile is not overwritten unseen.
  const [begun, setBegun] = useState(material.revision);
  const { canGoBack, reset } = history;
  useEffect(() => {
    if (canGoBack || begun === material.revision) return;
    reset(startGauge(writeGauge(material.gauge, material.repeat), material, unit));
    setBegun(material.revision);
  }, [canGoBack, begun, material, unit, reset]);
  const saved = actionData && "saved" in actionData ? actionData.saved : undefined;
  useEffect(() => {
    if (saved !== undefined) setBegun(saved);
  }, [saved]);
  const told = actionData && "meanwhile" in actionData ? actionData.meanwhile : undefined;
  const [settled, setSettled] = useState<typeof told>();
  const isTold = told !== undefined && told !== settled;
  const [same, setSame] = useState<FoundMaterial | undefined>(sameBefore);
  const [meant, setMeant] = useState(false);
  const [seen, setSeen] = useState(true);
  const [snapping, setSnapping] = useState(true);
  useCatchUp(material.id, modules === null);
  const [tool, setTool] = useState<Tool>("move");
  const [active, setActive] = useState<{ line: number; end: End }>({ line: 0, end: "to" });
  const [drags, setDrags] = useState(0);
  const [rod, setRod] = useState<Ends>();
  const change = (changed: Partial<GaugeFields>, touched?: string) =>
    history.set((before) => ({ ...before, ...changed }), touched);

  const map =
    material.maps.find(({ role }) => role === "base_color") ??
    material.maps.toSorted((a, b) => b.width * b.height - a.width * a.height)[0];
  if (!map) return <p className="page">A plain colour has no image, and so no size.</p>;

  const reading = readGauge(fields, unit, same?.repeat);
  const { result, trouble } = tryGauge(map, reading);
  const { lattice, count } = modules ?? {};
  const columns = count?.across !== undefined && !count.bond.startsWith("herringbone");
  const isRectangle = fields.method === "rectangle";
  const isLines = fields.method === "lines";
  const marks = isLines || isRectangle;
  const current = marks ? tool : tool === "mark" ? "move" : tool;

  const lines = linesOf(fields);
  const line = Math.min(active.line, Math.max(0, lines.length - 1));
  const ends = isRectangle ? [endsOf(fields)] : lines.map(endsOf);
  const residuals = residualsOf(lines.map(endsOf), result);

  /** Moves an end of a mark; the fields say where it is. */
  const put = (which: number, moved: Partial<Record<End, Point>>, touched: string) => {
    const texts: Record<string, string> = {};
    for (const [end, point] of Object.entries(moved)) {
      texts[`${end}X`] = clamp(point.x, map.width).toFixed(1);
      texts[`${end}Y`] = clamp(point.y, map.height).toFixed(1);
    }
    if (isRectangle) return change(texts, touched);
    const rows = lines.length > which ? lines : [...lines, NO_LINE];
    change(
      { lines: JSON.stringify(rows.map((row, i) => (i === which ? { ...row, ...texts } : row))) },
      touched,
    );
  };
  const pulled = (point: Point, reach: number) =>
    snapping && lattice ? snapToJoints(point, lattice, reach, columns).point : point;
  const chosen = ends[isRectangle ? 0 : line]?.[active.end];
  const marking: Drawing = {
    active: chosen,
    onStart(point, reach) {
      setDrags(drags + 1);
      const near = nearest(ends, point, reach);
      if (near) return setActive(near);
      const which = isRectangle ? 0 : line;
      setActive({ line: which, end: "to" });
      const at = pulled(point, reach);
      put(which, { from: at, to: at }, `drag-${drags + 1}`);
    },
    onMove: (point, reach) =>
      put(isRectangle ? 0 : line, { [active.end]: pulled(point, reach) }, `drag-${drags}`),
    onNudge: (dx, dy) =>
      chosen &&
      put(
        isRectangle ? 0 : line,
        { [active.end]: { x: chosen.x + dx, y: chosen.y + dy } },
        `nudge-${line}${active.end}`,
      ),
    onNext: () =>
      setActive(({ end }) =>
        end === "from"
          ? { line, end: "to" }
          : { line: isRectangle ? 0 : (line + 1) % Math.max(1, lines.length), end: "from" },
      ),
  };
  const drawing =
    current === "mark"
      ? marking
      : current === "rod"
        ? {
            onStart: (point: Point, reach: number) =>
              setRod({ from: pulled(point, reach), to: pulled(point, reach) }),
            onMove: (to: Point, reach: number) =>
              setRod((before) => before && { ...before, to: pulled(to, reach) }),
          }
        : undefined;
  const refused = refusalOf(actionData);
  const handedOn = actionData && "handedOn" in actionData ? actionData.handedOn : undefined;

  return (
    <div className="gauge">
      <div className="gauge-image">
        <ImageTable
          map={map}
          alt="Base color map"
          repeat={material.repeat}
          unit={unit}
          drawing={drawing}
          reading={rod && rodLabel(rod, material.repeat, map, unit)}
          overlay={(toView) => (
            <>
              {seen && lattice && count && (
                <LatticeLines lattice={lattice} image={map} columns={columns} toView={toView} />
              )}
              {marks &&
                ends.map(
                  (mark, i) =>
                    mark && (
                      <Mark
                        key={i}
                        shape={isRectangle ? "rectangle" : "line"}
                        {...mark}
                        active={current === "mark" && (isRectangle || i === line) ? active.end : undefined}
                        label={isLines && ends.length > 1 ? String(i + 1) : undefined}
                        toView={toView}
                      />
                    ),
                )}
              {rod && <Rod {...rod} toView={toView} label={rodLabel(rod, material.repeat, map, unit)} />}
            </>
          )}
          tools={
            <>
              <div className="tool-row" role="group" aria-label="Pointer">
                <ToolButton tool="move" current={current} onChoose={setTool}>
                  Move it
                </ToolButton>
                {marks && (
                  <ToolButton tool="mark" current={current} onChoose={setTool}>
                    Draw it
                  </ToolButton>
                )}
                <ToolButton tool="rod" current={current} onChoose={setTool}>
                  Measuring rod
                </ToolButton>
              </div>
              {lattice && (
                <div className="tool-row" role="group" aria-label="Counted modules">
                  <button type="button" aria-pressed={seen} onClick={() => setSeen(!seen)}>
                    Counted modules
                  </button>
                  <button type="button" aria-pressed={snapping} onClick={() => setSnapping(!snapping)}>
                    Pull to joints
                  </button>
                </div>
              )}
              <UndoRedo
                back={history.back}
                again={history.again}
                canGoBack={history.canGoBack}
                canGoAgain={history.canGoAgain}
              />
            </>
          }
        />
      </div>
      <Form method="post" className="gauge-form" aria-label="Gauge">
        <input type="hidden" name="seen" value={begun} />
        <fieldset disabled={!mayMake}>
          <div className="gauge-fields">
            <Proposal
              found={modules}
              unit={unit}
              work={{
                width: typedLength(fields.moduleWidth, unit).mm,
                height: typedLength(fields.moduleHeight, unit).mm,
              }}
              cutting={{
                isOn: cutting.state !== "idle",
                isAsked: cutting.data?.fromRevision === material.revision,
                result: cutting.data,
              }}
              onCut={
                mayMake
                  ? (copies) =>
                      void cutting.submit(
                        { mend: "one-copy", ...copies },
                        { method: "post", action: `/materials/${material.id}/judge` },
                      )
                  : undefined
              }
              onJoints={({ across, down }) => {
                const first = across ?? down;
                change({
                  joint: first === undefined ? "" : asTyped(first, unit),
                  jointVertical: down === undefined || down === first ? "" : asTyped(down, unit),
                });
              }}
              onTake={({ across, down }, module) =>
                change({
                  method: fields.method === "cover" ? "cover" : "modules",
                  across: across === undefined ? "" : String(across),
                  up: down === undefined ? "" : String(down),
                  ...(module && {
                    moduleWidth: asTyped(module.width, unit),
                    moduleHeight: asTyped(module.height, unit),
                    joint: "0",
                  }),
                })
              }
            />
            <Fields.Group className="mb-2" controlId="method">
              <Fields.Label>Way to the size</Fields.Label>
              <Fields.Select
                name="method"
                value={fields.method}
                onChange={({ target: { value } }) => {
                  const first = value === "lines" &&
                    lines.length === 0 && { lines: JSON.stringify([NO_LINE]) };
                  change({ method: value, ...first });
                  if (value === "lines" || value === "rectangle") setTool("mark");
                }}
              >
                {METHODS.map(([value, name]) => (
                  <option key={value} value={value}>
                    {name}
                  </option>
                ))}
              </Fields.Select>
              <Fields.Text>{METHODS.find(([value]) => value === fields.method)?.[2]}</Fields.Text>
            </Fields.Group>
            <GaugeInputs
              fields={fields}
              change={change}
              wrong={"field" in reading ? reading.field : undefined}
              unit={unit}
              module={columns && count?.down !== undefined ? lattice : undefined}
              lines={{
                active: line,
                residuals,
                onActive: (index) => {
                  if (index !== line) setActive({ line: index, end: "from" });
                  setTool("mark");
                },
              }}
              same={same}
              onSame={(chosen) => {
                setSame(chosen);
                change({ material: chosen.id });
              }}
              material={material.id}
            />
            {result ? (
              <Result
                result={result}
                image={map}
                picture={previewUrl(map.sha256, 256)}
                keep={fields.keep}
                meant={meant}
                unit={unit}
                onKeep={(keep) => change({ keep })}
                onMeant={setMeant}
              />
            ) : (
              trouble && (
                <Alert variant="warning" className="refusal">
                  {trouble}
                </Alert>
              )
            )}
            <Fields.Check
              className="mt-3"
              id="assumed"
              name="assumed"
              label="This is a guess: mark it as assumed"
              checked={fields.assumed !== ""}
              onChange={(event) => change({ assumed: event.target.checked ? "on" : "" })}
            />
          </div>
          <div className="gauge-save">
            <Siblings siblings={siblings} />
            {refused && <Refusal result={actionData} />}
            {isTold && (
              <BothSizes
                {...told}
                unit={unit}
                onTheirs={() => {
                  history.set(present);
                  setBegun(material.revision);
                  setSettled(told);
                }}
              />
            )}
            {saved === material.revision && !busy && (
              <p className="saved" role="status">
                Saved as revision {saved}: {material.repeat && formatSize(material.repeat, unit)},{" "}
                {material.sizeState}.{handedOn && handedOn.saved > 0 && ` Handed on to ${handedOn.saved}.`}
              </p>
            )}
            {handedOn?.failed.map(({ name, reason }) => (
              <p key={name} className="mark wrong">
                {name}: {reason}
              </p>
            ))}
            {!isTold && (
              <Button type="submit" disabled={!result || busy || (isMuch(result) && !meant)}>
                Save this size
              </Button>
            )}
            {next && <NextUnknown next={next} />}
          </div>
        </fieldset>
      </Form>
    </div>
  );
}

function tryGauge(
  image: PixelSize,
  reading: ReturnType<typeof readGauge>,
): { result?: GaugeResult; trouble?: string } {
  if ("waiting" in reading) return {};
  if ("field" in reading) return { trouble: reading.message };
  try {
    return { result: gaugeRepeat(image, reading.request, reading.request.keep) };
  } catch (error) {
    if (error instanceof GaugeError) return { trouble: error.message };
    throw error;
  }
}

const clamp = (value: number, most: number) => Math.min(most, Math.max(0, value));

/** Where a mark lies, as soon as both of its ends are there. */
function endsOf(fields: Record<"fromX" | "fromY" | "toX" | "toY", string>): Ends | undefined {
  const texts = [fields.fromX, fields.fromY, fields.toX, fields.toY];
  const [x1, y1, x2, y2] = texts.map((text) => (text.trim() === "" ? NaN : Number(text.replace(",", "."))));
  if ([x1, y1, x2, y2].some((value) => !Number.isFinite(value))) return undefined;
  return { from: { x: x1, y: y1 }, to: { x: x2, y: y2 } };
}

/** The end of a mark that lies within reach of a point. */
function nearest(
  ends: (Ends | undefined)[],
  point: Point,
  reach: number,
): { line: number; end: End } | undefined {
  const all = ends.flatMap((mark, line) =>
    mark
      ? (["from", "to"] as const).map((end) => ({
          line,
          end,
          distance: Math.hypot(mark[end].x - point.x, mark[end].y - point.y),
        }))
      : [],
  );
  const [first] = all.filter(({ distance }) => distance <= reach).sort((a, b) => a.distance - b.distance);
  return first && { line: first.line, end: first.end };
}

/** The residuals of the finished lines, in the places of their rows. */
function residualsOf(ends: (Ends | undefined)[], result: GaugeResult | undefined): (number | undefined)[] {
  const finished = [...(result?.residuals ?? [])];
  // A row without a real length is not among them; then it is not told which is which.
  if (finished.length !== ends.filter(Boolean).length) return ends.map(() => undefined);
  return ends.map((mark) => (mark ? finished.shift() : undefined));
}

function ToolButton({
  tool,
  current,
  onChoose,
  children,
}: {
  tool: Tool;
  current: Tool;
  onChoose(tool: Tool): void;
  children: React.ReactNode;
}) {
  return (
    <button type="button" aria-pressed={tool === current} onClick={() => onChoose(tool)}>
      {children}
    </button>
  );
}
