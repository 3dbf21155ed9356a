import { evenOut } from "#core/mend/evenOut";
import { mendSeams } from "#core/mend/mendSeams";
import { cropTo, findModuleCrop, type ModuleCrop } from "#core/mend/cropToModules";
import { rolled } from "#core/mend/roll";
import { turned, turnedSize } from "#core/mend/turn";
import type { NormalDirection } from "#core/roles/roles";
import type { Repeat } from "#core/length/repeat";
import type { MakingRecipe, MendRecipe } from "#core/mend/recipe";
import type { Raster } from "#core/raster/raster";
import { decode } from "#server/pixels/decode";
import { encode } from "#server/pixels/encode";

export interface MendTask {
  recipe: Exclude<MendRecipe, MakingRecipe>;
  files: {
    path: string;
    format: string;
    values: "srgb" | "data" | "normal";
    normalDirection?: NormalDirection;
  }[];
  /** Real size of the image, or its pixels where that is not known: what turns are at right angles depends on it. */
  repeat: Repeat;
}

export interface MendResult {
  /** PNG files, in the order of the task's, at their own bit depth. */
  files: Uint8Array[];
  overlap: { across: number; down: number };
  /** How much of the image's width and height is left. */
  scale: { width: number; height: number };
  /** Whole modules that a crop leaves, with their pitch in pixels. */
  modules?: Pick<ModuleCrop, "across" | "down">;
}

async function cutToOneCopy(
  maps: { raster: Raster }[],
  { across, down }: { across: number; down: number },
): Promise<MendResult> {
  const files = await Promise.all(
    maps.map(({ raster }) => {
      const [width, height] = [Math.round(raster.width / across), Math.round(raster.height / down)];
      return encode(cropTo(raster, { left: 0, top: 0, width, height }), "png");
    }),
  );
  return { files, overlap: { across: 0, down: 0 }, scale: { width: 1 / across, height: 1 / down } };
}

/** Mends the maps of one material. @throws with a sentence where they do not fit. */
export async function mend({ recipe, files, repeat }: MendTask): Promise<MendResult> {
  const maps = [];
  for (const { path, format, values, normalDirection = "+Y" } of files)
    maps.push({
      raster: await decode(path, format, values === "srgb" ? "color" : "data"),
      values,
      samples: values === "normal" ? normalDirection : values,
    });
  if (recipe.kind === "start")
    return {
      files: await Promise.all(
        maps.map(({ raster }) => encode(rolled(raster, recipe.right, recipe.down), "png")),
      ),
      overlap: { across: 0, down: 0 },
      scale: { width: 1, height: 1 },
    };
  if (recipe.kind === "turn") {
    const after = turnedSize(recipe, repeat).repeat;
    return {
      files: await Promise.all(
        maps.map(({ raster, samples }) => encode(turned(raster, recipe, repeat, samples), "png")),
      ),
      overlap: { across: 0, down: 0 },
      scale: { width: after.width / repeat.width, height: after.height / repeat.height },
    };
  }
  if (recipe.kind === "one-copy") return cutToOneCopy(maps, recipe);
  if (recipe.kind === "even-out")
    return {
      files: await Promise.all(
        maps.map(({ raster }) => encode(evenOut(raster, recipe.size, recipe.strength), "png")),
      ),
      overlap: { across: 0, down: 0 },
      scale: { width: 1, height: 1 },
    };
  const [{ raster: first }] = maps;
  if (recipe.kind === "crop") {
    const crop = findModuleCrop(
      maps.map(({ raster }) => raster),
      recipe,
    );
    return {
      files: await Promise.all(maps.map(({ raster }) => encode(cropTo(raster, crop), "png"))),
      overlap: { across: first.width - crop.width, down: first.height - crop.height },
      scale: { width: crop.width / first.width, height: crop.height / first.height },
      modules: { across: crop.across, down: crop.down },
    };
  }
  const mended = mendSeams(maps, recipe);
  return {
    files: await Promise.all(mended.maps.map((raster) => encode(raster, "png"))),
    overlap: mended.overlap,
    scale: { width: mended.maps[0].width / first.width, height: mended.maps[0].height / first.height },
  };
}
