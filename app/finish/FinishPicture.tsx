import { useEffect, useMemo, useRef, useState } from "react";
import { Form as Fields } from "react-bootstrap";
import type { Finish } from "#core/finish/finish";
import { lightReflectance } from "#core/finish/lightReflectance";
import { glossUnits } from "#core/shade/glossUnits";
import type { Repeat } from "#core/length/repeat";
import { WALL_TURNS } from "#core/picture/wall";
import { BLOCK_SHARE, isOfWholePieces, LEAF_SHARE, WALL_SHARE } from "#core/picture/view";
import type { ReferenceRow } from "#server/reference/sql";
import { FindMaterial } from "../components/FindMaterial";
import { Ruler, RULER_PX } from "../components/Ruler";
import { useView } from "../view/viewContext";
import { ANOTHER, BesideChoice } from "./BesideChoice";
import { CompareBar } from "./CompareBar";
import { ConditionBar } from "./ConditionBar";
import { conditionOf, shapeWords, type OfferedCondition, type SetLight } from "./light";
import { useSetLight } from "./useSetLight";
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
  /** Conditions of the studio's own, and the panoramas that can light one. */
  conditions: OfferedCondition[];
  environments: { sha256: string; name: string }[];
  /** What is compared with it: a name, or the id of a reference picture. */
  other: string;
  onOther(name: string): void;
  onOtherMaterial(id: string): void;
  /** A colour that was matched, or picked. */
  onColor(changed: { tint: string; brightnessStops?: number }): void;
  mayMake: boolean;
  mayKeepLight: boolean;
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
  conditions,
  environments,
  other,
  onOther,
  onOtherMaterial,
  onColor,
  mayMake,
  mayKeepLight,
  onCondition,
}: FinishPictureProps) {
  const { pxPerMm, unit } = useView();
  const [size, setSize] = useState<{ width: number; height: number }>();
  const box = useRef<HTMLDivElement>(null);
  const [light, setLight] = useSetLight();
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
  const { condition, words: conditionWords } = conditionOf(light, conditions);
  useEffect(() => onCondition(conditionWords), [onCondition, conditionWords]);
  const { shape, cards } = light;
  const isHalved = arrangement === "beside" && compared !== undefined;
  const shown = size && { width: isHalved ? Math.floor(size.width / 2) : size.width, height: size.height };
  const move = useMoved(shown && { ...shown, mmPerPx: 1 / pxPerMm });
  // Dragged over its width, a block or a wall turns by so many degrees.
  const turn = useMoved(
    shown && { ...shown, mmPerPx: 180 / shown.width },
    shape === "wall" ? WALL_MOVES : undefined,
  );
  const isTurned = isOfWholePieces(shape);
  const factor = shown ? Math.max(1, Math.sqrt((shown.width * shown.height) / MOST_PIXELS)) : 1;
  const pixels = shown && {
    width: Math.round(shown.width / factor),
    height: Math.round(shown.height / factor),
  };
  const view = pixels && {
    shape,
    ...pixels,
    mmPerPx: mmPerPxOf(light, pixels, repeat) ?? factor / pxPerMm,
    centre: isTurned
      ? { x: 0, y: 0 }
      : { x: repeat.width / 2 + move.moved.x, y: repeat.height / 2 + move.moved.y },
    cards,
    ...(isTurned && { turn: { right: -turn.moved.x, down: -turn.moved.y } }),
  };
  const drawn: Record<string, Drawn | DrawnReference> = {
    now: { material, finish, wear },
    ...(compared && { other: compared }),
  };
  const { canvas, missing, darkness, isWhole, maps, ask } = usePicture(drawn, view, condition, move.moved);
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
      <ConditionBar
        light={light}
        onLight={setLight}
        own={conditions}
        environments={environments}
        mayMake={mayKeepLight}
      >
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
          label={`${material.name} under ${conditionWords}, on ${shapeWords(light)}${compared ? `, beside it ${otherName}` : ""}`}
          isWhole={isWhole}
          size={shown}
          pixels={pixels}
          mmPerPx={1 / pxPerMm}
          canvas={canvas}
          other={compared && otherName}
          arrangement={arrangement}
          split={split}
          mode={shape === "panel" ? mode : "move"}
          move={isTurned ? turn : move}
          parts={parts}
          onParts={setParts}
          onPick={(side, place) => compare.pick(place, pickedFrom(drawn[side], maps[side]))}
        >
          <div className="sample-warnings">
            {!material.repeat && material.layout !== "plain" && (
              <p className="mark look">size unknown: not to scale</p>
            )}
            {reference && !reference.placing && (
              <p className="mark look">
                {reference.name} is not to scale: place it, so that both are shown at their real size
              </p>
            )}
            {darkness && <p className="mark wrong">{darkness}</p>}
            {missing.length > 0 && (
              <p className="mark wrong">{missing.join(", ")} cannot be shown: its preview is missing</p>
            )}
          </div>
        </SampleSheet>
      </div>
      <p className="finish-figures number">
        {figureWords}
        <span>{darkness ? "" : !isWhole ? "drawing …" : compared ? "hold B: in turn" : ""}</span>
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
        isMoved={isAway(isTurned ? turn.moved : move.moved)}
        backWords={isTurned ? "Back to the front" : "Back to the middle"}
        onBack={isTurned ? turn.back : move.back}
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

/** A wall is not seen from behind. What moves to the right turns to the left. */
const WALL_MOVES = {
  x: WALL_TURNS.right,
  y: [-WALL_TURNS.down[1], -WALL_TURNS.down[0]] as const,
};

const isAway = ({ x, y }: { x: number; y: number }) => x !== 0 || y !== 0;

/** What has a real size of its own fills its share of the view; all else is at the drawing scale. */
function mmPerPxOf(
  { shape, wide }: SetLight,
  pixels: { width: number; height: number },
  repeat: Repeat,
): number | undefined {
  if (shape === "block") return wide.block / (BLOCK_SHARE * pixels.width);
  if (shape === "wall") return wide.wall / (WALL_SHARE * pixels.width);
  if (shape === "leaf")
    return Math.max(repeat.width / pixels.width, repeat.height / pixels.height) / LEAF_SHARE;
  return undefined;
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
