import { say, type SaidFinding } from "#core/findings/say";
import { stillOpen } from "#core/findings/stillOpen";
import type { MaterialRow } from "#server/material/queries";

/** What a material's findings say to people; a licence is confirmed beside the revisions, so what it answers is left out here. */
export const saidOf = ({ findings, licence }: MaterialRow): SaidFinding[] =>
  say(stillOpen(findings, licence ? ["licence"] : []));
