import { periodicFbm, periodicNoise, smoothstep } from "#core/pattern/noise";
import { linear, mix, scaled, type Surface } from "#core/pattern/patternSet";

export interface PlasterOptions {
  seed: number;
  repeat: { width: number; height: number };
  color: string;
  /** The second tone that shows in clouds. */
  cloud: string;
  /** "trowelled": long soft strokes; "scraped": an even coarse grain; "cast": smooth with blowholes. */
  finish: "trowelled" | "scraped" | "cast";
}

/** Plaster and concrete: surfaces without a module. */
export function plaster(options: PlasterOptions): {
  surface: Surface;
  repeat: { width: number; height: number };
} {
  const { seed, repeat, finish } = options;
  const [color, cloudColor] = [linear(options.color), linear(options.cloud)];
  const cells = (mm: number) => Math.max(1, Math.round(repeat.width / mm));
  const cellsY = (mm: number) => Math.max(1, Math.round(repeat.height / mm));

  const surface: Surface = (u, v) => {
    const bend = 0.03 * periodicNoise(u, v, 3, 3, seed + 1);
    const cloud = periodicFbm(u + bend, v - bend, cells(380), cellsY(380), 5, seed + 2);
    const fine = periodicFbm(u, v, cells(2.6), cellsY(2.6), 2, seed + 3);
    if (finish === "trowelled") {
      const stroke = periodicFbm(u + 0.05 * cloud, v + 0.04 * cloud, cells(260), cellsY(38), 3, seed + 4);
      const ridge = 1 - smoothstep(0, 0.09, Math.abs(stroke));
      return {
        color: scaled(
          mix(color, cloudColor, smoothstep(-0.5, 0.6, cloud + 0.35 * stroke)),
          1 + 0.02 * fine + 0.05 * ridge,
        ),
        heightMm: 0.9 * stroke + 0.35 * ridge + 0.05 * fine + 0.3 * cloud,
        roughness: 0.66 + 0.14 * cloud - 0.12 * ridge + 0.03 * fine,
      };
    }
    if (finish === "scraped") {
      const grains = periodicFbm(u, v, cells(5), cellsY(5), 3, seed + 5);
      const drag = periodicNoise(u, v, cells(7), cellsY(34), seed + 6);
      const torn = smoothstep(0.25, 0.7, grains + 0.35 * drag);
      return {
        color: scaled(mix(color, cloudColor, smoothstep(-0.7, 0.7, cloud)), 1 + 0.1 * grains - 0.2 * torn),
        heightMm: 1.1 * grains + 0.3 * drag - 1.5 * torn,
        roughness: 0.9 + 0.05 * fine,
      };
    }
    const hole =
      smoothstep(
        0.76,
        0.9,
        periodicNoise(u + 0.004 * fine + bend, v + 0.003 * cloud - bend, cells(26), cellsY(26), seed + 7),
      ) * smoothstep(-0.1, 0.4, cloud + 0.3);
    const streak = periodicFbm(u, v, cells(110), 2, 3, seed + 8);
    return {
      color: scaled(
        mix(color, cloudColor, smoothstep(-0.55, 0.55, cloud + 0.3 * streak)),
        (1 + 0.045 * fine) * (1 - 0.5 * hole),
      ),
      heightMm: 0.12 * fine + 0.5 * cloud - 2.2 * hole,
      roughness: 0.7 + 0.1 * cloud + 0.05 * fine + 0.1 * hole,
    };
  };
  return { surface, repeat };
}
