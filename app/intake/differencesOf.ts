import type { LikePair } from "#server/likeness/queries";

type Compared = Pick<LikePair, "mirrored" | "turns" | "shiftX" | "shiftY" | "tint" | "parts"> & {
  sides: Pick<LikePair["sides"][number], "width" | "height" | "format">[];
};

/** In which ways the second picture of a pair, which is shown on the right, differs from the first, in words. */
export function differencesOf({
  mirrored,
  turns,
  shiftX,
  shiftY,
  tint,
  parts,
  sides: [a, b],
}: Compared): string[] {
  const lines: string[] = [];
  if (parts)
    lines.push(
      `both show the same part: ${shares(parts.first)} of the left one, ${shares(parts.second)} of the right one`,
    );
  if (mirrored) lines.push("mirrored");
  if (turns > 0) lines.push(`turned by ${turns * 90}°`);
  if (Math.max(Math.abs(shiftX), Math.abs(shiftY)) > 0.012)
    lines.push(`shifted by ${Math.round(shiftX * 100)} % across and ${Math.round(shiftY * 100)} % down`);
  const [red, green, blue] = tint.map((v) => Math.round(v * 255));
  if (Math.max(Math.abs(red), Math.abs(green), Math.abs(blue)) > 4)
    lines.push(`on average ${signed(red)} red, ${signed(green)} green, ${signed(blue)} blue (of 255)`);
  if (a.width !== b.width || a.height !== b.height)
    lines.push(`${b.width} × ${b.height} px, the left one ${a.width} × ${a.height}`);
  if (a.format !== b.format) lines.push(`${b.format}, the left one ${a.format}`);
  return lines.length > 0 ? lines : ["no difference that could be measured but the encoding"];
}

const shares = ({ width, height }: { width: number; height: number }) =>
  `${Math.round(width * 100)} × ${Math.round(height * 100)} %`;

const signed = (value: number) => (value > 0 ? `+${value}` : value < 0 ? `−${-value}` : "0");
