import { inverted, project } from "#core/photo/homography";
import { unbowed } from "#core/photo/lens";
import { flattening, type Region } from "#core/photo/region";
import { seededRandom } from "#core/pattern/random";
import { createRaster, type Raster } from "#core/raster/raster";

const SIZE = { width: 1800, height: 1300 };
/** A part of the wall as the made-up camera sees it, from the left and with the bow of a wide lens. */
const WALL: Region = {
  corners: [
    { x: 260, y: 180 },
    { x: 1600, y: 330 },
    { x: 1540, y: 1080 },
    { x: 220, y: 1190 },
  ],
  width: 3600,
  height: 2400,
  bow: -0.07,
};
const SKY = [176, 190, 200];
const GROUND = [120, 116, 108];
const POST = [46, 50, 46];

/** A photograph that nobody took: a brick gable seen at an angle, with a post before it. */
export function drawPhotograph(brick: Raster, repeat: { width: number; height: number }): Raster {
  const random = seededRandom(31);
  const out = createRaster(SIZE.width, SIZE.height, 3, 8);
  const toReal = inverted(flattening(WALL, SIZE).homography);
  const color = ({ x, y }: { x: number; y: number }): ArrayLike<number> => {
    if (x > 1500 && x < 1610 && y > 250) return POST;
    if (y < -400) return SKY;
    if (y > 2700) return GROUND;
    const along = (mm: number, size: number, pixels: number) =>
      Math.floor((((mm / size) % 1) + 1) * pixels) % pixels;
    const at = along(y, repeat.height, brick.height) * brick.width + along(x, repeat.width, brick.width);
    return brick.data.subarray(3 * at, 3 * at + 3);
  };
  for (let y = 0; y < SIZE.height; y++)
    for (let x = 0; x < SIZE.width; x++) {
      const sum = [0, 0, 0];
      for (let ray = 0; ray < 4; ray++) {
        const seen = { x: x + 0.25 + 0.5 * (ray % 2), y: y + 0.25 + 0.5 * (ray >> 1) };
        const light = color(project(toReal, unbowed(seen, SIZE, WALL.bow!)));
        for (let c = 0; c < 3; c++) sum[c] += light[c] / 4;
      }
      for (let c = 0; c < 3; c++)
        out.data[3 * (y * SIZE.width + x) + c] = Math.max(0, Math.min(255, sum[c] + 8 * (random() - 0.5)));
    }
  return out;
}
