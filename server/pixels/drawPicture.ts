import type { Finish } from "#core/finish/finish";
import type { Laid } from "#core/finish/marks";
import type { Condition } from "#core/picture/condition";
import { measureMaterial, measureReference, type Measured } from "#core/picture/measure";
import { makePicture } from "#core/picture/picture";
import { roleTexture, type DecodedMap } from "#core/picture/roleTexture";
import { referenceReduction, type Neutral, type Placing } from "#core/picture/reference";
import type { DrawnMaterial, Textures } from "#core/picture/surfaceReader";
import type { View } from "#core/picture/view";
import { isColorRole } from "#core/roles/roles";
import type { MapChannel } from "#core/roles/channel";
import { textureOf } from "#core/raster/texture";
import { decode } from "#server/pixels/decode";
import { encode } from "#server/pixels/encode";

export interface DrawTask {
  maps: (Omit<DecodedMap, "raster"> & { path: string; format: string })[];
  /** What lies over it, the first at the bottom. */
  wear: (Omit<Laid, "texture"> & { channel: MapChannel; wraps: boolean; path: string; format: string })[];
  finish: Finish;
  /** Millimetres; where they are unknown, a guess that the caller stands for. */
  repeat: { width: number; height: number };
  heightMm: number;
  wraps: boolean;
  view: View;
  condition: Condition;
}

/** Draws a material from its maps. @returns a PNG */
export async function drawPicture(task: DrawTask): Promise<Uint8Array> {
  return encode(makePicture(await drawnMaterial(task), task.view, task.condition), "png");
}

/** What such a picture is on the whole. */
export async function measurePicture(task: DrawTask): Promise<Measured> {
  return measureMaterial(await drawnMaterial(task), task.view, task.condition);
}

export interface ReferenceTask {
  path: string;
  format: string;
  placing: Placing | null;
  neutral: Neutral | null;
  view: View;
}

/** What a reference picture is on the whole, in its middle. */
export async function measureReferencePicture(task: ReferenceTask): Promise<Measured | null> {
  const raster = await decode(task.path, task.format, "color");
  const { width, height } = raster;
  const { placing, neutral, view } = task;
  const reduce = referenceReduction({ width, height, placing }, view);
  const texture = textureOf(raster, { holds: "color", reduce, wraps: false });
  return measureReference({ texture, width, height, placing, neutral }, view, { x: 0, y: 0 }) ?? null;
}

async function drawnMaterial(task: DrawTask): Promise<DrawnMaterial> {
  const textures: Textures = {};
  for (const { path, format, ...map } of task.maps) {
    const isColor = isColorRole(map.role) && map.channel === "color";
    const raster = await decode(path, format, isColor ? "color" : "data");
    // No finer than it is drawn: then it does not flicker, and only one map at a time is held whole.
    const pixelMm = Math.min(task.repeat.width / raster.width, task.repeat.height / raster.height);
    const reduce = Math.max(1, task.view.mmPerPx / pixelMm);
    const [role, texture] = roleTexture({ ...map, raster }, { reduce, wraps: task.wraps });
    textures[role] = texture;
  }
  const wear: Laid[] = [];
  for (const { path, format, channel, wraps, ...laid } of task.wear) {
    const raster = await decode(path, format, "data");
    const pixelMm = Math.min(laid.size.width / raster.width, laid.size.height / raster.height);
    const reduce = Math.max(1, task.view.mmPerPx / pixelMm);
    const [, texture] = roleTexture(
      { role: "wear_mask", channel, normalDirection: null, raster },
      { reduce, wraps },
    );
    wear.push({ ...laid, texture });
  }
  const { finish, repeat, heightMm } = task;
  return { textures, finish, repeat, heightMm, wear };
}
