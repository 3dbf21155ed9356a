import { ABOUT_FILES } from "#core/findings/aboutFiles";
import { ABOUT_PIXELS } from "#core/findings/aboutPixels";
import { ABOUT_SETS } from "#core/findings/aboutSets";
import type { Finding } from "#core/findings/finding";
import type { Answer } from "#core/findings/kind";
import { stillOpen } from "#core/findings/stillOpen";

const JUDGED = new Set([ABOUT_FILES, ABOUT_PIXELS, ABOUT_SETS].flatMap((kinds) => Object.keys(kinds)));
/** What was said as a set came in, and no look at its pixels tells again. */
const TOLD_ONCE = new Set(["few-pixels", "answered-before", "wear-layer", "direction-from-pixels"]);

const isJudged = ({ code }: Finding) => JUDGED.has(code) && !TOLD_ONCE.has(code);
/** Figures may have moved a little: it is still the same thing that is said. */
const sameOf = ({ code, file = "" }: Finding) => `${code} ${file}`;

/**
 * What is said of a material that is judged again: of its maps what is found now, of where it comes from what was said before. A
 * direction that somebody has chosen against the pixels stays chosen.
 * @param before what was said of it @param now all that is found of its maps @param settled what is known of it
 */
export function judgedAgain(
  before: readonly Finding[],
  now: readonly Finding[],
  settled: readonly Answer[],
): { findings: Finding[]; came: Finding[]; went: Finding[] } {
  const wasSaid = before.some(({ code }) => code === "direction-disagrees");
  const found = stillOpen(now, wasSaid ? settled : [...settled, "chosen-direction"]).filter(isJudged);
  const findings = [...found, ...before.filter((one) => !isJudged(one))];
  const [said, saying] = [before, findings].map((all) => new Set(all.map(sameOf)));
  return {
    findings,
    came: findings.filter((one) => !said.has(sameOf(one))),
    went: before.filter((one) => !saying.has(sameOf(one))),
  };
}
