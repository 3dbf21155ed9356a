import type { Repeat } from "#core/length/repeat";
import type { NormalDirection } from "#core/roles/roles";
import { channelIndex, type MapChannel } from "#core/roles/channel";
import type { MakingRecipe } from "#core/mend/recipe";
import { lumaOf, planeOf, type Plane } from "#core/raster/plane";
import type { Raster } from "#core/raster/raster";
import { heightFromColor, roughnessFromColor } from "#core/relief/estimateFromColor";
import { heightFromNormal } from "#core/relief/heightFromNormal";
import { normalFromHeight } from "#core/relief/normalFromHeight";
import { occlusionFromHeight } from "#core/relief/occlusionFromHeight";
import { decode } from "#server/pixels/decode";
import { encode } from "#server/pixels/encode";

export interface MakeTask {
  recipe: MakingRecipe;
  source: { path: string; format: string; channel: MapChannel; normalDirection: NormalDirection };
  /** Real size; where it is unknown, a guess that the caller stands for. */
  repeat: Repeat;
  /** Of the source, where it is a height. */
  amplitudeMm: number;
}

export interface MadeMap {
  /** A PNG. */
  file: Uint8Array;
  /** What a height that was made says of itself. */
  height?: { amplitudeMm: number; middle: number };
}

/** Makes one map from another. */
export async function makeMap({ recipe, source, repeat, amplitudeMm }: MakeTask): Promise<MadeMap> {
  const fromColor = recipe.kind.endsWith("-from-color");
  const raster = await decode(source.path, source.format, fromColor ? "color" : "data");
  switch (recipe.kind) {
    case "height-from-normal": {
      const { raster: height, amplitude, middle } = heightFromNormal(raster, source.normalDirection, repeat);
      return { file: await encode(height, "png"), height: { amplitudeMm: amplitude, middle } };
    }
    case "normal-from-height":
      return png(normalFromHeight(inMm(raster, source.channel, amplitudeMm), repeat));
    case "occlusion-from-height":
      return png(occlusionFromHeight(inMm(raster, source.channel, amplitudeMm), repeat, recipe.reachMm));
    case "height-from-color":
      return {
        ...(await png(heightFromColor(raster, recipe))),
        height: { amplitudeMm: recipe.depthMm, middle: 0.5 },
      };
    case "roughness-from-color":
      return png(roughnessFromColor(raster, recipe));
  }
}

const png = async (raster: Raster): Promise<MadeMap> => ({ file: await encode(raster, "png") });

function inMm(raster: Raster, channel: MapChannel, amplitudeMm: number): Plane {
  const plane =
    channel === "color" ? lumaOf(raster) : planeOf(raster, channelIndex(channel, raster.channels));
  return { ...plane, data: plane.data.map((v) => v * amplitudeMm) };
}
