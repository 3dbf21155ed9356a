import type { Finish } from "#core/finish/finish";
import { meanOfSpot, ownColor } from "#core/picture/pickedColor";
import { neutralGains, type Neutral } from "#core/picture/reference";
import { textureOf } from "#core/raster/texture";
import { times, type Rgb } from "#core/shade/rgb";
import { decode } from "#server/pixels/decode";

/** Of the picture that a grey spot is read from. */
const GREY_SIDE = 2048;

/** A spot of a base color map under a finish, or of a reference picture as it is made neutral. */
export interface PickTask {
  path: string;
  format: string;
  /** 0..1 from the left and from the top; the radius against the smaller side. */
  spot: { x: number; y: number; radius: number };
  of: { finish: Finish } | { neutral: Neutral | null };
}

/** The mean of the spot in linear light. */
export async function pickColor({ path, format, spot, of }: PickTask): Promise<Rgb> {
  const raster = await decode(path, format, "color");
  const radiusPx = Math.max(1, Math.round(spot.radius * Math.min(raster.width, raster.height)));
  const place = { x: spot.x, y: spot.y, radiusPx };
  if ("finish" in of) return ownColor(of.finish, raster, place)!;
  const shown = meanOfSpot(raster, place);
  if (!of.neutral) return shown;
  // The grey spot is read from a smaller one: as numbers, all of a large picture would need several times its room.
  const reduce = Math.max(1, Math.max(raster.width, raster.height) / GREY_SIDE);
  const texture = textureOf(raster, { holds: "color", reduce, wraps: false });
  return times(shown, neutralGains({ texture, neutral: of.neutral }));
}
