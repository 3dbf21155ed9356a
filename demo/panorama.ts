/** A room by the water at dusk, as a panorama: dark boards, and two tall windows with a bright sky behind them. */
const WIDTH = 512;
const HEIGHT = 256;

type Light = [number, number, number];

/** What comes from a direction. @param across 0..1 round the horizon, the middle ahead @param up −1..1 */
function lightFrom(across: number, up: number): Light {
  // The windows stand to the left and behind the eye, which looks ahead.
  for (const [middle, wide] of [
    [0.94, 0.045],
    [0.16, 0.035],
  ]) {
    const off = Math.abs(across - middle);
    if (off < wide && up > -0.1 && up < 0.6) {
      const bar = off < 0.003 || Math.abs(up - 0.25) < 0.015;
      const dusk = Math.max(0, up);
      return bar ? [0.05, 0.045, 0.04] : [9 - 4 * dusk, 7.2 - 1.5 * dusk, 5.4 + 2.4 * dusk];
    }
  }
  const board = 0.9 + 0.1 * Math.sin(across * 240);
  if (up < -0.35) return [0.2 * board, 0.15 * board, 0.1 * board];
  return [0.11 * board, 0.1 * board, 0.09 * board].map((v) => v * (1 + 0.6 * up)) as Light;
}

/** The file as a camera's software writes it: Radiance, each pixel with an exponent of its own, not packed (Ward 1991). */
export function drawPanorama(): Buffer {
  const head = Buffer.from(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${HEIGHT} +X ${WIDTH}\n`, "latin1");
  const pixels = Buffer.alloc(WIDTH * HEIGHT * 4);
  for (let y = 0, o = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, o += 4) {
      const light = lightFrom((x + 0.5) / WIDTH, Math.sin((0.5 - (y + 0.5) / HEIGHT) * Math.PI));
      const exponent = Math.ceil(Math.log2(Math.max(...light, 1e-9)));
      for (let c = 0; c < 3; c++) pixels[o + c] = Math.min(255, Math.floor((light[c] * 256) / 2 ** exponent));
      pixels[o + 3] = exponent + 128;
    }
  return Buffer.concat([head, pixels]);
}
