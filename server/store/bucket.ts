import type { Readable } from "node:stream";
import type { StoredFile } from "#server/store/fileStore";

/** What an object store has to be able to do for us. Keys are as the paths of a folder store. */
export interface Bucket {
  /** Puts a file of this machine there, whole or not at all. */
  put(key: string, path: string, sha256: string): Promise<void>;
  putBytes(key: string, data: Uint8Array): Promise<void>;
  /** @returns undefined where there is no such object */
  get(key: string, range?: { start: number; end: number }): Promise<Readable | undefined>;
  facts(key: string): Promise<StoredFile | undefined>;
  /** The hash that `put` noted with an object; undefined where there is none, or somebody else put it there. */
  notedHash(key: string): Promise<string | undefined>;
  /** Makes an object as new as it was put just now. */
  touch(key: string): Promise<void>;
  remove(key: string): Promise<void>;
  list(prefix: string): AsyncIterable<StoredFile>;
  /** An address for a download without a sign-in, for some minutes. */
  link(key: string, mediaType: string): Promise<string | undefined>;
}
