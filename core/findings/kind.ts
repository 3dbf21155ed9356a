/** "note": good to know; "look": a person should look; "wrong": it will not come out right as it is. */
export type FindingLevel = "note" | "look" | "wrong";

/** What settles a finding, so that it is not carried further. */
export type Answer =
  | "acceptance"
  | "base-color"
  | "complete-set"
  /** The direction is known, from wherever. */
  | "direction"
  /** A person said the direction. */
  | "chosen-direction"
  | "licence"
  | "mend"
  | "size";

/** One kind of finding: how serious it is, what settles it, and its sentence. What it is told are names and figures, never sentences. */
export interface FindingKind<Told extends object> {
  level: FindingLevel | ((told: Told) => FindingLevel);
  answer?: Answer;
  /** @param name last name of the file that it points at; "" where it is about the set */
  sentence: (told: Told, name: string) => string;
}

/** Lets TypeScript infer what each kind is told. */
export const kindOf = <Told extends object>(kind: FindingKind<Told>) => kind;
