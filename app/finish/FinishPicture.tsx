import { useEffect, useMemo, useRef, useState, type RefObject } from "react";
import { Form as Fields } from "react-bootstrap";
import type { Finish } from "#core/finish/finish";
import { lightReflectance } from "#core/finish/lightReflectance";
import { CONDITIONS, type Condition } from "#core/picture/condition";
import { glossUnits } from "#core/shade/glossUnits";
import { SHAPES, type View } from "#core/picture/view";
import { FindMaterial } from "../components/FindMaterial";
import { Ruler, RULER_PX } from "../components/Ruler";
import { useView } from "../view/viewContext";
import type { SentMap } from "./pictureWorker";
import { differenceWords, meanLab, meanSurface } from "./pictureFigures";
import { guessedRepeat, usePicture, type Drawn } from "./usePicture";

/** Asks which one. */
export const ANOTHER = "another";
const NO_MAPS: SentMap[] = [];

type ConditionId = keyof typeof CONDITIONS;

/** On a large screen so many pixels are drawn, and enlarged. */
const MOST_PIXELS = 640_000;

interface FinishPictureProps {
  material: Drawn["material"] & { id: string; name: string };
  finish: Finish;
  wear: Drawn["wear"];
  /** What it can be compared with, by what it is called; undefined until it is there. */
  others: Record<string, Drawn | undefined>;
  /** What is compared with it. */
  other: string;
  onOther(name: string): void;
  onOtherMaterial(id: string): void;
  /** What the title block says of the picture. */
  onCondition(words: string): void;
}

/** The material as the shading model shows it, at the drawing scale under a named condition, beside another state of itself. */
export function FinishPicture({
  material,
  finish,
  wear,
  others,
  other,
  onOther,
  onOtherMaterial,
  onCondition,
}: FinishPictureProps) {
  const { pxPerMm, unit } = useView();
  const [size, setSize] = useState<{ width: number; height: number }>();
  const box = useRef<HTMLDivElement>(null);
  const [named, setNamed] = useState<ConditionId>("studio");
  const [lamp, setLamp] = useState<{ around: number; above: number }>();
  const [exposureStops, setExposure] = useState(0);
  const [shape, setShape] = useState<View["shape"]>("panel");
  const [cards, setCards] = useState(false);
  const [tone, setTone] = useState<Condition["tone"]>("none");
  const [split, setSplit] = useState(50);

  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const observer = new ResizeObserver(() =>
      setSize({
        width: Math.max(64, Math.floor(element.clientWidth)),
        height: Math.max(64, Math.floor(element.clientHeight)),
      }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  const repeat = guessedRepeat(material);
  const base = CONDITIONS[named];
  const condition = {
    ...base,
    ...(lamp && { lampAround: lamp.around, lampAbove: lamp.above }),
    exposureStops,
    tone,
  };
  const factor = size ? Math.max(1, Math.sqrt((size.width * size.height) / MOST_PIXELS)) : 1;
  const pixels = size && {
    width: Math.round(size.width / factor),
    height: Math.round(size.height / factor),
  };
  const view = pixels && {
    shape,
    ...pixels,
    mmPerPx: factor / pxPerMm,
    centre: shape === "panel" ? { x: repeat.width / 2, y: repeat.height / 2 } : { x: 0, y: 0 },
    cards,
  };
  const compared = others[other];
  const drawn: Record<string, Drawn> = {
    now: { material, finish, wear },
    ...(compared && { other: compared }),
  };
  const { canvas, missing, isWhole, maps } = usePicture(drawn, view, condition);
  const figureWords = useFigureWords(finish, maps.now ?? NO_MAPS);
  const figures = useFigures(box, isWhole && compared !== undefined);
  const conditionWords = `${base.name}${lamp ? `, lamp ${lamp.above}° above` : ""}${exposureStops ? `, ${exposureStops > 0 ? "+" : "−"}${Math.abs(exposureStops)} stops` : ""}${tone === "neutral" ? ", neutral curve" : ""}`;
  useEffect(() => onCondition(conditionWords), [onCondition, conditionWords]);

  const left = view ? view.centre.x - (view.width / 2) * view.mmPerPx : 0;
  const top = view ? view.centre.y - (view.height / 2) * view.mmPerPx : 0;
  const isScaled = shape === "panel" && (material.repeat !== null || material.layout === "plain");
  return (
    <div className="finish-picture">
      <div className="finish-conditions">
        <label>
          Condition
          <Fields.Select
            aria-label="Condition"
            size="sm"
            value={named}
            onChange={(event) => {
              setNamed(event.target.value as ConditionId);
              setLamp(undefined);
            }}
          >
            {Object.entries(CONDITIONS).map(([id, { name }]) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Fields.Select>
        </label>
        <label>
          Shape
          <Fields.Select
            aria-label="Shape"
            size="sm"
            value={shape}
            onChange={(event) => setShape(event.target.value as View["shape"])}
          >
            {SHAPES.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </Fields.Select>
        </label>
        <label>
          Beside
          <Fields.Select
            aria-label="Beside"
            size="sm"
            value={other}
            onChange={(event) => onOther(event.target.value)}
          >
            <option value="">nothing</option>
            {Object.keys(others).map((one) => (
              <option key={one}>{one}</option>
            ))}
            <option value={ANOTHER}>another material …</option>
          </Fields.Select>
        </label>
        <label>
          Lamp {condition.lampAbove}°
          <Fields.Range
            min={3}
            max={90}
            value={condition.lampAbove}
            onChange={(event) => setLamp({ around: condition.lampAround, above: Number(event.target.value) })}
          />
        </label>
        <label>
          from {condition.lampAround}°
          <Fields.Range
            min={0}
            max={360}
            value={condition.lampAround}
            onChange={(event) => setLamp({ above: condition.lampAbove, around: Number(event.target.value) })}
          />
        </label>
        <label>
          Exposure {exposureStops > 0 ? "+" : ""}
          {exposureStops}
          <Fields.Range
            min={-3}
            max={3}
            step={0.25}
            value={exposureStops}
            onChange={(event) => setExposure(Number(event.target.value))}
          />
        </label>
        <label>
          Tone
          <Fields.Select
            aria-label="Tone"
            size="sm"
            value={tone}
            onChange={(event) => setTone(event.target.value as Condition["tone"])}
          >
            <option value="none">cut off</option>
            <option value="neutral">neutral curve</option>
          </Fields.Select>
        </label>
        <Fields.Check
          type="checkbox"
          id="cards"
          label="Grey and white cards"
          checked={cards}
          disabled={shape !== "panel"}
          onChange={(event) => setCards(event.target.checked)}
        />
      </div>
      {other === ANOTHER && (
        <div className="finish-other">
          <FindMaterial
            label="Beside it"
            chosen={undefined}
            without={[material.id]}
            onChoose={({ id }) => onOtherMaterial(id)}
            describe={({ code }) => code}
          />
        </div>
      )}
      <div className="finish-table" style={{ gridTemplateColumns: `${RULER_PX}px 1fr` }}>
        <span className="ruler-corner">{isScaled ? unit : ""}</span>
        <div className="ruler-rail across">
          {size && isScaled && (
            <Ruler direction="across" length={size.width} pxPerMm={pxPerMm} from={left} unit={unit} />
          )}
        </div>
        <div className="ruler-rail down">
          {size && isScaled && (
            <Ruler direction="down" length={size.height} pxPerMm={pxPerMm} from={top} unit={unit} />
          )}
        </div>
        <div
          ref={box}
          className="finish-sample"
          role="img"
          aria-busy={!isWhole}
          aria-label={`${material.name} under ${conditionWords}, on a ${shape}${compared ? `, beside it ${other}` : ""}`}
        >
          {size && (
            <>
              <canvas ref={canvas("now")} {...pixels} style={size} />
              {compared && (
                <>
                  <canvas
                    ref={canvas("other")}
                    {...pixels}
                    style={{ ...size, clipPath: `inset(0 ${100 - split}% 0 0)` }}
                  />
                  <span className="split-line" style={{ left: (size.width * split) / 100 }} />
                  <span className="split-name left">{other}</span>
                  <span className="split-name right">now</span>
                </>
              )}
            </>
          )}
          {!material.repeat && material.layout !== "plain" && (
            <p className="wall-warning mark look">size unknown: not to scale</p>
          )}
          {missing.length > 0 && (
            <p className="wall-warning mark wrong">
              {missing.join(", ")} cannot be shown: its preview is missing
            </p>
          )}
        </div>
      </div>
      <p className="finish-figures number">
        {figureWords}
        <span>{isWhole ? "" : "drawing …"}</span>
      </p>
      {compared && (
        <div className="finish-split">
          <label>
            Line between {other} and now
            <Fields.Range value={split} onChange={(event) => setSplit(Number(event.target.value))} />
          </label>
          <span className="number" aria-live="polite">
            {figures}
          </span>
        </div>
      )}
    </div>
  );
}

/** What architects ask of a surface: how much light it reflects, and its gloss. */
function useFigureWords(finish: Finish, maps: SentMap[]): string {
  return useMemo(() => {
    const base = maps.find(({ role }) => role === "base_color");
    const reflects = lightReflectance(finish, base?.data);
    const gloss = glossUnits(meanSurface(finish, maps));
    return [
      ...(reflects === undefined ? [] : [`Light reflectance value ${reflects.toFixed(1)}`]),
      `gloss ${maps.some(({ role }) => role === "specular_roughness" || role === "gloss") ? "about " : ""}${gloss.toFixed(gloss < 10 ? 1 : 0)} units at 60°`,
    ].join(", ");
  }, [finish, maps]);
}

/** How the two pictures differ, once both are whole. */
function useFigures(box: RefObject<HTMLElement | null>, areThere: boolean): string {
  const [words, setWords] = useState("");
  useEffect(() => {
    if (!areThere) return setWords("");
    const [now, other] = box.current!.querySelectorAll("canvas");
    const pixels = (one: HTMLCanvasElement) =>
      one.getContext("2d")!.getImageData(0, 0, one.width, one.height).data;
    if (now && other) setWords(differenceWords(meanLab(pixels(now)), meanLab(pixels(other))));
  }, [box, areThere]);
  return words;
}
