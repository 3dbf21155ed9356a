import { homographyOf, project } from "#core/photo/homography";
import { createRaster, type Raster } from "#core/raster/raster";

/** Numbers that look drawn at random, the same ones for a seed (Steele and others 2014, as `mulberry32`). */
export function randomOf(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/**
 * A picture of a drawn card as an artist hands it in: from a little aside, on a ground, with noise.
 * @param aslant how far each corner may lie elsewhere, as a share of the picture
 */
export function photographed(drawn: Raster, random: () => number, aslant: number, noise: number): Raster {
  const [width, height] = [Math.round(drawn.width * 1.35), Math.round(drawn.height * 1.2)];
  const out = createRaster(width, height, 3, 8);
  const jitter = () => (random() - 0.5) * 2 * aslant * drawn.width;
  const [left, top] = [(width - drawn.width) / 2, (height - drawn.height) / 2];
  const corners = [
    { x: left + jitter(), y: top + jitter() },
    { x: left + drawn.width + jitter(), y: top + jitter() },
    { x: left + drawn.width + jitter(), y: top + drawn.height + jitter() },
    { x: left + jitter(), y: top + drawn.height + jitter() },
  ];
  const toDrawn = homographyOf(corners, [
    { x: 0, y: 0 },
    { x: drawn.width, y: 0 },
    { x: drawn.width, y: drawn.height },
    { x: 0, y: drawn.height },
  ]);
  const ground = 60 + random() * 120;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = project(toDrawn, { x: x + 0.5, y: y + 0.5 });
      const isOn = at.x >= 0 && at.y >= 0 && at.x < drawn.width && at.y < drawn.height;
      for (let c = 0; c < 3; c++) {
        const value = isOn ? between(drawn, at.x - 0.5, at.y - 0.5, c) : ground;
        const grain = (random() + random() + random() - 1.5) * 2 * noise;
        out.data[(y * width + x) * 3 + c] = Math.min(255, Math.max(0, Math.round(value + grain)));
      }
    }
  return out;
}

function between({ width, height, data }: Raster, x: number, y: number, c: number): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - x0, y - y0];
  const code = (px: number, py: number) =>
    data[(Math.min(height - 1, Math.max(0, py)) * width + Math.min(width - 1, Math.max(0, px))) * 3 + c];
  return (
    code(x0, y0) * (1 - fx) * (1 - fy) +
    code(x0 + 1, y0) * fx * (1 - fy) +
    code(x0, y0 + 1) * (1 - fx) * fy +
    code(x0 + 1, y0 + 1) * fx * fy
  );
}
