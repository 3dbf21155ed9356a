import { SEAM_LOOK, SEAM_WRONG, SEAMLESS } from "#core/judge/seams";

/** Whether a picture continues at its other side, in words, with how sure. */
export function seamWords(broken: number): string {
  if (broken < SEAMLESS) return "continues";
  const percent = `${Math.round(broken * 100)} %`;
  if (broken < SEAM_LOOK) return `not sure (seam ${percent})`;
  return broken < SEAM_WRONG ? `seam likely, ${percent}` : `seam, ${percent}`;
}
