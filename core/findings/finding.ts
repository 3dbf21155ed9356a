/** "note": good to know; "look": a person should look; "wrong": it will not come out right as it is. */
export type FindingLevel = "note" | "look" | "wrong";

/** One thing that was noticed about a candidate or a material. The code is stable, the message is for people. */
export interface Finding {
  level: FindingLevel;
  code: string;
  message: string;
  /** The file that it is about, as its map is addressed; none where it is about the set. */
  file?: string;
}
