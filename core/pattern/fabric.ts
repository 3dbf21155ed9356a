import { periodicFbm, smoothstep } from "#core/pattern/noise";
import { linear, mix, scaled, type Surface } from "#core/pattern/patternSet";

export interface FabricOptions {
  seed: number;
  /** From one thread to the next, in millimetres. */
  pitch: number;
  /** Threads each way; an even number, so that the weave repeats. */
  threads: number;
  warp: string;
  weft: string;
}

/** A plain weave: each thread goes over one and under the next. */
export function fabric({ seed, pitch, threads, ...colors }: FabricOptions): {
  surface: Surface;
  repeat: { width: number; height: number };
} {
  const [warp, weft, deep] = [linear(colors.warp), linear(colors.weft), linear("#2a2724")];
  const surface: Surface = (u, v) => {
    const slub = 0.12 * periodicFbm(u, v, 6, 40, 3, seed);
    const [x, y] = [u * threads + slub, v * threads + 0.12 * periodicFbm(u, v, 40, 6, 3, seed + 1)];
    const isOver = (Math.floor(x) + Math.floor(y)) % 2 === 0;
    // Across a thread from its middle, −1..1, and along it from where it is highest.
    const [acrossX, acrossY] = [2 * (x - Math.floor(x)) - 1, 2 * (y - Math.floor(y)) - 1];
    const round = (across: number) => Math.sqrt(Math.max(0, 1 - (across / 0.92) ** 2));
    const [across, along] = isOver ? [acrossX, acrossY] : [acrossY, acrossX];
    const rise = round(across) * (0.65 + 0.35 * Math.cos((along * Math.PI) / 2));
    const fibre = periodicFbm(u, v, threads * 3, threads * 3, 2, seed + 2);
    const thread = scaled(isOver ? warp : weft, 1 + 0.08 * fibre);
    return {
      color: mix(deep, thread, smoothstep(0, 0.35, rise)),
      heightMm: pitch * 0.35 * rise,
      roughness: 0.82 + 0.05 * fibre,
    };
  };
  return { surface, repeat: { width: pitch * threads, height: pitch * threads } };
}
