import type { Finish } from "#core/finish/finish";
import type { Laid } from "#core/finish/marks";
import type { Condition } from "#core/picture/condition";
import { detailLevel } from "#core/picture/detail";
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
import { readPanorama, type PanoramaFile } from "#server/pixels/readPanorama";

/** A material by where its originals lie. */
export interface MaterialTask {
  maps: (Omit<DecodedMap, "raster"> & { path: string; format: string })[];
  /** What lies over it, the first at the bottom. */
  wear: (Omit<Laid, "texture"> & { channel: MapChannel; wraps: boolean; path: string; format: string })[];
  finish: Finish;
  /** Millimetres; where they are unknown, a guess that the caller stands for. */
  repeat: { width: number; height: number };
  heightMm: number;
  wraps: boolean;
}

export interface DrawTask extends MaterialTask {
  view: View;
  condition: Condition;
  /** Of the condition's environment, where that does not ship. */
  panorama?: PanoramaFile;
}

/** Draws a material from its maps. @returns a PNG */
export async function drawPicture(task: DrawTask): Promise<Uint8Array> {
  const { view, condition } = task;
  const panorama = await panoramaIn(task);
  return encode(
    makePicture(await drawnMaterial(task, view.mmPerPx), view, condition, undefined, panorama),
    "png",
  );
}

/** What such a picture is on the whole. */
export async function measurePicture(task: DrawTask): Promise<Measured> {
  return measureMaterial(
    await drawnMaterial(task, task.view.mmPerPx),
    task.view,
    task.condition,
    await panoramaIn(task),
  );
}

const panoramaIn = async ({ panorama }: DrawTask) => panorama && readPanorama(panorama);

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

/** Decodes what is drawn, one map at a time, no finer than a picture shows it. */
export async function drawnMaterial(task: MaterialTask, mmPerPx: number): Promise<DrawnMaterial> {
  const textures: Textures = {};
  for (const { path, format, ...map } of task.maps) {
    const isColor = isColorRole(map.role) && map.channel === "color";
    const raster = await decode(path, format, isColor ? "color" : "data");
    // Only one map at a time is held whole.
    const reduce = 2 ** detailLevel(raster, task.repeat, mmPerPx);
    const [role, texture] = roleTexture({ ...map, raster }, { reduce, wraps: task.wraps });
    textures[role] = texture;
  }
  const wear: Laid[] = [];
  for (const { path, format, channel, wraps, ...laid } of task.wear) {
    const raster = await decode(path, format, "data");
    const reduce = 2 ** detailLevel(raster, laid.size, mmPerPx);
    const [, texture] = roleTexture(
      { role: "wear_mask", channel, normalDirection: null, raster },
      { reduce, wraps },
    );
    wear.push({ ...laid, texture });
  }
  const { finish, repeat, heightMm } = task;
  return { textures, finish, repeat, heightMm, wear };
}
