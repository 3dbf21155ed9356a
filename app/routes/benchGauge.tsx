import { useState } from "react";
import { Alert, Form as Fields } from "react-bootstrap";
import { Form, useNavigation } from "react-router";
import { GaugeError, gaugeRepeat, type GaugeResult, type Point } from "#core/gauge/repeat";
import { formatLength, formatSize } from "#core/length/formatLength";
import type { Person } from "#server/db/people";
import { database } from "#server/db/database";
import { findMaterial } from "#server/db/materials";
import { askForModules } from "#server/library/countModules";
import { setRepeat } from "#server/library/materials";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { ImageTable, type ToView } from "../components/ImageTable";
import { closePreviewUrl } from "../components/previewUrl";
import { Refusal } from "../components/Refusal";
import { EMPTY_GAUGE, readGauge, writeGauge, type GaugeFields } from "../gauge/readGauge";
import { LatticeLines } from "../gauge/LatticeLines";
import { Proposal } from "../gauge/Proposal";
import { startGauge } from "../gauge/startGauge";
import { act, found, idOf, look } from "../guard";
import { useCatchUp } from "../view/live";
import { refusalOf } from "../refusal";
import { useBench } from "../view/useBench";
import { useView } from "../view/viewContext";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/benchGauge";

export const loader = look(async ({ params }: Route.LoaderArgs) => ({
  modules: await askForModules(found(await findMaterial(database(), idOf(params)), "material")),
}));

export const action = act(
  "make",
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const fields = Object.fromEntries(
      Object.keys(EMPTY_GAUGE).map((field) => [field, String(form.get(field) ?? "")]),
    ) as GaugeFields;
    const reading = readGauge(fields, person.unit);
    if ("waiting" in reading) throw badField("/method", "Something is not filled in yet.");
    if ("field" in reading) throw badField(`/${reading.field}`, reading.message);
    const { material } = await setRepeat(idOf(params), reading.request, Number(form.get("seen")), person);
    return { saved: material.revision };
  },
);

const METHODS = [
  [
    "modules",
    "Modules",
    "Count what repeats. Boards of random length: leave the height and the courses empty.",
  ],
  ["cover", "Cover sizes", "Count lapped pieces by the part that shows."],
  ["size", "Overall size", "The real size of the whole image is known."],
  ["length", "A line", "Draw a line over something of known length."],
  ["rectangle", "A rectangle", "Draw it over something whose width and height are known."],
] as const;

type Tool = "move" | "rod" | "mark";

export default function BenchGauge({ loaderData: { modules }, actionData: answer }: Route.ComponentProps) {
  const actionData = useKept(answer);
  const { material, mayMake } = useBench();
  const { unit } = useView();
  const busy = useNavigation().state === "submitting";
  const [fields, setFields] = useState<GaugeFields>(() =>
    startGauge(writeGauge(material.gauge), material, unit),
  );
  const [seen, setSeen] = useState(true);
  useCatchUp(material.id, modules === null);
  const [tool, setTool] = useState<Tool>("move");
  const [rod, setRod] = useState<{ from: Point; to: Point }>();
  const change = (field: keyof GaugeFields, value: string) =>
    setFields((before) => ({ ...before, [field]: value }));

  const map =
    material.maps.find(({ role }) => role === "base_color") ??
    material.maps.toSorted((a, b) => b.width * b.height - a.width * a.height)[0];
  if (!map) return <p className="page">A plain colour has no image, and so no size.</p>;

  const reading = readGauge(fields, unit);
  const { result, trouble } = tryGauge(map, reading);
  const marks = fields.method === "length" || fields.method === "rectangle";
  const current = marks ? tool : tool === "mark" ? "move" : tool;
  const mark = {
    from: { x: Number(fields.fromX), y: Number(fields.fromY) },
    to: { x: Number(fields.toX), y: Number(fields.toY) },
  };
  const hasMark = marks && fields.fromX !== "" && fields.toX !== "";

  const setMark = (which: "from" | "to", { x, y }: Point) =>
    setFields((before) => ({
      ...before,
      [`${which}X`]: x.toFixed(1),
      [`${which}Y`]: y.toFixed(1),
      ...(which === "from" && { toX: x.toFixed(1), toY: y.toFixed(1) }),
    }));
  const drawing =
    current === "mark"
      ? { onStart: (point: Point) => setMark("from", point), onMove: (point: Point) => setMark("to", point) }
      : current === "rod"
        ? {
            onStart: (point: Point) => setRod({ from: point, to: point }),
            onMove: (to: Point) => setRod((before) => before && { ...before, to }),
          }
        : undefined;
  const refused = refusalOf(actionData);
  const saved = actionData && "saved" in actionData ? actionData.saved : undefined;

  return (
    <div className="gauge">
      <div className="gauge-image">
        <ImageTable
          url={closePreviewUrl(map)}
          alt="Base color map"
          size={map}
          repeat={material.repeat}
          unit={unit}
          drawing={drawing}
          reading={rod && rodLabel(rod, material.repeat, map, unit)}
          overlay={(toView) => (
            <>
              {hasMark && (
                <Mark
                  shape={fields.method === "rectangle" ? "rectangle" : "line"}
                  mark={mark}
                  toView={toView}
                />
              )}
              {seen && modules?.lattice && modules.count && (
                <LatticeLines
                  lattice={modules.lattice}
                  image={map}
                  columns={modules.count.across !== undefined && modules.count.bond !== "herringbone"}
                  toView={toView}
                />
              )}
              {rod && <Rod rod={rod} toView={toView} label={rodLabel(rod, material.repeat, map, unit)} />}
            </>
          )}
          tools={
            <div className="tool-row" role="group" aria-label="Pointer">
              <ToolButton tool="move" current={current} onChoose={setTool}>
                Move the image
              </ToolButton>
              {marks && (
                <ToolButton tool="mark" current={current} onChoose={setTool}>
                  {fields.method === "length" ? "Draw the line" : "Draw the rectangle"}
                </ToolButton>
              )}
              <ToolButton tool="rod" current={current} onChoose={setTool}>
                Measuring rod
              </ToolButton>
              {modules?.lattice && (
                <button type="button" aria-pressed={seen} onClick={() => setSeen(!seen)}>
                  Counted modules
                </button>
              )}
            </div>
          }
        />
      </div>
      <Form method="post" className="gauge-form" aria-label="Gauge">
        <input type="hidden" name="seen" value={material.revision} />
        <fieldset disabled={!mayMake}>
          <Proposal
            found={modules}
            onTake={({ across, down }) =>
              setFields((before) => ({
                ...before,
                method: before.method === "cover" ? "cover" : "modules",
                across: across === undefined ? "" : String(across),
                up: down === undefined ? "" : String(down),
              }))
            }
          />
          <Fields.Group className="mb-2" controlId="method">
            <Fields.Label>Way to the size</Fields.Label>
            <Fields.Select
              name="method"
              value={fields.method}
              onChange={(event) => {
                change("method", event.target.value);
                if (["length", "rectangle"].includes(event.target.value)) setTool("mark");
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
          />
          {result ? (
            <Result result={result} keep={fields.keep} change={change} unit={unit} />
          ) : (
            trouble && (
              <Alert variant="warning" className="refusal">
                {trouble}
              </Alert>
            )
          )}
          <Fields.Check
            id="assumed"
            name="assumed"
            label="This is a guess: mark it as assumed"
            checked={fields.assumed !== ""}
            onChange={(event) => change("assumed", event.target.checked ? "on" : "")}
          />
          {refused && <Refusal result={actionData} />}
          {saved === material.revision && !busy && (
            <p className="saved" role="status">
              Saved as revision {saved}: {material.repeat && formatSize(material.repeat, unit)},{" "}
              {material.sizeState}.
            </p>
          )}
          <Button type="submit" disabled={!result || busy}>
            Save this size
          </Button>
        </fieldset>
      </Form>
    </div>
  );
}

function tryGauge(
  image: { width: number; height: number },
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

interface InputsProps {
  fields: GaugeFields;
  change(field: keyof GaugeFields, value: string): void;
  wrong: keyof GaugeFields | undefined;
}

function GaugeInputs({ fields, change, wrong }: InputsProps) {
  const input = (field: keyof GaugeFields, label: string, placeholder: string) => (
    <Fields.Group controlId={field} key={field}>
      <Fields.Label>{label}</Fields.Label>
      <Fields.Control
        name={field}
        value={fields[field]}
        placeholder={placeholder}
        autoComplete="off"
        isInvalid={wrong === field}
        onChange={(event) => change(field, event.target.value)}
      />
    </Fields.Group>
  );
  const pair = (...inputs: React.ReactNode[]) => <div className="pair">{inputs}</div>;
  const points = (
    <>
      {pair(input("fromX", "From, across (px)", "0"), input("fromY", "From, down (px)", "0"))}
      {pair(input("toX", "To, across (px)", "100"), input("toY", "To, down (px)", "0"))}
    </>
  );
  switch (fields.method) {
    case "size":
      return pair(input("width", "Width", "600"), input("height", "Height (if known)", "follows"));
    case "modules":
      return (
        <>
          {pair(input("across", "Modules across", "4"), input("up", "Courses up", "8"))}
          {pair(
            input("moduleWidth", "Work size, width", "200"),
            input("moduleHeight", "Work size, height", "100"),
          )}
          {pair(input("joint", "Joint", "3"), input("jointVertical", "Between courses", "the same"))}
        </>
      );
    case "cover":
      return (
        <>
          {pair(input("across", "Pieces across", "3"), input("up", "Courses up", "10"))}
          {pair(input("moduleWidth", "Cover width", "250"), input("moduleHeight", "Cover height", "105"))}
        </>
      );
    case "length":
      return (
        <>
          {points}
          {input("length", "Its real length", "203")}
        </>
      );
    default:
      return (
        <>
          {points}
          {pair(input("width", "Its real width", "203"), input("height", "Its real height", "103"))}
        </>
      );
  }
}

interface ResultProps {
  result: GaugeResult;
  keep: string;
  change(field: keyof GaugeFields, value: string): void;
  unit: "mm" | "cm" | "m" | "in";
}

/** What the numbers give, and where width and height disagree, the choice of what to do about it. */
function Result({ result, keep, change, unit }: ResultProps) {
  const off = result.disagreementPercent;
  // Half a millimetre in a metre is less than anybody can see or measure on an image.
  const agrees = Math.abs(off) < 0.05;
  return (
    <div className="gauge-result" role="status">
      <p className="gauge-size number">{formatSize(result.repeat, unit)}</p>
      <p className="number dim">
        {Math.round(result.densityX)} × {Math.round(result.densityY)} px/m
      </p>
      {agrees ? (
        <p>Width and height agree: nothing is stretched.</p>
      ) : (
        <fieldset>
          <legend>
            Width and height disagree by <span className="number">{signed(off)} %</span>,{" "}
            {formatLength(Math.abs(off) * 10, unit)} in a metre.
          </legend>
          {(
            [
              ["both", "Stretch the image: both are right"],
              ["width", "Keep proportions, the width is right"],
              ["height", "Keep proportions, the height is right"],
            ] as const
          ).map(([value, label]) => (
            <Fields.Check
              key={value}
              type="radio"
              id={`keep-${value}`}
              name="keep"
              value={value}
              label={label}
              checked={keep === value}
              onChange={() => change("keep", value)}
            />
          ))}
        </fieldset>
      )}
    </div>
  );
}

const signed = (value: number) => `${value > 0 ? "+" : "−"}${Math.abs(value).toFixed(2)}`;

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

/** A line or a rectangle with a light casing, so that it shows on dark and light textures, and a cross at each end. */
function Mark({
  shape,
  mark,
  toView,
}: {
  shape: "line" | "rectangle";
  mark: { from: Point; to: Point };
  toView: ToView;
}) {
  const [a, b] = [toView(mark.from), toView(mark.to)];
  const crosses = [a, b].map((end) => `M${end.x - 7} ${end.y}h14M${end.x} ${end.y - 7}v14`).join("");
  const outline = shape === "line" ? `M${a.x} ${a.y}L${b.x} ${b.y}` : `M${a.x} ${a.y}H${b.x}V${b.y}H${a.x}Z`;
  return (
    <g className="gauge-mark">
      <path className="casing" d={outline + crosses} />
      <path d={outline + crosses} />
    </g>
  );
}

/** A rod with a division at each tenth, and its reading beside it. */
function Rod({ rod, toView, label }: { rod: { from: Point; to: Point }; toView: ToView; label: string }) {
  const [a, b] = [toView(rod.from), toView(rod.to)];
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const length = Math.hypot(dx, dy) || 1;
  const [nx, ny] = [(-dy / length) * 5, (dx / length) * 5];
  return (
    <g className="rod">
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} className="rod-body" />
      {Array.from({ length: 11 }, (_, k) => {
        const [x, y] = [a.x + (dx * k) / 10, a.y + (dy * k) / 10];
        return <line key={k} x1={x - nx} y1={y - ny} x2={x + nx} y2={y + ny} />;
      })}
      <text x={b.x + 10} y={b.y - 10}>
        {label}
      </text>
    </g>
  );
}

/** What the rod reads: a real length, or pixels while the size is unknown. */
function rodLabel(
  { from, to }: { from: Point; to: Point },
  repeat: { width: number; height: number } | null,
  image: { width: number; height: number },
  unit: "mm" | "cm" | "m" | "in",
): string {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  if (!repeat) return `${Math.hypot(dx, dy).toFixed(1)} px`;
  return formatLength(
    Math.hypot((dx * repeat.width) / image.width, (dy * repeat.height) / image.height),
    unit,
  );
}
