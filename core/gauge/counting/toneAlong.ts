/**
 * How alike the changes of lightness along a profile are to those one pitch, and two pitches, further. Lines that come in pairs, as
 * the two edges of a slat or of a wide joint, change the other way from one to the next.
 * @param profile lightness along the courses' direction; it goes on at its other side
 */
export function toneAlong(profile: Float32Array, pitch: number): { once: number; twice: number } {
  const side = profile.length;
  // Over a distance that a joint of this pitch can have: slower changes are light.
  const reach = Math.max(1, Math.min(4, Math.round(pitch / 8)));
  const changes = profile.map((_, i) => profile[(i + reach) % side] - profile[(i - reach + side) % side]);
  const energy = changes.reduce((sum, v) => sum + v * v, 0);
  if (!(energy > 1e-12)) return { once: 0, twice: 0 };
  const alike = (shift: number) => {
    let most = -1;
    for (let off = -1; off <= 1; off++) {
      const by = Math.round(shift) + off;
      let sum = 0;
      for (let i = 0; i < side; i++) sum += changes[i] * changes[(((i + by) % side) + side) % side];
      most = Math.max(most, sum / energy);
    }
    return most;
  };
  return { once: alike(pitch), twice: alike(2 * pitch) };
}
