import { useEffect, useRef, useState } from "react";
import { heightAmplitude, type Finish } from "#core/finish/finish";
import type { MaterialMap, MaterialState, WornLayer } from "#core/finish/material";
import { isOwnEnvironment, type Condition } from "#core/picture/condition";
import type { Neutral, Placing } from "#core/picture/reference";
import { DRAWN_ROLES } from "#core/picture/roleTexture";
import type { View } from "#core/picture/view";
import { isLaid } from "#core/finish/wear";
import { wearSize } from "#core/finish/wearSize";
import type { Repeat } from "#core/length/repeat";
import { pixelsOf } from "./pixelsOf";
import { readPanorama } from "./readPanorama";
import type {
  AnswerMessage,
  AskMessage,
  BandMessage,
  DrawMessage,
  DrawReferenceMessage,
  LightAnswer,
  MaterialMessage,
  Message,
  ReferenceMessage,
  SentMap,
  TablesAnswer,
} from "./pictureWorker";
import { useLivePicture } from "./useLivePicture";

/** Side of the maps that a picture on the screen is made from. */
const SIDE = 1024;
/** A picture of so many pixels is drawn while somebody turns a value. */
const COARSE_PIXELS = 28_000;
const REST_MS = 350;
const MOST_WORKERS = 4;

/** A picture to compare with, as it is on a canvas. */
export interface DrawnReference {
  reference: {
    sha256: string;
    width: number;
    height: number;
    placing: Placing | null;
    neutral: Neutral | null;
  };
}

/** A material on a canvas. */
export interface Drawn {
  material: Pick<MaterialState, "layout" | "repeat" | "maps">;
  finish: Finish;
  /** What the wear layers of the finish refer to. */
  wear: readonly WornLayer[];
}

/** What a material without a size is drawn with: a picture, not a statement. */
export const guessedRepeat = ({ repeat, maps }: Pick<MaterialState, "repeat" | "maps">): Repeat => {
  const base = maps.find(({ role }) => role === "base_color") ?? maps[0];
  return repeat ?? { width: 1000, height: 1000 * (base ? base.height / base.width : 1) };
};

const shownMaps = ({ maps }: Pick<MaterialState, "maps">) =>
  maps.filter(({ role }) => DRAWN_ROLES.includes(role));

const keyOf = ({ sha256, channel }: Pick<MaterialMap, "sha256" | "channel">) => `${sha256} ${channel}`;

/** Each mask once, however many layers it is laid on as. */
const masksOf = (wear: readonly WornLayer[]): MaterialMap[] => [
  ...new Map(wear.map(({ mask }) => [keyOf(mask), mask])).values(),
];

const REFERENCE_MAP: MaterialMap = {
  role: "reference",
  channel: "color",
  fileName: "the picture beside it",
  normalDirection: null,
  bitDepth: 8,
  channels: 3,
  sha256: "",
  width: 0,
  height: 0,
};

/** What of a material changes while its values are turned. */
const toDraw = ({ material, finish, wear }: Drawn) => ({
  finish,
  heightMm: heightAmplitude(finish, material.repeat).mm,
  wear: wear
    .filter(({ layer }) => isLaid(layer))
    .map((worn) => ({
      layer: worn.layer,
      size: wearSize(worn).size,
      mask: keyOf(worn.mask),
      wraps: worn.layout === "repeating",
    })),
});

/**
 * Draws materials by the shading model: at once by the graphics card, or coarsely by workers, and whole by these when nobody turns
 * anything any more.
 * @param drawn by the names of the canvases that they are drawn on
 */
export function usePicture(
  drawn: Record<string, Drawn | DrawnReference>,
  view: View | undefined,
  condition: Condition,
  /** Of the view, from where it began, in mm. */
  middle: { x: number; y: number },
) {
  const canvases = useRef(new Map<string, HTMLCanvasElement>());
  const workers = useRef<Worker[]>([]);
  const turns = useRef<Record<string, number>>({});
  /** Rows that are still to come, by canvas. */
  const left = useRef<Record<string, number>>({});
  const asks = useRef(0);
  const answers = useRef(new Map<number, (answer: AnswerMessage["answer"]) => void>());
  /** Whether what is still to come is all of the whole pictures. */
  const isLast = useRef(false);
  /** What follows the coarse picture. */
  const next = useRef<() => void>(undefined);
  const [missing, setMissing] = useState<string[]>([]);
  const [maps, setMaps] = useState<Record<string, SentMap[]>>({});
  /** What was asked for when all of it was there. */
  const [wholeOf, setWholeOf] = useState<string>();
  const askedLast = useRef<string>(undefined);
  const sentMaterials = useRef(new Map<string, MaterialMessage>());
  const post = (message: Message) => workers.current[0]?.postMessage(message);
  const live = useLivePicture(post);
  const receive = useRef(live.receive);

  useEffect(() => {
    const count = Math.min(MOST_WORKERS, Math.max(1, navigator.hardwareConcurrency ?? 1));
    const made = Array.from(
      { length: count },
      () => new Worker(new URL("./pictureWorker.ts", import.meta.url), { type: "module" }),
    );
    for (const worker of made)
      worker.onmessage = ({
        data,
      }: MessageEvent<BandMessage | AnswerMessage | TablesAnswer | LightAnswer>) => {
        if (data.kind === "tables" || data.kind === "light") return receive.current(data);
        if (data.kind === "answer") {
          answers.current.get(data.id)?.(data.answer);
          answers.current.delete(data.id);
          return;
        }
        const canvas = canvases.current.get(data.slot);
        if (!canvas || data.turn !== turns.current[data.slot]) return;
        put(canvas, data);
        left.current[data.slot] -= data.rows[1] - data.rows[0];
        if (Object.values(left.current).some((rows) => rows > 0)) return;
        if (isLast.current) setWholeOf(askedLast.current);
        else next.current?.();
      };
    workers.current = made;
    return () => {
      for (const worker of made) worker.terminate();
      workers.current = [];
    };
  }, []);

  const slots = Object.entries(drawn);
  const named = JSON.stringify(
    slots.map(([slot, shown]) =>
      "reference" in shown
        ? [slot, shown.reference.sha256]
        : [
            slot,
            shownMaps(shown.material),
            masksOf(shown.wear),
            guessedRepeat(shown.material),
            shown.material.layout,
          ],
    ),
  );
  /** What the workers have, by canvas. */
  const [ready, setReady] = useState("");
  useEffect(() => {
    let gone = false;
    const lost: string[] = [];
    const read = async (map: MaterialMap): Promise<SentMap | undefined> => {
      const { sha256, channel, role, normalDirection, fileName } = map;
      try {
        const { width, height, data } = await pixelsOf(`/previews/${sha256}/${channel}/${SIDE}`);
        return { key: keyOf(map), role, normalDirection, width, height, data };
      } catch {
        lost.push(fileName);
        return undefined;
      }
    };
    const sending = slots.map(
      async ([slot, shown]): Promise<MaterialMessage | ReferenceMessage | undefined> => {
        if ("reference" in shown) {
          const { sha256, width, height } = shown.reference;
          const map = await read({ ...REFERENCE_MAP, sha256, width, height });
          return map && { kind: "reference", slot, map, width, height };
        }
        const { material, wear } = shown;
        const [sent, masks] = await Promise.all(
          [shownMaps(material), masksOf(wear)].map((asked) => Promise.all(asked.map(read))),
        );
        return {
          kind: "material",
          slot,
          maps: sent.filter((map) => map !== undefined),
          masks: masks.filter((map) => map !== undefined),
          repeat: guessedRepeat(material),
          wraps: material.layout === "repeating",
        };
      },
    );
    void Promise.all(sending).then((sent) => {
      if (gone) return;
      const messages = sent.filter((message) => message !== undefined);
      for (const message of messages) {
        for (const worker of workers.current) worker.postMessage(message);
        if (message.kind === "material") sentMaterials.current.set(message.slot, message);
      }
      setMissing(lost);
      setMaps(
        Object.fromEntries(
          messages.flatMap((message) => (message.kind === "material" ? [[message.slot, message.maps]] : [])),
        ),
      );
      setReady(named);
    });
    return () => void (gone = true);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- named by what they are
  }, [named]);

  const { environment } = condition;
  const [lit, setLit] = useState<{ by: string; trouble?: string }>();
  useEffect(() => {
    if (isOwnEnvironment(environment)) return;
    let gone = false;
    readPanorama(environment).then(
      (panorama) => {
        if (gone) return;
        for (const worker of workers.current)
          worker.postMessage({ kind: "panorama", environment, panorama } satisfies Message);
        setLit({ by: environment });
      },
      (error: unknown) => {
        if (!gone)
          setLit({ by: environment, trouble: error instanceof Error ? error.message : String(error) });
      },
    );
    return () => void (gone = true);
  }, [environment]);
  const isLit = isOwnEnvironment(environment) || (lit?.by === environment && !lit.trouble);

  const isReady = ready === named && isLit;
  const shown = slots.map(([slot, one]) =>
    "reference" in one
      ? { slot, middle, reference: { placing: one.reference.placing, neutral: one.reference.neutral } }
      : { slot, condition, ...toDraw(one) },
  );
  const asked = view && JSON.stringify([view, shown]);
  useEffect(() => {
    if (!isReady || !view || asked === undefined) return;
    const nextTurn = (slot: string) => (turns.current[slot] = (turns.current[slot] ?? 0) + 1);
    const send = (now: View, these = shown) => {
      left.current = {};
      isLast.current = now === view && these.length === shown.length;
      for (const one of these) {
        const { slot } = one;
        const turn = nextTurn(slot);
        left.current[slot] = now.height;
        const { length } = workers.current;
        workers.current.forEach((worker, at) => {
          const rows: DrawMessage["rows"] = [
            Math.round((at * now.height) / length),
            Math.round(((at + 1) * now.height) / length),
          ];
          worker.postMessage({ kind: "draw", turn, view: now, rows, ...one } satisfies
            DrawMessage | DrawReferenceMessage);
        });
      }
    };
    const factor = Math.sqrt((view.width * view.height) / COARSE_PIXELS);
    const coarse = {
      ...view,
      width: Math.round(view.width / factor),
      height: Math.round(view.height / factor),
      mmPerPx: view.mmPerPx * factor,
    };
    let timer: ReturnType<typeof setTimeout> | undefined;
    askedLast.current = asked;
    // What was whole before is drawn over, be it asked for again.
    setWholeOf(undefined);
    next.current = () => (timer = setTimeout(() => send(view), REST_MS));
    const rest = shown.filter((one) => {
      const canvas = canvases.current.get(one.slot);
      const material = sentMaterials.current.get(one.slot);
      if ("reference" in one || !canvas || !material) return true;
      if (!live.draw(canvas, material, one, view, one.condition)) return true;
      // What workers still draw of it is late.
      nextTurn(one.slot);
      return false;
    });
    if (rest.length === 0) next.current();
    else send(factor > 1.2 ? coarse : view, rest);
    return () => {
      clearTimeout(timer);
      next.current = undefined;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- all of it is in what is asked
  }, [isReady, asked]);

  /** Something of a material in place of its picture; null where it is not there yet. */
  const ask = (slot: string, part: View, match?: AskMessage["match"]) =>
    new Promise<AnswerMessage["answer"]>((resolve) => {
      const one = drawn[slot];
      const [worker] = workers.current;
      if (!worker || !one || "reference" in one) return resolve(null);
      const id = ++asks.current;
      answers.current.set(id, resolve);
      worker.postMessage({ kind: "ask", id, slot, view: part, match, ...toDraw(one) } satisfies AskMessage);
    });

  return {
    missing,
    /** Why the environment of the library lights nothing. */
    darkness: isOwnEnvironment(environment) || lit?.by !== environment ? undefined : lit.trouble,
    ask,
    /** The maps as they were read, by canvas. */
    maps,
    /** All pictures are there, and none is coarse. */
    isWhole: asked !== undefined && wholeOf === asked && isReady,
    /** For the canvas of a name. */
    canvas: (slot: string) => (element: HTMLCanvasElement | null) => {
      if (element) canvases.current.set(slot, element);
      else canvases.current.delete(slot);
    },
  };
}

/** A band of a picture onto a canvas that shows the whole view, however coarse the picture is. */
function put(canvas: HTMLCanvasElement, { width, rows, data }: BandMessage): void {
  const context = canvas.getContext("2d");
  if (!context) return;
  const band = new ImageData(data, width, rows[1] - rows[0]);
  const scale = canvas.width / width;
  if (scale === 1) return context.putImageData(band, 0, rows[0]);
  const small = new OffscreenCanvas(band.width, band.height);
  small.getContext("2d")!.putImageData(band, 0, 0);
  context.imageSmoothingEnabled = false;
  const [top, bottom] = [Math.floor(rows[0] * scale), Math.ceil(rows[1] * scale)];
  // Beyond a picture there is nothing, and not what was there before.
  context.clearRect(0, top, canvas.width, bottom - top);
  context.drawImage(small, 0, top, canvas.width, bottom - top);
}
