import type { Finish } from "#core/finish/finish";
import type { Laid } from "#core/finish/marks";
import type { Condition } from "#core/picture/condition";
import { makePicture } from "#core/picture/picture";
import { roleTexture } from "#core/picture/roleTexture";
import type { Textures } from "#core/picture/surfaceReader";
import type { View } from "#core/picture/view";
import type { Texture } from "#core/raster/texture";
import type { NormalDirection, Role } from "#core/roles/roles";

/** A map as the browser has decoded it. */
export interface SentMap {
  /** Which file and channel it is. */
  key: string;
  role: Role;
  normalDirection: NormalDirection | null;
  width: number;
  height: number;
  /** Four channels. */
  data: Uint8ClampedArray;
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
const textures = new Map<string, [Role, Texture]>();
const wanted = new Map<string, DrawMessage>();
let isDrawing = false;

/** No finer than it is drawn, in steps: a slightly other scale needs no other one. */
function textureFor(
  { slot }: MaterialMessage,
  map: SentMap,
  size: { width: number; height: number },
  mmPerPx: number,
  wraps: boolean,
): [Role, Texture] {
  const pixelMm = Math.min(size.width / map.width, size.height / map.height);
  const reduce = 2 ** Math.max(0, Math.floor(2 * Math.log2(mmPerPx / pixelMm)) / 2);
  const key = `${slot} ${map.role} ${map.key} ${reduce}`;
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
    material.maps.map((map) => textureFor(material, map, material.repeat, mmPerPx, material.wraps)),
  );

/** What a mask cannot be read for is not laid on: the screen says so. */
const wearFor = (material: MaterialMessage, { wear, view }: DrawMessage): Laid[] =>
  wear.flatMap(({ layer, size, mask, wraps }) => {
    const sent = material.masks.find(({ key }) => key === mask);
    if (!sent) return [];
    const [, texture] = textureFor(material, sent, size, view.mmPerPx, wraps);
    return [{ layer, size, texture }];
  });

/** Lets messages in. */
const breath = () => new Promise((resolve) => setTimeout(resolve, 0));

async function draw(): Promise<void> {
  isDrawing = true;
  for (let next = wanted.values().next().value; next; next = wanted.values().next().value) {
    const { slot, turn, finish, heightMm, view, condition, rows } = next;
    const material = materials.get(slot);
    if (!material) {
      wanted.delete(slot);
      continue;
    }
    const drawn = {
      textures: texturesFor(material, view.mmPerPx),
      finish,
      repeat: material.repeat,
      heightMm,
      wear: wearFor(material, next),
    };
    for (let from = rows[0]; from < rows[1]; from += ROWS) {
      const band: [number, number] = [from, Math.min(rows[1], from + ROWS)];
      const { data } = makePicture(drawn, view, condition, band);
      const pixels = new Uint8ClampedArray((data.length / 3) * 4);
      for (let i = 0, o = 0; i < data.length; i += 3, o += 4) {
        pixels[o] = data[i];
        pixels[o + 1] = data[i + 1];
        pixels[o + 2] = data[i + 2];
        pixels[o + 3] = 255;
      }
      const message: BandMessage = { slot, turn, width: view.width, rows: band, data: pixels };
      postMessage(message, { transfer: [pixels.buffer] });
      await breath();
      if (wanted.get(slot) !== next) break;
    }
    if (wanted.get(slot) === next) wanted.delete(slot);
  }
  isDrawing = false;
}

addEventListener("message", ({ data }: MessageEvent<MaterialMessage | DrawMessage>) => {
  if (data.kind === "material") {
    materials.set(data.slot, data);
    for (const key of textures.keys()) if (key.startsWith(`${data.slot} `)) textures.delete(key);
  } else {
    // Behind what others wait for already.
    wanted.delete(data.slot);
    wanted.set(data.slot, data);
  }
  if (!isDrawing) void draw();
});
