import { project, type Homography } from "#core/photo/homography";
import { createRaster, type Raster } from "#core/raster/raster";

/** Side of the card in pixels. */
const FLAT_PX = 720;

/** A card as it would look from straight ahead. @param picture 8 bits */
export function flatCard(picture: Raster, toPicture: Homography): Raster {
  const out = createRaster(FLAT_PX, FLAT_PX, 3, 8);
  const { width, height, channels, data } = picture;
  const code = (x: number, y: number, c: number) =>
    data[
      (Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))) * channels +
        (channels < 3 ? 0 : c)
    ];
  for (let y = 0, at = 0; y < FLAT_PX; y++)
    for (let x = 0; x < FLAT_PX; x++, at += 3) {
      const place = project(toPicture, { x: (x + 0.5) / FLAT_PX, y: (y + 0.5) / FLAT_PX });
      const [left, top] = [Math.floor(place.x - 0.5), Math.floor(place.y - 0.5)];
      const [fx, fy] = [place.x - 0.5 - left, place.y - 0.5 - top];
      for (let c = 0; c < 3; c++)
        out.data[at + c] = Math.round(
          code(left, top, c) * (1 - fx) * (1 - fy) +
            code(left + 1, top, c) * fx * (1 - fy) +
            code(left, top + 1, c) * (1 - fx) * fy +
            code(left + 1, top + 1, c) * fx * fy,
        );
    }
  return out;
}
