import type { Readable } from "node:stream";

/** A file under its SHA-256. */
export interface Kept {
  sha256: string;
  bytes: number;
}

/** One of the files that a store holds, for those who look after it. */
export interface StoredFile {
  /** `files/ab/cd/HASH`, `derived/ab/NAME` or `incoming/…`. */
  path: string;
  bytes: number;
  /** In ms since 1970; a file that was wanted again counts from then. */
  changedAt: number;
}

/** The parts of a store: originals and results by hash, what is made from them, and what is not whole yet. */
export const STORE_PARTS = ["files", "derived", "incoming"] as const;
export type StorePart = (typeof STORE_PARTS)[number];

/** Where files lie: a folder, or a bucket of an object store. Every file is whole or not there. */
export interface FileStore {
  /** Streams a file in and keeps it once under its SHA-256; a broken stream leaves nothing behind. */
  keep(stream: Readable): Promise<Kept>;
  /** Takes a finished file of this machine over. It is gone from its path afterwards. */
  adopt(path: string): Promise<Kept>;
  /** Keeps what `write` makes at a path of its own. */
  make(write: (path: string) => Promise<void>): Promise<Kept>;
  /**
   * Keeps all that other work, in a process that may be ended at any moment, puts into a folder store.
   * @param work gets that store's root, and a folder inside it for what is not whole yet, which is taken away afterwards
   */
  collect<T>(work: (root: string, incoming: string) => Promise<T>): Promise<T>;
  read(sha256: string): Promise<Buffer>;
  /**
   * For `pipeline` or a zip, in the very tick in which it comes: it may err in the next one.
   * @param range first and last byte
   */
  stream(sha256: string, range?: { start: number; end: number }): Readable;
  has(sha256: string): Promise<boolean>;
  /** Work with kept files that needs paths: they hold while it runs, and what is done to them is undefined. */
  withLocal<T>(hashes: string[], work: (pathOf: (sha256: string) => string) => Promise<T>): Promise<T>;
  /** An address at which a kept file can be had for a while without asking us; undefined where there is none. */
  link(sha256: string, mediaType: string): Promise<string | undefined>;
  /** SHA-256 of what lies under a hash, or undefined where nothing does. */
  check(sha256: string): Promise<string | undefined>;

  /** Derived files under a name of their own. */
  writeDerived(name: string, data: Uint8Array): Promise<void>;
  readDerived(name: string): Promise<Buffer | undefined>;
  hasDerived(name: string): Promise<boolean>;
  /** The same as `withLocal` for derived files. */
  withLocalDerived<T>(names: string[], work: (pathOf: (name: string) => string) => Promise<T>): Promise<T>;

  list(part: StorePart): AsyncIterable<StoredFile>;
  /** Removes a file that was not wanted for so long. @returns whether it did */
  remove(path: string, leastAgeMs: number): Promise<boolean>;
}

/** Where a kept file lies inside a store. */
export const keptPath = (sha256: string) => `files/${sha256.slice(0, 2)}/${sha256.slice(2, 4)}/${sha256}`;

/** Where a derived file lies inside a store. */
export const derivedPath = (name: string) => `derived/${name.slice(0, 2)}/${name}`;
