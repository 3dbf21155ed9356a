import type { Finding } from "#core/findings/finding";
import type { FindingKind, FindingLevel } from "#core/findings/kind";
import { FINDING_KINDS } from "#core/findings/kinds";
import { lastName } from "#core/maps/lastName";
import { plainLine } from "#core/text/plainText";

/** A finding as people read it. */
export interface SaidFinding {
  level: FindingLevel;
  code: string;
  message: string;
  file?: string;
}

/** Longest sentence, in UTF-16 units: names in it come from outside. */
const LONGEST = 2000;

/** Findings with their sentences. */
export const say = (findings: readonly Finding[]): SaidFinding[] =>
  findings.map((one) => ({
    level: one.level,
    code: one.code,
    message: plainLine(sentenceOf(one), LONGEST),
    ...(one.file === undefined ? {} : { file: one.file }),
  }));

function sentenceOf({ code, told, file }: Finding): string {
  // What was noticed before findings were data has its sentence with it.
  if ("sentence" in told && Object.keys(told).length === 1) return String(told.sentence);
  if (!(code in FINDING_KINDS)) return `Noticed by another version of the program: ${code}.`;
  const kind = FINDING_KINDS[code as keyof typeof FINDING_KINDS] as unknown as FindingKind<object>;
  return kind.sentence(told, file === undefined ? "" : withoutChannel(lastName(file)));
}

const withoutChannel = (name: string) => name.replace(/#(?:red|green|blue|alpha)$/, "");
