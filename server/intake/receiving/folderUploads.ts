import { mkdirSync } from "node:fs";
import { readdir, rm } from "node:fs/promises";
import { join } from "node:path";
import { FileStore } from "@tus/file-store";
import type { UploadPlace } from "#server/intake/receiving/uploadPlace";
import { fileStore } from "#server/store/store";

/** Uploads in a folder, each a file that grows and one beside it that says what it is. */
export function folderUploads(folder: string): UploadPlace {
  mkdirSync(folder, { recursive: true });
  return {
    protocol: new FileStore({ directory: folder }),
    take: ({ id }) => fileStore().adopt(join(folder, id)),
    async drop(id) {
      await rm(join(folder, id), { force: true });
      await rm(join(folder, `${id}.json`), { force: true });
    },
    async ids() {
      const names = await readdir(folder);
      return [...new Set(names.map((name) => name.replace(/\.json$/, "")))];
    },
  };
}
