import type { SeenPath } from "#core/library/seenPath";
import type { Repeat } from "#core/length/repeat";

/** What a delivery was, in full: `account.json`. */
export interface Account {
  delivery: string;
  /** ISO 8601, UTC. */
  made: string;
  materials: AccountMaterial[];
  /** Where it was written, if not only into an archive. */
  destination?: { name: string; folder: string; paths?: SeenPath[] };
  /** Files that were written, and those that had not changed and were left alone. */
  written: number;
  unchanged: number;
}

export interface AccountMaterial {
  id: string;
  name: string;
  revision: number;
  repeat: Repeat | null;
  profile: string;
  files: AccountFile[];
  /** A sheet of the values to enter where there is no image: path and hash. */
  settings: { path: string; sha256: string };
  /** What is left to do at the receiving end. */
  steps: string[];
  warnings: string[];
  /** Values of the finish that the renderer cannot take; absent in accounts that were written before it was said. */
  notCarried?: string[];
  /** What is changed of the finish for this renderer alone. */
  correction?: string[];
  /** How far it looks from its material; absent until it is proved, and where it is not. */
  proof?: AccountProof;
}

/** In ΔE2000, of the scene where the mean is largest. */
export interface AccountProof {
  meanDeltaE: number;
  p95DeltaE: number;
  maxDeltaE: number;
  /** Light and shape. */
  scene: string;
  /** Whether it is to be looked at. */
  isOverLimit: boolean;
  /** What it may come from. */
  causes: string[];
}

export interface AccountFile {
  path: string;
  role: string;
  operations: string[];
  width: number;
  height: number;
  bitDepth: number;
  encoding: "srgb" | "linear";
  /** What the file says of its colours; absent in accounts that were written before any said it. */
  tag?: "none" | "icc";
  sha256: string;
  /** False where the destination had the very same file. */
  written: boolean;
}
