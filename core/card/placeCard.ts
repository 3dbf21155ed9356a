import { findMarks, type FoundMark } from "#core/card/findMarks";
import { MARKS, MARK_RADII, NUMBER_CELLS } from "#core/card/layout";
import { numberOfBits } from "#core/card/number";
import type { Point } from "#core/gauge/repeat";
import { homographyOf, HomographyError, project, type Homography } from "#core/photo/homography";
import { linearTable } from "#core/raster/srgb";
import { maxValue, type Raster } from "#core/raster/raster";
import { Refusal } from "#core/text/refusal";

/** Where a card lies in a picture. */
export interface PlacedCard {
  number: number;
  /** From shares of the card to pixels of the picture. */
  toPicture: Homography;
  isMirrored: boolean;
  /** How far it is turned, in quarters clockwise. */
  quarters: 0 | 1 | 2 | 3;
  /** Another one lies beside it: it repeats within the panel. */
  isRepeated: boolean;
}

/** So many of a kind are looked through where there are more than one card has: the largest. */
const MOST_HEARTED = 8;

/** @throws {Refusal} where there is none, or its number cannot be read */
export function placeCard(picture: Raster): PlacedCard {
  const marks = findMarks(picture);
  const of = (heart: FoundMark["heart"]) =>
    marks
      .filter((mark) => mark.heart === heart)
      .sort((a, b) => b.radius - a.radius)
      .slice(0, heart === "plain" ? 2 * MOST_HEARTED : MOST_HEARTED);
  const [rings, dots, plains] = [of("ring"), of("dot"), of("plain")];
  let best: (PlacedCard & { area: number }) | undefined;
  for (const ring of rings)
    for (const dot of dots)
      for (const third of plains)
        for (const fourth of plains) {
          const four = [ring, dot, third, fourth];
          if (third === fourth) continue;
          const area = areaOf(four.map(({ at }) => at));
          if (Math.abs(area) <= (best?.area ?? 0) || !isConvex(four.map(({ at }) => at))) continue;
          const toPicture = projectionTo(four.map(({ at }) => at));
          if (!toPicture || !areAsLarge(four, toPicture)) continue;
          const number = numberIn(picture, toPicture);
          if (number === undefined) continue;
          best = {
            number,
            toPicture,
            area: Math.abs(area),
            ...lieOf(four, area),
            isRepeated: false,
          };
        }
  if (best) {
    const { area: _, ...placed } = best;
    return { ...placed, isRepeated: rings.length > 1 && dots.length > 1 };
  }
  throw new Refusal(troubleOf(picture, rings.length > 0 || dots.length > 0 ? marks.length : 0));
}

function projectionTo(points: Point[]): Homography | undefined {
  try {
    return homographyOf(
      MARKS.map(({ x, y }) => ({ x, y })),
      points,
    );
  } catch (error) {
    if (error instanceof HomographyError) return undefined;
    throw error;
  }
}

/** Whether marks are as large as those of a card that lies so. */
const areAsLarge = (marks: FoundMark[], toPicture: Homography): boolean =>
  marks.every(({ at, radius }, i) => {
    const { x, y } = MARKS[i];
    const rim = [
      { x: x + MARK_RADII.core, y },
      { x: x - MARK_RADII.core, y },
      { x, y: y + MARK_RADII.core },
      { x, y: y - MARK_RADII.core },
    ].map((point) => project(toPicture, point));
    const expected = rim.reduce((sum, point) => sum + Math.hypot(point.x - at.x, point.y - at.y) / 4, 0);
    return Math.abs(Math.log(radius / expected)) < MOST_OTHER_SIZE;
  });
/** A third more or less. */
const MOST_OTHER_SIZE = 0.3;

/** Signed: more than 0 where the corners follow each other clockwise. */
const areaOf = (points: Point[]): number =>
  points.reduce((sum, { x, y }, at) => {
    const next = points[(at + 1) % points.length];
    return sum + (x * next.y - next.x * y) / 2;
  }, 0);

function isConvex(points: Point[]): boolean {
  const turns = points.map((point, at) => {
    const [next, after] = [points[(at + 1) % 4], points[(at + 2) % 4]];
    return Math.sign((next.x - point.x) * (after.y - next.y) - (next.y - point.y) * (after.x - next.x));
  });
  return turns.every((turn) => turn === turns[0]);
}

function lieOf([ring, dot]: FoundMark[], area: number): Pick<PlacedCard, "isMirrored" | "quarters"> {
  const isMirrored = area < 0;
  const [x, y] = [dot.at.x - ring.at.x, dot.at.y - ring.at.y];
  // What is mirrored from left to right has its first two marks the other way round.
  const angle = Math.atan2(y, isMirrored ? -x : x);
  const quarters = (((Math.round(angle / (Math.PI / 2)) % 4) + 4) % 4) as 0 | 1 | 2 | 3;
  return { isMirrored, quarters };
}

function numberIn(picture: Raster, toPicture: Homography): number | undefined {
  const table = linearTable(picture.bitDepth);
  const light = Array.from({ length: NUMBER_CELLS.bits }, (_, cell) => {
    let sum = 0;
    for (const dx of [0.35, 0.5, 0.65])
      for (const dy of [0.35, 0.5, 0.65]) {
        const { x, y } = project(toPicture, {
          x: NUMBER_CELLS.x + (cell + dx) * NUMBER_CELLS.side,
          y: NUMBER_CELLS.y + dy * NUMBER_CELLS.side,
        });
        const [px, py] = [Math.floor(x), Math.floor(y)];
        if (px < 0 || py < 0 || px >= picture.width || py >= picture.height) return NaN;
        const from = (py * picture.width + px) * picture.channels;
        sum += table[picture.data[from + (picture.channels < 3 ? 0 : 1)]] / 9;
      }
    return sum;
  });
  const [least, most] = [Math.min(...light), Math.max(...light)];
  if (!(most > 2 * least)) return undefined;
  return numberOfBits(light.map((one) => one < (least + most) / 2));
}

function troubleOf(picture: Raster, marks: number): string {
  const most = maxValue(picture);
  let [bright, dark] = [0, 0];
  const count = picture.width * picture.height;
  for (let pixel = 0; pixel < count; pixel++) {
    const from = pixel * picture.channels;
    const code = picture.data[from + (picture.channels < 3 ? 0 : 1)];
    bright += Number(code >= 0.98 * most);
    dark += Number(code <= 0.04 * most);
  }
  if (bright > 0.6 * count)
    return "The picture is overexposed: most of it is plain white. Make it darker and render again.";
  if (dark > 0.9 * count)
    return "The picture is nearly black. Light the card, or where only a small square of it is seen, put the file “transparency” in place of “opacity”.";
  if (marks === 0)
    return "There are no marks of a test card in the picture. All of one card is to be seen, with its four corners. Where it is seen many times, or only a part of it, the size is read in another unit: enter it so that one card fills the panel.";
  return `Of the marks of a test card ${marks === 1 ? "one was" : `${marks} were`} found, and no whole card with its number. Show all four corners, larger: a card should be 400 px wide or more. Where the lamp is mirrored in a corner, move it a little.`;
}
