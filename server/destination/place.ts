/** Where the files of a destination lie: a folder, or a part of a bucket. Paths are relative and portable. */
export interface Place {
  /** SHA-256 of what lies there; undefined where nothing does, or what does cannot be trusted to be what we wrote. */
  hashAt(path: string): Promise<string | undefined>;
  /** Puts a kept file there, whole or not at all. */
  put(path: string, sha256: string): Promise<void>;
  /** Paths of all files that lie there, whoever put them there; links are not followed. */
  list(): AsyncIterable<string>;
  /** What to say and to do of an error of the place: “is full. Make room”; undefined for any other error. */
  words(error: unknown): string | undefined;
}
