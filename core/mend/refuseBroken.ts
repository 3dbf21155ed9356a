import { DIRECTION_WORDS, SEAM_LOOK, SEAM_WRONG, type SeamReading } from "#core/judge/seams";
import { DIRECTIONS, type Direction } from "#core/raster/directions";
import { Refusal } from "#core/text/refusal";

/**
 * What is made to continue is judged as what comes in is: steps, courses and bond.
 * @param asked in which directions it was to be made so
 * @throws {Refusal} where the result does not continue, or is worth a look and no better than before
 */
export function refuseBroken(
  asked: Record<Direction, boolean>,
  before: SeamReading | undefined,
  after: SeamReading | undefined,
): void {
  for (const direction of DIRECTIONS) {
    const broken = after?.[direction].broken ?? 0;
    const isWorse = broken >= SEAM_LOOK && broken >= (before?.[direction].broken ?? 1);
    if (asked[direction] && (broken >= SEAM_WRONG || isWorse))
      throw new Refusal(
        `The result would not continue from ${DIRECTION_WORDS[direction]} either (${Math.round(broken * 100)} % sure): nothing was changed. Try the other way, mending or cropping, or take another picture.`,
      );
  }
}
