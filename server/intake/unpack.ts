import { Readable } from "node:stream";
import type { GivenSet, IgnoredFile } from "#core/maps/candidate";
import { isLicenceName, readLicence, type LicenceProposal } from "#core/maps/readLicence";
import { database } from "#server/db/database";
import { insertFile } from "#server/db/files";
import { listUploads, type ModelHint } from "#server/db/intakes";
import type { VariantSheet } from "#server/db/suppliers";
import { fileStore } from "#server/files/store";
import { IS_MODEL, openModels, type KeptFile } from "#server/intake/openModels";
import { isProductSheet, openSheets } from "#server/intake/openSheets";
import {
  looksLikeArchive,
  newBudget,
  readArchive,
  type ArchiveBudget,
  type ArchiveFile,
} from "#server/intake/openArchive";
import { freePath } from "#server/intake/safeName";
import { isOwnFault } from "#server/ownFault";

/** A file of an intake that may be an image: what it is called, where it came from, where it is kept. */
export interface Found {
  file: string;
  scope: string;
  sha256: string;
  bytes: number;
  given?: GivenSet;
}

/** What a licence text says, and for which files: those of its scope, in its folder or below. */
export interface FoundLicence {
  scope: string;
  folder: string;
  file: string;
  proposal: LicenceProposal;
}

export interface Unpacked {
  found: Found[];
  ignored: IgnoredFile[];
  licences: FoundLicence[];
  /** What models said beside their maps, by set. */
  hints: Map<string, ModelHint>;
  /** What product sheets said, by set. */
  sheets: Map<string, VariantSheet>;
  /** Products without pictures. */
  plain: { scope: string; sheet: VariantSheet }[];
}

/** Files that archives carry along and nobody means. */
const CLUTTER = /(^|\/)(__MACOSX\/|\.DS_Store$|Thumbs\.db$|desktop\.ini$|\._)/i;
const TEXT = /(\.(txt|md|rtf|pdf|html?|url|csv|docx?|json|xml|yaml|yml)|(^|\/)(licen[cs]e|copying|readme))$/i;
const MODEL = /\.(obj|mtl|gltf|glb|bin|usd[acz]?|mtlx|stl|ply|dae|ifc|abc)$/i;
const LARGEST_TEXT = 256 * 1024;

/** Loose files as they are, and the contents of archives and of archives in them, streamed to the store. */
export async function unpack(
  intake: string,
  told: (found: number, what: string) => Promise<void>,
): Promise<Unpacked> {
  const unpacked: Unpacked = {
    found: [],
    ignored: [],
    licences: [],
    hints: new Map(),
    sheets: new Map(),
    plain: [],
  };
  const taken = new Map<string, Set<string>>();
  const free = (scope: string, path: string) => {
    const there = taken.get(scope) ?? new Set<string>();
    taken.set(scope, there);
    return freePath(path, there);
  };

  const all = new Map<string, Map<string, KeptFile>>();
  const sort = async (file: string, scope: string, sha256: string, bytes: number) => {
    const shown = scope === "" ? file : `${scope}/${file}`;
    all.set(scope, (all.get(scope) ?? new Map<string, KeptFile>()).set(file, { sha256, bytes }));
    // Read once everything beside it is there.
    if (IS_MODEL.test(file) || isProductSheet(file)) return;
    if (TEXT.test(file)) {
      const proposal =
        isLicenceName(file) && bytes <= LARGEST_TEXT ? readLicence(await readText(sha256)) : undefined;
      if (proposal) unpacked.licences.push({ scope, folder: file.replace(/[^/]*$/, ""), file, proposal });
      unpacked.ignored.push({
        file: shown,
        kind: "text",
        reason: proposal
          ? `A text with the marks of a licence (${proposal.name}): offered with each material that it came with.`
          : "A text that came along; it is kept with the upload.",
      });
    } else if (MODEL.test(file))
      unpacked.ignored.push({
        file: shown,
        kind: "model",
        reason: "Geometry or a scene in a form that is not read, and no image.",
      });
    else unpacked.found.push({ file, scope, sha256, bytes });
  };

  /** @param outer the budget of the zip that this one lies in */
  const openAll = async (path: string, scope: string, outer?: ArchiveBudget): Promise<void> => {
    const budget = outer ?? newBudget();
    await readArchive(
      path,
      async (entry) => {
        if (CLUTTER.test(entry.name)) return;
        await told(unpacked.found.length, `Unpacking ${entry.name}`);
        const file = free(scope, entry.name.replaceAll("\\", "/"));
        const kept = await keepEntry(entry).catch((error: unknown) => {
          if (isOwnFault(error)) throw error;
          return undefined;
        });
        if (!kept)
          return void unpacked.ignored.push({
            file: `${scope}/${file}`,
            kind: "set-aside",
            reason: "It is damaged inside the zip and could not be unpacked.",
          });
        if (/\.zip$/i.test(file) && (await looksLikeArchive(fileStore().path(kept.sha256)))) {
          if (outer)
            return void unpacked.ignored.push({
              file: `${scope}/${file}`,
              kind: "set-aside",
              reason: "A zip in a zip in a zip: unpack it and send what is inside.",
            });
          await tryArchive(fileStore().path(kept.sha256), `${scope}/${file}`, budget);
        } else await sort(file, scope, kept.sha256, kept.bytes);
      },
      (name, reason) => unpacked.ignored.push({ file: `${scope}/${name}`, reason, kind: "set-aside" }),
      budget,
    );
  };

  const tryArchive = async (path: string, scope: string, outer?: ArchiveBudget) => {
    try {
      await openAll(path, scope, outer);
    } catch (error) {
      if (isOwnFault(error)) throw error;
      unpacked.ignored.push({ file: scope, reason: (error as Error).message, kind: "set-aside" });
    }
  };

  for (const upload of await listUploads(database(), intake)) {
    const path = fileStore().path(upload.sha256);
    if (await looksLikeArchive(path)) await tryArchive(path, upload.name);
    else if (/\.zip$/i.test(upload.name))
      unpacked.ignored.push({
        file: upload.name,
        kind: "set-aside",
        reason: "It is called .zip but is no zip. Download it again.",
      });
    else if (!CLUTTER.test(upload.name)) await sort(free("", upload.name), "", upload.sha256, upload.bytes);
  }
  for (const [scope, files] of all) {
    const models = await openModels(scope, files);
    const sheets = await openSheets(scope, files);
    for (const { used, found, ignored } of [models, sheets]) {
      unpacked.found = unpacked.found.filter(
        (one) => one.scope !== scope || !used.has(`${scope}\u0000${one.file.toLowerCase()}`),
      );
      unpacked.found.push(...found);
      unpacked.ignored.push(...ignored);
    }
    for (const [set, hint] of models.hints) unpacked.hints.set(`${scope}\u0000${set}`, hint);
    for (const [set, sheet] of sheets.sheets) unpacked.sheets.set(`${scope}\u0000${set}`, sheet);
    unpacked.plain.push(...sheets.plain.map((sheet) => ({ scope, sheet })));
  }
  return unpacked;
}

async function keepEntry(entry: ArchiveFile): Promise<{ sha256: string; bytes: number }> {
  const kept = await fileStore().keep(Readable.from(await entry.open()));
  await insertFile(database(), { ...kept, mediaType: "application/octet-stream" });
  return kept;
}

async function readText(sha256: string): Promise<string> {
  return (await fileStore().read(sha256)).toString("utf8");
}
