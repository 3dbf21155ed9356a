import type { LikePair } from "#server/db/likenesses";

type Compared = Pick<LikePair, "mirrored" | "turns" | "shiftX" | "shiftY" | "tint"> & {
  sides: Pick<LikePair["sides"][number], "width" | "height" | "format">[];
};

/** In which ways the second picture of a pair differs from the first, in words. */
export function differencesOf({ mirrored, turns, shiftX, shiftY, tint, sides: [a, b] }: Compared): string[] {
  const lines: string[] = [];
  if (mirrored) lines.push("mirrored");
  if (turns > 0) lines.push(`turned by ${turns * 90}°`);
  if (Math.max(Math.abs(shiftX), Math.abs(shiftY)) > 0.012)
    lines.push(`shifted by ${Math.round(shiftX * 100)} % across and ${Math.round(shiftY * 100)} % down`);
  const [red, green, blue] = tint.map((v) => Math.round(v * 255));
  if (Math.max(Math.abs(red), Math.abs(green), Math.abs(blue)) > 4)
    lines.push(`on average ${signed(red)} red, ${signed(green)} green, ${signed(blue)} blue (of 255)`);
  if (a.width !== b.width || a.height !== b.height)
    lines.push(`${b.width} × ${b.height} px against ${a.width} × ${a.height}`);
  if (a.format !== b.format) lines.push(`${b.format} against ${a.format}`);
  return lines.length > 0 ? lines : ["no difference that could be measured but the encoding"];
}

const signed = (value: number) => (value > 0 ? `+${value}` : value < 0 ? `−${-value}` : "0");
