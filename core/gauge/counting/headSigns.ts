import { laid, type Heads } from "#core/gauge/counting/courses";
import { toneAlong } from "#core/gauge/counting/toneAlong";

/**
 * How strong the weakest of four kinds of heads is against their mean: of even and odd courses, even and odd ones in each. Of English
 * bond that was taken for one of headers alone, one kind is missing.
 */
export function weakestHeads(profiles: Float32Array[], { count, first, turns, steps }: Heads): number {
  const side = profiles[0].length;
  const pitch = side / count;
  const reach = Math.max(1, Math.min(4, Math.round(0.08 * pitch)));
  const sums = [0, 0, 0, 0];
  const counts = [0, 0, 0, 0];
  profiles.forEach((profile, course) => {
    for (let i = 0; i < count; i++) {
      const at = Math.round(first + (i + (course * turns) / steps) * pitch);
      let most = -Infinity;
      for (let k = at - reach; k <= at + reach; k++)
        most = Math.max(most, profile[((k % side) + side) % side]);
      const kind = 2 * (course % 2) + (count % 2 === 0 ? i % 2 : 0);
      sums[kind] += most;
      counts[kind]++;
    }
  });
  const means = sums.map((sum, kind) => sum / counts[kind]).filter((_, kind) => counts[kind] > 0);
  const mean = means.reduce((sum, v) => sum + v, 0) / means.length;
  return mean > 0 ? Math.min(...means) / mean : 0;
}

/** How the lightness goes on from piece to piece, with the courses laid over each other as the bond shifts them. */
export function toneOfPieces(lightness: Float32Array[], { count, turns, steps }: Heads) {
  const pitch = lightness[0].length / count;
  return toneAlong(
    laid(lightness, (course) => ((course * turns) / steps) * pitch),
    pitch,
  );
}
