import { z } from "zod";
import { rows, type Db } from "#server/db/database";
import type { FileStore } from "#server/store/fileStore";

export interface Verified {
  files: number;
  bytes: number;
  /** Hashes whose file is not there. */
  missing: string[];
  /** Hashes whose file has other content. */
  damaged: string[];
}

const PAGE = 1000;

/** Reads every file that the database knows, and compares it with its hash. */
export async function verifyFiles(
  db: Db,
  store: FileStore,
  told?: (files: number) => void,
): Promise<Verified> {
  const result: Verified = { files: 0, bytes: 0, missing: [], damaged: [] };
  for (let after = ""; ;) {
    const page = await rows(
      db,
      z.object({ sha256: z.string(), bytes: z.number() }),
      `SELECT sha256, bytes FROM files WHERE sha256 > $1 ORDER BY sha256 LIMIT ${PAGE}`,
      [after],
    );
    for (const { sha256, bytes } of page) {
      const hash = await store.check(sha256);
      if (hash === undefined) result.missing.push(sha256);
      else if (hash !== sha256) result.damaged.push(sha256);
      result.files++;
      result.bytes += bytes;
      told?.(result.files);
    }
    if (page.length < PAGE) return result;
    after = page.at(-1)!.sha256;
  }
}
