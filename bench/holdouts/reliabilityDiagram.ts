import type { CalibrationBin } from "./calibration";

const SIDE = 320;
const EDGE = 44;

/** An SVG of what was stated against how often it held, each with its 95 % interval; the circles grow with the number of pictures. */
export function reliabilityDiagram(bins: CalibrationBin[]): string {
  const x = (share: number) => (EDGE + share * SIDE).toFixed(1);
  const y = (share: number) => (12 + (1 - share) * SIDE).toFixed(1);
  const ticks = [0, 0.25, 0.5, 0.75, 1];
  const lines = ticks.flatMap((tick) => [
    `<path d="M${x(tick)} ${y(0)}V${y(1)}M${x(0)} ${y(tick)}H${x(1)}" stroke="#d8d4cc"/>`,
    `<text x="${x(tick)}" y="${Number(y(0)) + 18}" text-anchor="middle">${100 * tick}</text>`,
    `<text x="${Number(x(0)) - 8}" y="${Number(y(tick)) + 4}" text-anchor="end">${100 * tick}</text>`,
  ]);
  const points = bins.flatMap(({ stated, held, low, high, count }) => [
    `<path d="M${x(stated)} ${y(low)}V${y(high)}" stroke="#1f2a30" stroke-width="1.5"/>`,
    `<circle cx="${x(stated)}" cy="${y(held)}" r="${Math.min(9, 2 + Math.sqrt(count) / 4).toFixed(1)}" fill="#b3541e"><title>${count} pictures: ${(100 * stated).toFixed(1)} % stated, ${(100 * held).toFixed(1)} % held</title></circle>`,
  ]);
  const [width, height] = [EDGE + SIDE + 20, SIDE + 56];
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" font-family="sans-serif" font-size="12" fill="#1f2a30">`,
    `<rect width="${width}" height="${height}" fill="#fff"/>`,
    ...lines,
    `<path d="M${x(0)} ${y(0)}L${x(1)} ${y(1)}" stroke="#1f2a30" stroke-dasharray="4 4"/>`,
    ...points,
    `<text x="${EDGE + SIDE / 2}" y="${height - 6}" text-anchor="middle">stated, %</text>`,
    `<text transform="translate(12 ${12 + SIDE / 2}) rotate(-90)" text-anchor="middle">held, %</text>`,
    `</svg>\n`,
  ].join("\n");
}
