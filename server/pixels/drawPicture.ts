import type { Finish } from "#core/finish/finish";
import type { Condition } from "#core/picture/condition";
import { makePicture } from "#core/picture/picture";
import { roleTexture, type DecodedMap } from "#core/picture/roleTexture";
import type { Textures } from "#core/picture/surfaceReader";
import type { View } from "#core/picture/view";
import { isColorRole } from "#core/roles/roles";
import { decode } from "#server/pixels/decode";
import { encode } from "#server/pixels/encode";

export interface DrawTask {
  maps: (Omit<DecodedMap, "raster"> & { path: string; format: string })[];
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
  const { finish, repeat, heightMm, view, condition } = task;
  return encode(makePicture({ textures, finish, repeat, heightMm }, view, condition), "png");
}
