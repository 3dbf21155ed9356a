import type { FindingKind, FindingLevel } from "#core/findings/kind";
import { FINDING_KINDS, type FindingCode, type ToldOf } from "#core/findings/kinds";

/** One thing that was noticed about a candidate or a material, as data: its sentence is made when somebody reads it. */
export interface Finding {
  level: FindingLevel;
  /** A code of `FINDING_KINDS`, or one of another version of the program. */
  code: string;
  told: object;
  /** The file that it points at, as its map is addressed; none where it is about the set. */
  file?: string;
}

/** Notices something; how serious it is follows from its kind. */
export function finding<C extends FindingCode>(code: C, told: ToldOf<C>, file?: string): Finding {
  const { level } = FINDING_KINDS[code] as unknown as FindingKind<object>;
  return {
    level: typeof level === "function" ? level(told) : level,
    code,
    told,
    ...(file === undefined ? {} : { file }),
  };
}
