import { carryOut } from "#core/convert/carryOut";
import type { MaterialPlan } from "#core/convert/materialPlan";
import { finishSchema, heightAmplitude, type Finish } from "#core/finish/finish";
import type { MaterialState } from "#core/finish/material";
import { brick } from "#core/pattern/brick";
import { renderPattern, type PatternSet } from "#core/pattern/patternSet";
import { detailLevel } from "#core/picture/detail";
import { roleTexture } from "#core/picture/roleTexture";
import type { DrawnMaterial, Textures } from "#core/picture/surfaceReader";
import type { Place } from "#core/proof/readPackage";
import { SCENES, sceneView } from "#core/proof/scenes";
import type { Raster } from "#core/raster/raster";
import type { Role } from "#core/roles/roles";

/** Pixels each way of all images of these tests, and the size that they are said to have. */
export const SIDE = 128;
export const REPEAT = { width: 900, height: 600 };

export type Maps = Partial<Record<Role, Raster>>;

export function bricks(seed: number, colors: string[]): PatternSet {
  const { surface, repeat } = brick({
    seed,
    brick: { width: 215, height: 65 },
    joint: 10,
    across: 4,
    courses: 8,
    colors,
    mortar: "#b8b0a4",
    recess: 6,
    roughness: 0.4,
  });
  return renderPattern(surface, { repeat, widthPx: SIDE, heightPx: SIDE });
}

export const materialOf = (maps: Maps, finish: Partial<Finish>): MaterialState => ({
  id: "1",
  code: "A-1",
  name: "Bricks",
  fileName: "bricks",
  revision: 1,
  layout: "repeating",
  repeat: REPEAT,
  sizeState: "known",
  finish: finishSchema.parse({ heightAmplitudeMm: 8, ...finish }),
  maps: (Object.entries(maps) as [Role, Raster][]).map(([role, { width, height, bitDepth, channels }]) => ({
    role,
    sha256: role,
    channel: "color",
    fileName: `${role}.png`,
    normalDirection: role === "geometry_normal" ? "+Y" : null,
    width,
    height,
    bitDepth,
    channels,
  })),
});

export const place: Place = {
  reduce: (raster, size) => 2 ** detailLevel(raster, size, sceneView(SCENES[0], REPEAT).mmPerPx),
  wraps: true,
};

/** As the material itself is drawn. */
export function truthOf(maps: Maps, { finish, repeat }: MaterialState): DrawnMaterial {
  const textures: Textures = {};
  for (const [role, raster] of Object.entries(maps) as [Role, Raster][]) {
    const map = { role, channel: "color" as const, normalDirection: "+Y" as const, raster };
    const [as, texture] = roleTexture(map, { reduce: place.reduce(raster, REPEAT), wraps: true });
    textures[as] = texture;
  }
  return { textures, finish, repeat: repeat!, heightMm: heightAmplitude(finish, repeat).mm };
}

/** The images that a plan makes, by what they are known by. */
export async function imagesOf(
  maps: Maps,
  { files }: MaterialPlan,
  nameOf: (file: MaterialPlan["files"][number]) => string,
): Promise<Map<string, Raster>> {
  const images = new Map<string, Raster>();
  for (const file of files) {
    const read = async ({ role }: { role: Role }) => ({ ...maps[role]!, data: maps[role]!.data.slice() });
    images.set(nameOf(file), await carryOut(file.image, read, { wrap: true }));
  }
  return images;
}
