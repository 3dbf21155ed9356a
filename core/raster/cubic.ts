/** Weights of the four samples around a place a part `t` behind the second of them (Catmull and Rom 1974). */
export function catmullRom(t: number): [number, number, number, number] {
  return [
    t * (-0.5 + t * (1 - 0.5 * t)),
    1 + t * t * (1.5 * t - 2.5),
    t * (0.5 + t * (2 - 1.5 * t)),
    t * t * (0.5 * t - 0.5),
  ];
}
