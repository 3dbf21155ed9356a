import { useEffect, useState } from "react";
import { Alert, Form as Fields } from "react-bootstrap";
import { Form, redirect, useNavigation, useFetcher } from "react-router";
import { z } from "zod";
import { MUCH_STRETCH, type Point } from "#core/gauge/repeat";
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
import { Reached } from "../project/Reached";
import { Refusal } from "../components/Refusal";
import { heldOf, marksOf, moveMark, nextEnd, residualsOf, startMark, type Held } from "../gauge/drawMarks";
import { GaugeInputs } from "../gauge/GaugeInputs";
import { listSharers } from "#server/sizing/sharers";
import { listFormats } from "#server/sizing/formats";
import { GaugeTools, type Tool } from "../gauge/GaugeTools";
import { LatticeLines } from "../gauge/LatticeLines";
import { Mark, Rod, rodLabel, type Ends } from "../gauge/Marks";
import { Proposal } from "../gauge/Proposal";
import { EMPTY_GAUGE, linesOf, NO_LINE, readGauge, writeGauge, type GaugeFields } from "../gauge/readGauge";
import { NextUnknown } from "../gauge/NextUnknown";
import { Siblings } from "../gauge/Siblings";
import { isMuch, Result } from "../gauge/Result";
import { BothSizes } from "../gauge/BothSizes";
import { tryGauge } from "../gauge/tryGauge";
import { startGauge } from "../gauge/startGauge";
import { act, found, idOf, look } from "../guard";
import { refusalOf } from "../refusal";
import { useCatchUp } from "../view/live";
import { Unsaved } from "../view/Unsaved";
import { useBench } from "../view/useBench";
import { useHistory } from "../view/useHistory";
import { useKept } from "../view/useKept";
import { useView } from "../view/viewContext";
import type { Route } from "./+types/benchGauge";
import type { FoundMaterial } from "./materialFind";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async ({ params, request }: Route.LoaderArgs) => {
  const material = found(await findMaterial(database(), idOf(params)), "material");
  const other = material.gauge?.method === "same-as" ? String(material.gauge.material) : undefined;
  const same = other === undefined ? undefined : await findMaterial(database(), other);
  return {
    modules: await askForModules(material),
    same: same && foundOf(same),
    next: await findNextUnsized(database(), material.id),
    formats: await listFormats(database()),
    sharers: await listSharers(database(), material.id),
    sheet: sheetOf(request),
  };
});

/** The sheet of many that this one was opened from, as its address says it; null where it was not. */
function sheetOf(request: Request): string | null {
  const sheet = new URL(request.url).searchParams.get("sheet");
  return sheet === null ? null : `/sizes?${new URLSearchParams(sheet)}`;
}

function foundOf({ id, code, name, repeat, sizeState, layout }: MaterialRow): FoundMaterial {
  return { id, code, name, repeat, sizeState, layout, preview: null, color: null };
}

export const action = act(
  async ({ params, request, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
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
    const handedOn = await handOnRepeat(material.id, others, person);
    const sheet = sheetOf(request);
    if (sheet !== null && handedOn.failed.length === 0) return redirect(sheet);
    return { saved: outcome.saved.material.revision, handedOn };
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

export default function BenchGauge({
  loaderData: { modules, same: sameBefore, next, formats, sharers, sheet },
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
    if (saved === undefined) return;
    setBegun(saved);
    history.markSaved();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what was saved, and not what is typed since
  }, [saved]);
  // Looking at another way to the size loses nothing.
  const isTyped = Object.entries(fields).some(
    ([field, text]) => field !== "method" && text !== history.saved[field as keyof GaugeFields],
  );
  const told = actionData && "meanwhile" in actionData ? actionData.meanwhile : undefined;
  const [settled, setSettled] = useState<typeof told>();
  const isTold = told !== undefined && told !== settled;
  const [same, setSame] = useState<FoundMaterial | undefined>(sameBefore);
  const [meant, setMeant] = useState(false);
  const [seen, setSeen] = useState(true);
  const [snapping, setSnapping] = useState(true);
  useCatchUp(material.id, modules === null);
  const [tool, setTool] = useState<Tool>("move");
  const [held, setHeld] = useState<Held>({ line: 0, end: "to" });
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
  const ends = marksOf(fields);
  const { line } = heldOf(fields, held);
  const residuals = residualsOf(isRectangle ? [] : ends, result);
  const pulled = (point: Point, reach: number) =>
    snapping && lattice ? snapToJoints(point, lattice, reach, columns).point : point;
  const chosen = ends[line]?.[held.end];
  const marking: Drawing = {
    active: chosen,
    onStart(point, reach) {
      setDrags(drags + 1);
      const after = startMark({ fields, held }, point, reach, map, (at) => pulled(at, reach));
      if (after.fields !== fields) history.set(() => after.fields, `drag-${drags + 1}`);
      setHeld(after.held);
    },
    onMove: (point, reach) =>
      history.set((before) => moveMark({ fields: before, held }, pulled(point, reach), map), `drag-${drags}`),
    onNudge: (dx, dy) =>
      chosen &&
      history.set(
        (before) => moveMark({ fields: before, held }, { x: chosen.x + dx, y: chosen.y + dy }, map),
        `nudge-${line}${held.end}`,
      ),
    onNext: () => setHeld(nextEnd(fields, held)),
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
      <Unsaved when={isTyped && mayMake && !busy} what="its size" />
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
                        active={current === "mark" && i === line ? held.end : undefined}
                        label={isLines && ends.length > 1 ? String(i + 1) : undefined}
                        toView={toView}
                      />
                    ),
                )}
              {rod && <Rod {...rod} toView={toView} label={rodLabel(rod, material.repeat, map, unit)} />}
            </>
          )}
          tools={
            <GaugeTools
              tool={current}
              onTool={setTool}
              marks={marks}
              counted={lattice && { seen, onSeen: setSeen, snapping, onSnapping: setSnapping }}
              history={history}
            />
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
              formats={formats}
              lines={{
                active: line,
                residuals,
                onActive: (index) => {
                  if (index !== line) setHeld({ line: index, end: "from" });
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
            <Siblings key={material.revision} siblings={siblings} sharers={sharers} />
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
            <Reached />
            {sheet === null ? (
              next && <NextUnknown to={`/materials/${next.id}/gauge`} {...next} />
            ) : (
              <NextUnknown to={sheet} name={null} others={next?.others ?? 0} />
            )}
          </div>
        </fieldset>
      </Form>
    </div>
  );
}
