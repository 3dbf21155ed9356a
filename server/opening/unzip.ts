import { stat } from "node:fs/promises";
import { plainLine } from "#core/text/plainText";
import type { Tell } from "#server/opening/tell";
import { folderStore } from "#server/store/folderStore";
import { looksLikeArchive, newBudget, readArchive, type ArchiveBudget } from "#server/opening/openArchive";
import { isClutter } from "#server/opening/clutter";
import { safeName } from "#server/opening/safeName";
import { isOwnFault } from "#server/ownFault";
import { sentenceOf } from "#server/sentenceOf";

export interface UnzipTask {
  path: string;
  /** Root of the file store, and a folder inside it for what is not whole yet. */
  root: string;
  incoming: string;
  /** What may still come out, with the zips around it; by the zip's own size where it is the outermost. */
  budget?: ArchiveBudget;
  /** Bytes that the sender may still hand in. */
  most: number;
}

/** One file of a zip, kept in the store. */
export interface UnzippedFile {
  name: string;
  sha256: string;
  bytes: number;
  isZip: boolean;
}

export interface Unzipped {
  files: UnzippedFile[];
  refused: { name: string; reason: string }[];
  /** Files that systems keep for themselves, which were not unpacked. */
  clutter: string[];
  /** What is left for zips inside this one. */
  budget: ArchiveBudget;
  /** Why the zip as a whole could not be read to its end. */
  problem?: string;
}

const TELL_EVERY_MS = 500;

/** Unpacks a zip into the store, and tells how many files have come out. @throws where the disk fails */
export async function unzip(task: UnzipTask, tell: Tell): Promise<Unzipped> {
  const store = folderStore(task.root, task.incoming);
  const budget = task.budget ?? newBudget((await stat(task.path)).size, task.most);
  const out: Unzipped = { files: [], refused: [], clutter: [], budget };
  let told = 0;
  try {
    await readArchive(
      task.path,
      async (entry) => {
        if (isClutter(entry.name)) return void out.clutter.push(safeName(entry.name));
        if (Date.now() - told > TELL_EVERY_MS) {
          told = Date.now();
          tell({ files: out.files.length, name: safeName(entry.name) });
        }
        try {
          const kept = await entry.read((content) => store.keep(content));
          const name = safeName(entry.name);
          const isZip = /\.zip$/i.test(name) && (await looksLikeArchive(store.path(kept.sha256)));
          out.files.push({ name, ...kept, isZip });
        } catch (error) {
          if (isOwnFault(error)) throw error;
          out.refused.push({
            name: safeName(entry.name),
            reason: sentenceOf(error, "It is damaged inside the zip and could not be unpacked."),
          });
        }
      },
      // As it is written, since that is what is wrong with it.
      (name, reason) => out.refused.push({ name: plainLine(name), reason }),
      budget,
    );
  } catch (error) {
    if (isOwnFault(error)) throw error;
    out.problem = sentenceOf(error, "The zip is damaged. Download it again.");
  }
  return out;
}
