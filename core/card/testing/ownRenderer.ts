import { CARD_MM, CARD_PX } from "#core/card/layout";
import type { Held } from "#core/card/testing/hold";
import { finishSchema } from "#core/finish/finish";
import type { Condition } from "#core/picture/condition";
import { makePicture } from "#core/picture/picture";
import type { Texture } from "#core/raster/texture";
import type { Raster } from "#core/raster/raster";

/** Draws a held card by the shading model of the application. @param side of the picture in pixels */
export function drawByModel(held: Held, side: number, condition: Condition): Raster {
  const texture = (data: Float32Array, channels: 1 | 3): Texture => ({
    width: CARD_PX,
    height: CARD_PX,
    channels,
    data,
    wraps: false,
  });
  return makePicture(
    {
      textures: {
        base_color: texture(held.color, 3),
        geometry_normal: texture(
          held.normal.map((value) => (value + 1) / 2),
          3,
        ),
        specular_roughness: texture(held.roughness, 1),
        base_metalness: texture(held.metal, 1),
        ambient_occlusion: texture(held.occlusion, 1),
        geometry_opacity: texture(held.opacity, 1),
      },
      finish: finishSchema.parse({}),
      repeat: { width: CARD_MM, height: CARD_MM },
      heightMm: 0,
    },
    {
      shape: "panel",
      width: side,
      height: side,
      mmPerPx: CARD_MM / side,
      centre: { x: CARD_MM / 2, y: CARD_MM / 2 },
      cards: false,
    },
    condition,
  );
}
