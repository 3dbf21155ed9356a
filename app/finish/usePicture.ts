import { useEffect, useRef, useState } from "react";
import { heightAmplitude, type Finish } from "#core/finish/finish";
import type { MaterialMap, MaterialState, WornLayer } from "#core/finish/material";
import type { Condition } from "#core/picture/condition";
import { DRAWN_ROLES } from "#core/picture/roleTexture";
import type { View } from "#core/picture/view";
import { isLaid } from "#core/finish/wear";
import { wearSize } from "#core/finish/wearSize";
import type { Repeat } from "#core/length/repeat";
import { pixelsOf } from "./pixelsOf";
import type { BandMessage, DrawMessage, MaterialMessage, SentMap } from "./pictureWorker";

/** Side of the maps that a picture on the screen is made from. */
const SIDE = 1024;
/** A picture of so many pixels is drawn while somebody turns a value. */
const COARSE_PIXELS = 36_000;
const REST_MS = 350;
const MOST_WORKERS = 4;

/** What one canvas shows. */
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

/**
 * Draws materials by the shading model in workers: coarsely at once, whole when nobody turns anything any more.
 * @param drawn by the names of the canvases that they are drawn on
 */
export function usePicture(drawn: Record<string, Drawn>, view: View | undefined, condition: Condition) {
  const canvases = useRef(new Map<string, HTMLCanvasElement>());
  const workers = useRef<Worker[]>([]);
  const turns = useRef<Record<string, number>>({});
  /** Rows that are still to come, by canvas. */
  const left = useRef<Record<string, number>>({});
  /** What follows the coarse picture. */
  const next = useRef<() => void>(undefined);
  const [missing, setMissing] = useState<string[]>([]);
  const [maps, setMaps] = useState<Record<string, SentMap[]>>({});
  const [isWhole, setWhole] = useState(false);

  useEffect(() => {
    const count = Math.min(MOST_WORKERS, Math.max(1, navigator.hardwareConcurrency ?? 1));
    const made = Array.from(
      { length: count },
      () => new Worker(new URL("./pictureWorker.ts", import.meta.url), { type: "module" }),
    );
    for (const worker of made)
      worker.onmessage = ({ data }: MessageEvent<BandMessage>) => {
        const canvas = canvases.current.get(data.slot);
        if (!canvas || data.turn !== turns.current[data.slot]) return;
        put(canvas, data);
        left.current[data.slot] -= data.rows[1] - data.rows[0];
        if (Object.values(left.current).some((rows) => rows > 0)) return;
        if (data.width === canvas.width) setWhole(true);
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
    slots.map(([slot, { material, wear }]) => [
      slot,
      shownMaps(material),
      masksOf(wear),
      guessedRepeat(material),
      material.layout,
    ]),
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
    const sending = slots.map(async ([slot, { material, wear }]): Promise<MaterialMessage> => {
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
    });
    void Promise.all(sending).then((messages) => {
      if (gone) return;
      for (const message of messages) for (const worker of workers.current) worker.postMessage(message);
      setMissing(lost);
      setMaps(Object.fromEntries(messages.map(({ slot, maps: sent }) => [slot, sent])));
      setReady(named);
    });
    return () => void (gone = true);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- named by what they are
  }, [named]);

  const isReady = ready === named;
  const finishes = slots.map(([slot, { material, finish, wear }]) => ({
    slot,
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
  }));
  const asked = view && JSON.stringify([view, condition, finishes]);
  useEffect(() => {
    if (!isReady || !view || asked === undefined) return;
    const send = (shown: View) => {
      left.current = {};
      for (const { slot, finish, heightMm, wear } of finishes) {
        const turn = (turns.current[slot] ?? 0) + 1;
        turns.current[slot] = turn;
        left.current[slot] = shown.height;
        const { length } = workers.current;
        workers.current.forEach((worker, at) => {
          const rows: DrawMessage["rows"] = [
            Math.round((at * shown.height) / length),
            Math.round(((at + 1) * shown.height) / length),
          ];
          const what = { slot, turn, finish, heightMm, wear, view: shown, condition, rows };
          worker.postMessage({ kind: "draw", ...what } satisfies DrawMessage);
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
    setWhole(false);
    next.current = () => (timer = setTimeout(() => send(view), REST_MS));
    send(factor > 1.2 ? coarse : view);
    return () => {
      clearTimeout(timer);
      next.current = undefined;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- all of it is in what is asked
  }, [isReady, asked]);

  return {
    missing,
    /** The maps as they were read, by canvas. */
    maps,
    /** All pictures are there, and none is coarse. */
    isWhole: isWhole && isReady,
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
  context.drawImage(small, 0, top, canvas.width, bottom - top);
}
