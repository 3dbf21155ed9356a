import type { Condition } from "#core/picture/condition";
import { HEIGHT, lightGridsOf, WIDTH, type Panorama } from "#core/picture/environment";
import { dielectricRows, mirrorRows } from "#core/shade/albedo";
import { fuzzRows } from "#core/shade/fuzz";
import type { Vector } from "#core/shade/vector";

/** A table's place in the texture of all of them: 24 rows of 25 numbers each. */
export const TABLE_ROWS = 24;
export const TABLE_COLUMNS = 25;
/** Dielectrics are the first 33. */
export const MIRROR_TABLE = 33;
export const FUZZ_TABLE = 34;
export const TABLES = 35;

/** One table, and where it belongs. */
export interface TableRows {
  at: number;
  rows: Float32Array;
}

/** Each takes about a tenth of a second where it was not needed before. */
export const tableRows = (at: number): TableRows => ({
  at,
  rows: at === MIRROR_TABLE ? mirrorRows() : at === FUZZ_TABLE ? fuzzRows() : dielectricRows(at),
});

/** An environment for the graphics card, four numbers a direction. */
export interface LightTables {
  /** Irradiance, then what rough mirrors show, below each other. */
  grids: Float32Array;
  gridHeight: number;
  /** What a mirror shows. */
  mirror: Float32Array;
  mirrorSize: { width: number; height: number };
  irradiance: Panorama;
}

const MIRROR_SIZE = { width: 512, height: 256 };

export function lightTablesOf(environment: Condition["environment"], panorama?: Panorama): LightTables {
  const { irradiance, levels, radiance } = lightGridsOf(environment, panorama);
  // The first level is what a mirror shows, which is finer.
  const stacked = [irradiance, ...levels.slice(1)];
  const grids = new Float32Array(WIDTH * HEIGHT * 4 * stacked.length);
  stacked.forEach(({ data }, grid) => {
    for (let i = 0, o = grid * WIDTH * HEIGHT * 4; i < data.length; i += 3, o += 4)
      grids.set([data[i], data[i + 1], data[i + 2], 1], o);
  });
  const { width, height } = MIRROR_SIZE;
  const mirror = new Float32Array(width * height * 4);
  for (let y = 0, o = 0; y < height; y++) {
    const latitude = (0.5 - (y + 0.5) / height) * Math.PI;
    for (let x = 0; x < width; x++, o += 4) {
      const longitude = ((x + 0.5) / width) * 2 * Math.PI;
      const direction: Vector = [
        Math.cos(latitude) * Math.sin(longitude),
        Math.sin(latitude),
        Math.cos(latitude) * Math.cos(longitude),
      ];
      mirror.set([...radiance(direction), 1], o);
    }
  }
  return { grids, gridHeight: HEIGHT * stacked.length, mirror, mirrorSize: MIRROR_SIZE, irradiance };
}
