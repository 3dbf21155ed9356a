import { type LicenceProposal, isLicenceName } from "#core/maps/readLicence";
import { database } from "#server/db/database";
import { listUploads } from "#server/intake/receiving/sql";
import type { Unpacked } from "#server/intake/stages/found";
import { type KeptFiles, keptFiles } from "#server/intake/stages/keptFiles";
import { IS_MODEL, openModels } from "#server/intake/stages/openModels";
import { isProductSheet, openSheets } from "#server/intake/stages/openSheets";
import { isClutter } from "#server/opening/clutter";
import { type ArchiveBudget, looksLikeArchive } from "#server/opening/openArchive";
import { LARGEST_LICENCE } from "#server/opening/readLicenceFile";
import { freePath } from "#server/opening/safeName";
import type { Unzipped } from "#server/opening/unzip";
import { isOwnFault } from "#server/ownFault";
import { pool } from "#server/pool/pool";
import type { TaskLimits } from "#server/pool/processPool";
import { sentenceOf } from "#server/sentenceOf";
import { insertFiles } from "#server/store/sql";
import { fileStore } from "#server/store/store";

const TEXT = /(\.(txt|md|rtf|pdf|html?|url|csv|docx?|json|xml|yaml|yml)|(^|\/)(licen[cs]e|copying|readme))$/i;

const MODEL = /\.(obj|mtl|gltf|glb|bin|usd[acz]?|mtlx|stl|ply|dae|ifc|abc)$/i;

/** A zip of many gigabytes is unpacked within this. */
const UNZIP_LIMITS = { seconds: 3600, mebibytes: 1024 };

export interface UnpackOptions {
  /** What one text, model or sheet may cost. */
  limits: Partial<TaskLimits>;
  /** Bytes that may come out of all zips together. */
  most: number;
  told(found: number, what: string): void;
}

/** Loose files as they are, and the contents of archives and of archives in them, kept in the store. */
export async function unpack(intake: string, { limits, most, told }: UnpackOptions): Promise<Unpacked> {
  const unpacked: Unpacked = {
    found: [],
    ignored: [],
    licences: [],
    hints: new Map(),
    sheets: new Map(),
    plain: [],
    bytes: 0,
  };
  const taken = new Map<string, Set<string>>();
  const free = (scope: string, path: string) => {
    const there = taken.get(scope) ?? new Set<string>();
    taken.set(scope, there);
    return freePath(path, there);
  };

  const all = new Map<string, KeptFiles>();
  const sort = async (file: string, scope: string, sha256: string, bytes: number) => {
    const shown = scope === "" ? file : `${scope}/${file}`;
    const beside = all.get(scope) ?? keptFiles();
    all.set(scope, beside);
    beside.add(file, { sha256, bytes });
    // Read once everything beside it is there.
    if (IS_MODEL.test(file) || isProductSheet(file)) return;
    if (TEXT.test(file)) {
      const proposal = await licenceIn(file, sha256, bytes, limits);
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

  const leaveClutter = (files: string[]) => {
    if (files.length === 0) return;
    const others = files.length === 1 ? "" : `, with ${files.length - 1} more of the kind`;
    unpacked.ignored.push({
      file: files[0],
      kind: "left-aside",
      reason: `A file that the system keeps for itself${others}: no texture.`,
    });
  };

  const setAside = (file: string, reason: string) =>
    void unpacked.ignored.push({ file, kind: "set-aside", reason });

  /**
   * @param outer the budget of the zip that this one lies in
   * @returns what is left of it
   */
  const openAll = async (
    sha256: string,
    scope: string,
    outer?: ArchiveBudget,
  ): Promise<ArchiveBudget | undefined> => {
    let out: Unzipped;
    try {
      out = await fileStore().withLocal([sha256], (pathOf) =>
        fileStore().collect((root, incoming) =>
          pool.unzip(
            {
              path: pathOf(sha256),
              root,
              incoming,
              budget: outer,
              most: most - unpacked.bytes,
            },
            {
              ...UNZIP_LIMITS,
              signal: limits.signal,
              told: (value) => {
                const { files, name } = value as { files: number; name: string };
                told(unpacked.found.length + files, `Unpacking ${name}`);
              },
            },
          ),
        ),
      );
    } catch (error) {
      if (isOwnFault(error) || limits.signal?.aborted) throw error;
      setAside(scope, sentenceOf(error, "The zip is damaged. Download it again."));
      return outer;
    }
    await insertFiles(database(), out.files, "application/octet-stream");
    for (const { name, reason } of out.refused) setAside(`${scope}/${name}`, reason);
    leaveClutter(out.clutter.map((name) => `${scope}/${name}`));
    let budget: ArchiveBudget | undefined = out.budget;
    for (const { name, sha256, bytes, isZip } of out.files) {
      unpacked.bytes += bytes;
      const file = free(scope, name);
      if (!isZip) await sort(file, scope, sha256, bytes);
      else if (outer)
        setAside(`${scope}/${file}`, "A zip in a zip in a zip: unpack it and send what is inside.");
      else budget = await openAll(sha256, `${scope}/${file}`, budget);
    }
    if (out.problem !== undefined) setAside(scope, out.problem);
    return budget;
  };

  for (const upload of await listUploads(database(), intake)) {
    const isArchive = await fileStore().withLocal([upload.sha256], (pathOf) =>
      looksLikeArchive(pathOf(upload.sha256)),
    );
    if (isArchive) await openAll(upload.sha256, upload.name);
    else if (/\.zip$/i.test(upload.name))
      setAside(upload.name, "It is called .zip but is no zip. Download it again.");
    else if (isClutter(upload.name)) leaveClutter([upload.name]);
    else await sort(free("", upload.name), "", upload.sha256, upload.bytes);
  }
  for (const [scope, files] of all) {
    const models = await openModels(scope, files, limits);
    const sheets = await openSheets(scope, files, limits);
    for (const { used, found, ignored } of [models, sheets]) {
      unpacked.found = unpacked.found.filter(
        (one) => one.scope !== scope || !used.has(`${scope}\n${one.file.toLowerCase()}`),
      );
      unpacked.found.push(...found);
      unpacked.ignored.push(...ignored);
    }
    for (const [set, hint] of models.hints) unpacked.hints.set(`${scope}\n${set}`, hint);
    for (const [set, sheet] of sheets.sheets) unpacked.sheets.set(`${scope}\n${set}`, sheet);
    unpacked.plain.push(...sheets.plain.map((sheet) => ({ scope, sheet })));
  }
  return unpacked;
}

/** What a text says of a licence; nothing where it cannot be read. */
async function licenceIn(
  file: string,
  sha256: string,
  bytes: number,
  limits: Partial<TaskLimits>,
): Promise<LicenceProposal | undefined> {
  if (!isLicenceName(file) || bytes > LARGEST_LICENCE) return undefined;
  return fileStore()
    .withLocal([sha256], (pathOf) => pool.readLicenceFile({ path: pathOf(sha256) }, limits))
    .catch((error: unknown) => {
      if (isOwnFault(error) || limits.signal?.aborted) throw error;
      return undefined;
    });
}
