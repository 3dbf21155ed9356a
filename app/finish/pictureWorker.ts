import type { Finish } from "#core/finish/finish";
import type { Laid } from "#core/finish/marks";
import { isOwnEnvironment, type Condition } from "#core/picture/condition";
import { detailLevel } from "#core/picture/detail";
import { matchColor, type ColorMatch } from "#core/picture/matchColor";
import { roughnessOf } from "#core/picture/measure";
import type { Panorama } from "#core/picture/environment";
import { makePicture } from "#core/picture/picture";
import {
  referenceReader,
  referenceReduction,
  type Neutral,
  type PlacedReference,
  type Placing,
} from "#core/picture/reference";
import { roleTexture } from "#core/picture/roleTexture";
import type { DrawnMaterial, Textures } from "#core/picture/surfaceReader";
import type { View } from "#core/picture/view";
import { srgbEncoder } from "#core/raster/srgb";
import type { Texture } from "#core/raster/texture";
import type { Rgb } from "#core/shade/rgb";
import type { Role } from "#core/roles/roles";
import { lightTablesOf, tableRows, type LightTables, type TableRows } from "../live/lightTables";
import type { LiveMap } from "../live/livePicture";

export type SentMap = LiveMap;

/** Asks for tables that the graphics card draws with. */
export interface TablesMessage {
  kind: "tables";
  tables: number[];
}
export interface TablesAnswer {
  kind: "tables";
  tables: TableRows[];
}

/** Asks for an environment as the graphics card reads it. */
export interface LightMessage {
  kind: "light";
  environment: Condition["environment"];
}
export interface LightAnswer {
  kind: "light";
  environment: Condition["environment"];
  light: LightTables;
}

/** What stays the same while values are turned. */
export interface MaterialMessage {
  kind: "material";
  /** Of the picture that it is for. */
  slot: string;
  maps: SentMap[];
  /** Of wear layers. */
  masks: SentMap[];
  repeat: { width: number; height: number };
  wraps: boolean;
}

/** A picture that the material is judged against. */
export interface ReferenceMessage {
  kind: "reference";
  slot: string;
  map: SentMap;
  /** Of the picture in full. */
  width: number;
  height: number;
}

/** Such a picture, or a band of it. */
export interface DrawReferenceMessage {
  kind: "draw";
  slot: string;
  turn: number;
  reference: { placing: Placing | null; neutral: Neutral | null };
  /** Of the view, from where both middles meet. */
  middle: { x: number; y: number };
  view: View;
  rows: [from: number, before: number];
}

/** Asks for something of a material in place of its picture. */
export interface AskMessage {
  kind: "ask";
  id: number;
  slot: string;
  finish: Finish;
  heightMm: number;
  wear: DrawMessage["wear"];
  /** The part that it is about. */
  view: View;
  /** For the tint that brings its mean to a target; else its roughness is wanted. */
  match?: { condition: Condition; target: Rgb };
}

export interface AnswerMessage {
  kind: "answer";
  id: number;
  answer: ColorMatch | { mean: number; spread: number } | null;
}

/** An environment of the library, by the hash of its file. */
export interface PanoramaMessage {
  kind: "panorama";
  environment: string;
  panorama: Panorama;
}

/** One of several pictures that are drawn beside each other, or a band of it. */
export interface DrawMessage {
  kind: "draw";
  slot: string;
  turn: number;
  finish: Finish;
  heightMm: number;
  /** Layers that change anything, the first at the bottom; a mask by its key. */
  wear: (Omit<Laid, "texture"> & { mask: string; wraps: boolean })[];
  view: View;
  condition: Condition;
  rows: [from: number, before: number];
}

export interface BandMessage {
  kind: "band";
  slot: string;
  turn: number;
  width: number;
  /** Rows of the view. */
  rows: [from: number, before: number];
  /** Four channels. */
  data: Uint8ClampedArray<ArrayBuffer>;
}

/** So many rows are drawn before it is looked whether somebody has turned something meanwhile. */
const ROWS = 12;

const materials = new Map<string, MaterialMessage>();
const references = new Map<string, ReferenceMessage>();
const panoramas = new Map<string, Panorama>();
const textures = new Map<string, [Role, Texture]>();
const wanted = new Map<string, DrawMessage | DrawReferenceMessage>();
let isDrawing = false;

/** A map as it is read between its pixels; made once for each reduction. */
function textureFor(of: string, map: SentMap, reduce: number, wraps: boolean): [Role, Texture] {
  const key = `${of} ${map.role} ${map.key} ${reduce}`;
  const made =
    textures.get(key) ??
    roleTexture(
      {
        role: map.role,
        channel: "color",
        normalDirection: map.normalDirection,
        raster: {
          width: map.width,
          height: map.height,
          channels: 4,
          bitDepth: 8,
          data: new Uint8Array(map.data.buffer, map.data.byteOffset, map.data.byteLength),
        },
      },
      { reduce, wraps },
    );
  textures.set(key, made);
  return made;
}

const texturesFor = (material: MaterialMessage, mmPerPx: number): Textures =>
  Object.fromEntries(
    material.maps.map((map) =>
      textureFor(material.slot, map, 2 ** detailLevel(map, material.repeat, mmPerPx), material.wraps),
    ),
  );

/** What a mask cannot be read for is not laid on: the screen says so. */
const wearFor = (material: MaterialMessage, { wear, view }: Pick<DrawMessage, "wear" | "view">): Laid[] =>
  wear.flatMap(({ layer, size, mask, wraps }) => {
    const sent = material.masks.find(({ key }) => key === mask);
    if (!sent) return [];
    const [, texture] = textureFor(material.slot, sent, 2 ** detailLevel(sent, size, view.mmPerPx), wraps);
    return [{ layer, size, texture }];
  });

/** Lets messages in. */
const breath = () => new Promise((resolve) => setTimeout(resolve, 0));

/** Draws rows of what is wanted, as three or four channels; nothing where what it is drawn from has not come. */
function drawerOf(
  next: DrawMessage | DrawReferenceMessage,
): ((rows: [number, number]) => Pixels) | undefined {
  if ("reference" in next) {
    const sent = references.get(next.slot);
    return sent && ((rows) => referencePixels(placed(sent, next), next, rows));
  }
  const material = materials.get(next.slot);
  if (!material) return undefined;
  const { view, condition } = next;
  const panorama = panoramas.get(condition.environment);
  if (!panorama && !isOwnEnvironment(condition.environment)) return undefined;
  const drawn = drawnMaterial(material, next);
  return (rows) => opaque(makePicture(drawn, view, condition, rows, panorama).data);
}

type Pixels = Uint8ClampedArray<ArrayBuffer>;

const drawnMaterial = (
  material: MaterialMessage,
  asked: Pick<DrawMessage, "finish" | "heightMm" | "wear" | "view">,
): DrawnMaterial => ({
  textures: texturesFor(material, asked.view.mmPerPx),
  finish: asked.finish,
  repeat: material.repeat,
  heightMm: asked.heightMm,
  wear: wearFor(material, asked),
});

function opaque(data: Uint8Array | Uint16Array): Pixels {
  const pixels = new Uint8ClampedArray((data.length / 3) * 4);
  for (let i = 0, o = 0; i < data.length; i += 3, o += 4) {
    pixels[o] = data[i];
    pixels[o + 1] = data[i + 1];
    pixels[o + 2] = data[i + 2];
    pixels[o + 3] = 255;
  }
  return pixels;
}

function placed(
  { map, width, height }: ReferenceMessage,
  { reference, view }: DrawReferenceMessage,
): PlacedReference {
  // Of the preview, which is smaller than the picture.
  const shrunk = width / map.width;
  const reduce = Math.max(
    1,
    referenceReduction({ width, height, placing: reference.placing }, view) / shrunk,
  );
  const [, texture] = textureFor(`${map.key} reference`, { ...map, role: "base_color" }, reduce, false);
  return { texture, width, height, ...reference };
}

/** Beyond the picture there is nothing. */
function referencePixels(
  reference: PlacedReference,
  { view, middle }: DrawReferenceMessage,
  [from, before]: [number, number],
): Pixels {
  const read = referenceReader(reference, view, middle);
  const encode = srgbEncoder(8);
  const pixels = new Uint8ClampedArray(view.width * (before - from) * 4);
  for (let y = from, o = 0; y < before; y++)
    for (let x = 0; x < view.width; x++, o += 4) {
      const color = read(x + 0.5, y + 0.5);
      if (!color) continue;
      for (const c of [0, 1, 2] as const) pixels[o + c] = encode(color[c]);
      pixels[o + 3] = 255;
    }
  return pixels;
}

async function draw(): Promise<void> {
  isDrawing = true;
  for (let next = wanted.values().next().value; next; next = wanted.values().next().value) {
    const { slot, turn, view, rows } = next;
    const drawer = drawerOf(next);
    if (!drawer) {
      wanted.delete(slot);
      continue;
    }
    for (let from = rows[0]; from < rows[1]; from += ROWS) {
      const band: [number, number] = [from, Math.min(rows[1], from + ROWS)];
      const pixels = drawer(band);
      const message: BandMessage = { kind: "band", slot, turn, width: view.width, rows: band, data: pixels };
      postMessage(message, { transfer: [pixels.buffer] });
      await breath();
      if (wanted.get(slot) !== next) break;
    }
    if (wanted.get(slot) === next) wanted.delete(slot);
  }
  isDrawing = false;
}

function answerTo({ id, slot, match, ...asked }: AskMessage): AnswerMessage {
  const material = materials.get(slot);
  if (!material) return { kind: "answer", id, answer: null };
  const drawn = drawnMaterial(material, asked);
  const answer = match
    ? matchColor(drawn, asked.view, match.condition, match.target, panoramas.get(match.condition.environment))
    : roughnessOf(drawn, asked.view);
  return { kind: "answer", id, answer };
}

export type Message =
  | MaterialMessage
  | ReferenceMessage
  | PanoramaMessage
  | DrawMessage
  | DrawReferenceMessage
  | AskMessage
  | TablesMessage
  | LightMessage;

function lightAnswer({ environment }: LightMessage): LightAnswer | undefined {
  const panorama = panoramas.get(environment);
  if (!panorama && !isOwnEnvironment(environment)) return undefined;
  return { kind: "light", environment, light: lightTablesOf(environment, panorama) };
}

addEventListener("message", ({ data }: MessageEvent<Message>) => {
  switch (data.kind) {
    case "material":
      materials.set(data.slot, data);
      for (const key of textures.keys()) if (key.startsWith(`${data.slot} `)) textures.delete(key);
      break;
    case "reference":
      references.set(data.slot, data);
      break;
    case "draw":
      // Behind what others wait for already.
      wanted.delete(data.slot);
      wanted.set(data.slot, data);
      break;
    case "panorama":
      panoramas.set(data.environment, data.panorama);
      break;
    case "ask":
      postMessage(answerTo(data));
      break;
    case "tables":
      postMessage({ kind: "tables", tables: data.tables.map(tableRows) } satisfies TablesAnswer);
      break;
    case "light": {
      const answer = lightAnswer(data);
      if (answer) postMessage(answer);
    }
  }
  if (!isDrawing) void draw();
});
