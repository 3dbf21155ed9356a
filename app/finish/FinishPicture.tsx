import { useEffect, useMemo, useRef, useState } from "react";
import { Form as Fields } from "react-bootstrap";
import type { Finish } from "#core/finish/finish";
import { lightReflectance } from "#core/finish/lightReflectance";
import { glossUnits } from "#core/shade/glossUnits";
import type { ReferenceRow } from "#server/reference/sql";
import { FindMaterial } from "../components/FindMaterial";
import { Ruler, RULER_PX } from "../components/Ruler";
import { useView } from "../view/viewContext";
import { ANOTHER, BesideChoice } from "./BesideChoice";
import { CompareBar } from "./CompareBar";
import { ConditionBar, conditionOf, FIRST_LIGHT } from "./ConditionBar";
import { meanSurface } from "./pictureFigures";
import type { SentMap } from "./pictureWorker";
import { ReferencePlacing } from "./ReferencePlacing";
import { SampleSheet, type Arrangement, type Mode, type Parts } from "./SampleSheet";
import { useCompared } from "./useCompared";
import { useMoved } from "./useMoved";
import { guessedRepeat, usePicture, type Drawn, type DrawnReference } from "./usePicture";

const NO_MAPS: SentMap[] = [];

/** On a large screen so many pixels are drawn, and enlarged. */
const MOST_PIXELS = 640_000;

interface FinishPictureProps {
  material: Drawn["material"] & { id: string; name: string };
  finish: Finish;
  wear: Drawn["wear"];
  /** What it can be compared with, by what it is called; undefined until it is there. */
  others: Record<string, Drawn | undefined>;
  references: ReferenceRow[];
  profiles: { id: string; name: string }[];
  /** What is compared with it: a name, or the id of a reference picture. */
  other: string;
  onOther(name: string): void;
  onOtherMaterial(id: string): void;
  /** A colour that was matched, or picked. */
  onColor(changed: { tint: string; brightnessStops?: number }): void;
  mayMake: boolean;
  /** What the title block says of the picture. */
  onCondition(words: string): void;
}

/** The material as the shading model shows it, at the drawing scale under a named condition, beside what it should be like. */
export function FinishPicture({
  material,
  finish,
  wear,
  others,
  references,
  profiles,
  other,
  onOther,
  onOtherMaterial,
  onColor,
  mayMake,
  onCondition,
}: FinishPictureProps) {
  const { pxPerMm, unit } = useView();
  const [size, setSize] = useState<{ width: number; height: number }>();
  const box = useRef<HTMLDivElement>(null);
  const [light, setLight] = useState(FIRST_LIGHT);
  const [arrangement, setArrangement] = useState<Arrangement>("line");
  const [split, setSplit] = useState(50);
  const [mode, setMode] = useState<Mode>("move");
  const [parts, setParts] = useState<Parts>({});
  const [isPlacing, setPlacing] = useState(false);

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
  }, [isPlacing]);

  const reference = references.find(({ id }) => id === other);
  const compared: Drawn | DrawnReference | undefined = reference ? drawnReference(reference) : others[other];
  const otherName = reference?.name ?? other;
  const repeat = guessedRepeat(material);
  const { condition, words: conditionWords } = conditionOf(light);
  useEffect(() => onCondition(conditionWords), [onCondition, conditionWords]);
  const { shape, cards } = light;
  const isHalved = arrangement === "beside" && compared !== undefined;
  const shown = size && { width: isHalved ? Math.floor(size.width / 2) : size.width, height: size.height };
  const move = useMoved(shown && { ...shown, mmPerPx: 1 / pxPerMm });
  const factor = shown ? Math.max(1, Math.sqrt((shown.width * shown.height) / MOST_PIXELS)) : 1;
  const pixels = shown && {
    width: Math.round(shown.width / factor),
    height: Math.round(shown.height / factor),
  };
  const view = pixels && {
    shape,
    ...pixels,
    mmPerPx: factor / pxPerMm,
    centre:
      shape === "block"
        ? { x: 0, y: 0 }
        : { x: repeat.width / 2 + move.moved.x, y: repeat.height / 2 + move.moved.y },
    cards,
  };
  const drawn: Record<string, Drawn | DrawnReference> = {
    now: { material, finish, wear },
    ...(compared && { other: compared }),
  };
  const { canvas, missing, isWhole, maps, ask } = usePicture(drawn, view, condition, move.moved);
  const figureWords = useFigureWords(finish, maps.now ?? NO_MAPS);
  const compare = useCompared({ box, view, middle: move.moved, parts, drawn, isWhole, ask, condition });

  if (isPlacing && reference)
    return (
      <div className="finish-picture">
        <ReferencePlacing
          material={material.id}
          reference={reference}
          profiles={profiles}
          onDone={() => setPlacing(false)}
        />
      </div>
    );
  const left = view ? view.centre.x - (view.width / 2) * view.mmPerPx : 0;
  const top = view ? view.centre.y - (view.height / 2) * view.mmPerPx : 0;
  const isScaled = shape === "panel" && (material.repeat !== null || material.layout === "plain");
  return (
    <div className="finish-picture">
      <ConditionBar light={light} onLight={setLight}>
        <BesideChoice
          material={material.id}
          names={Object.keys(others)}
          references={references}
          profiles={profiles}
          other={other}
          onOther={onOther}
          mayMake={mayMake}
        />
      </ConditionBar>
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
          {shown &&
            isScaled &&
            (isHalved ? [0, 1] : [0]).map((half) => (
              <div key={half} className="half-ruler" style={{ width: shown.width }}>
                <Ruler direction="across" length={shown.width} pxPerMm={pxPerMm} from={left} unit={unit} />
              </div>
            ))}
        </div>
        <div className="ruler-rail down">
          {shown && isScaled && (
            <Ruler direction="down" length={shown.height} pxPerMm={pxPerMm} from={top} unit={unit} />
          )}
        </div>
        <SampleSheet
          box={box}
          label={`${material.name} under ${conditionWords}, on a ${shape}${compared ? `, beside it ${otherName}` : ""}`}
          isWhole={isWhole}
          size={shown}
          pixels={pixels}
          mmPerPx={1 / pxPerMm}
          canvas={canvas}
          other={compared && otherName}
          arrangement={arrangement}
          split={split}
          mode={shape === "panel" ? mode : "move"}
          move={move}
          parts={parts}
          onParts={setParts}
          onPick={(side, place) => compare.pick(place, pickedFrom(drawn[side], maps[side]))}
        >
          {!material.repeat && material.layout !== "plain" && (
            <p className="wall-warning mark look">size unknown: not to scale</p>
          )}
          {reference && !reference.placing && (
            <p className="wall-warning mark look">
              {reference.name} is not to scale: place it, so that both are shown at their real size
            </p>
          )}
          {missing.length > 0 && (
            <p className="wall-warning mark wrong">
              {missing.join(", ")} cannot be shown: its preview is missing
            </p>
          )}
        </SampleSheet>
      </div>
      <p className="finish-figures number">
        {figureWords}
        <span>{!isWhole ? "drawing …" : compared ? "hold B: in turn" : ""}</span>
      </p>
      <CompareBar
        otherName={compared && otherName}
        arrangement={arrangement}
        onArrangement={setArrangement}
        mode={mode}
        onMode={setMode}
        isPanel={shape === "panel"}
        parts={parts}
        onParts={setParts}
        compare={compare}
        onColor={onColor}
        mayMake={mayMake}
        name={material.name}
        isMoved={move.moved.x !== 0 || move.moved.y !== 0}
        onBack={move.back}
        onPlace={reference && mayMake ? () => setPlacing(true) : undefined}
      >
        {compared && arrangement === "line" && (
          <label>
            Line
            <Fields.Range
              aria-label={`Line between ${otherName} and now`}
              value={split}
              onChange={(event) => setSplit(Number(event.target.value))}
            />
          </label>
        )}
      </CompareBar>
    </div>
  );
}

const baseOf = (maps: SentMap[] | undefined) => maps?.find(({ role }) => role === "base_color");

/** What a colour is picked from, where that is a material. */
const pickedFrom = (shown: Drawn | DrawnReference, maps: SentMap[] | undefined) =>
  "reference" in shown
    ? undefined
    : { finish: shown.finish, base: baseOf(maps), repeat: guessedRepeat(shown.material) };

/** One that has been read; another one shows nothing. */
function drawnReference({
  sha256,
  width,
  height,
  placing,
  neutral,
}: ReferenceRow): DrawnReference | undefined {
  if (width === null || height === null) return undefined;
  return { reference: { sha256, width, height, placing, neutral } };
}

/** What architects ask of a surface: how much light it reflects, and its gloss. */
function useFigureWords(finish: Finish, maps: SentMap[]): string {
  return useMemo(() => {
    const reflects = lightReflectance(finish, baseOf(maps)?.data);
    const gloss = glossUnits(meanSurface(finish, maps));
    return [
      ...(reflects === undefined ? [] : [`Light reflectance value ${reflects.toFixed(1)}`]),
      `gloss ${maps.some(({ role }) => role === "specular_roughness" || role === "gloss") ? "about " : ""}${gloss.toFixed(gloss < 10 ? 1 : 0)} units at 60°`,
    ].join(", ");
  }, [finish, maps]);
}
