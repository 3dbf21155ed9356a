import { neutralSchema, placingSchema, type Neutral, type Placing } from "#core/picture/reference";
import { formatLength } from "#core/length/formatLength";
import type { LengthUnit } from "#core/length/parseLength";
import type { ReferenceRow } from "#server/reference/sql";

export type Tool = "points" | "corners" | "grey";

interface Place {
  x: number;
  y: number;
}

/** How a picture is placed, as it is typed and dragged; places are 0..1 of the picture. */
export interface PlacingTexts {
  /** What tells its size; nothing where nobody has said it. */
  by: "points" | "corners" | null;
  points: Place[];
  corners: Place[];
  length: string;
  width: string;
  height: string;
  grey: Place | null;
  reflects: string;
  name: string;
  profile: string;
}

/** As it was saved, or in the middle of the picture. */
export function startPlacing(
  { placing, neutral, name, profile }: Pick<ReferenceRow, "placing" | "neutral" | "name" | "profile">,
  unit: LengthUnit,
): PlacingTexts {
  const said = (mm: number) => formatLength(mm, unit);
  return {
    by: placing?.by ?? null,
    points: placing?.by === "points" ? [placing.from, placing.to] : [at(0.25, 0.5), at(0.75, 0.5)],
    corners:
      placing?.by === "corners" ? placing.corners : [at(0.2, 0.2), at(0.8, 0.2), at(0.8, 0.8), at(0.2, 0.8)],
    length: placing?.by === "points" ? said(placing.lengthMm) : "",
    width: placing?.by === "corners" ? said(placing.widthMm) : "",
    height: placing?.by === "corners" ? said(placing.heightMm) : "",
    grey: neutral && { x: neutral.x, y: neutral.y },
    reflects: neutral?.reflects === undefined ? "" : String(neutral.reflects),
    name,
    profile: profile ?? "",
  };
}

const at = (x: number, y: number): Place => ({ x, y });

/** @param lengthOf reads a length in mm. @throws with what is wrong, in words */
export function placingOf(
  texts: PlacingTexts,
  lengthOf: (text: string) => number,
): { placing: Placing | null; neutral: Neutral | null } {
  const placing = placingSchema.nullable().safeParse(placed(texts, lengthOf));
  if (!placing.success) throw new Error("The real size is missing, or is none that a picture can have.");
  const { grey, reflects } = texts;
  const percent = reflects.trim() === "" ? undefined : Number(reflects.replace(",", "."));
  const neutral = neutralSchema
    .nullable()
    .safeParse(grey && { ...grey, ...(percent !== undefined && { reflects: percent }) });
  if (!neutral.success) throw new Error(`“${reflects}” is no reflectance. Type percent, from 1 to 100.`);
  return { placing: placing.data, neutral: neutral.data };
}

function placed(
  { by, points, corners, length, width, height }: PlacingTexts,
  lengthOf: (text: string) => number,
) {
  if (by === null) return null;
  if (by === "points") return { by, from: points[0], to: points[1], lengthMm: lengthOf(length) };
  return { by, corners, widthMm: lengthOf(width), heightMm: lengthOf(height) };
}

/** The point that is meant by the pointer, if any is near enough. */
export function grabbed(points: readonly Place[], pointer: Place, reach: number): number | undefined {
  const apart = points.map(({ x, y }) => Math.hypot(x - pointer.x, y - pointer.y));
  const nearest = apart.indexOf(Math.min(...apart));
  return nearest >= 0 && apart[nearest] <= 2 * reach ? nearest : undefined;
}
