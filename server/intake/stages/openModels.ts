import type { GivenRole, IgnoredFile } from "#core/candidates/candidate";
import { withoutMapped } from "#core/formats/fittingValues";
import { database } from "#server/db/database";
import { insertFile } from "#server/store/sql";
import type { ModelHint } from "#server/intake/queries";
import type { Kept } from "#server/store/fileStore";
import { fileStore } from "#server/store/store";
import type { ReadMaterial } from "#server/opening/readModel";
import type { KeptFiles } from "#server/intake/stages/keptFiles";
import type { Found } from "#server/intake/stages/found";
import { isOwnFault } from "#server/ownFault";
import type { TaskLimits } from "#server/pool/processPool";
import { pool } from "#server/pool/pool";
import { sentenceOf } from "#server/sentenceOf";

export const IS_MODEL = /\.(glb|gltf|obj|mtlx|usd[ac]?|ifc)$/i;
/** What a model does not name to be read with it: pictures, archives and other models. */
const IS_NO_PART =
  /\.(png|jpe?g|tiff?|webp|avif|tga|bmp|exr|hdr|zip|glb|gltf|obj|mtlx|usd[acz]?|txt|pdf|html?)$/i;

/** Text and geometry above this are not read whole. */
const LARGEST_MODEL = 1024 * 2 ** 20;
const LARGEST_TEXT = 256 * 2 ** 20;

export interface OpenedModels {
  found: Found[];
  ignored: IgnoredFile[];
  /** By set. */
  hints: Map<string, ModelHint>;
  /** Files that are part of a model's material, by scope and path, and so no pictures of their own. */
  used: Set<string>;
}

/** Reads the materials of the models among the files of one scope: each that has images becomes a set of its own. */
export async function openModels(
  scope: string,
  files: KeptFiles,
  limits: Partial<TaskLimits>,
): Promise<OpenedModels> {
  const opened: OpenedModels = { found: [], ignored: [], hints: new Map(), used: new Set() };
  const models = files.list().filter(([path]) => IS_MODEL.test(path));
  if (models.length === 0) return opened;
  const parts = files
    .list()
    .filter(([path, { bytes }]) => !IS_NO_PART.test(path) && bytes <= LARGEST_MODEL)
    .map(([path, { sha256 }]): [string, string] => [path.toLowerCase(), sha256]);
  await fileStore().withLocal(
    parts.map(([, sha256]) => sha256),
    async (pathOf) => {
      const beside = new Map(parts.map(([path, sha256]) => [path, pathOf(sha256)]));
      for (const [path, kept] of models) await openModel(opened, scope, path, kept, files, beside, limits);
    },
  );
  return opened;
}

/** Reads one model's materials into what is opened. @param beside where the files lie that it may name */
async function openModel(
  opened: OpenedModels,
  scope: string,
  path: string,
  kept: Kept,
  files: KeptFiles,
  beside: Map<string, string>,
  limits: Partial<TaskLimits>,
): Promise<void> {
  const shown = scope === "" ? path : `${scope}/${path}`;
  const say = (reason: string) => opened.ignored.push({ file: shown, kind: "model", reason });
  const largest = /\.glb$/i.test(path) ? LARGEST_MODEL : LARGEST_TEXT;
  if (kept.bytes > largest) {
    say(`It is larger than ${largest / 2 ** 20} MiB; its materials were not read.`);
    return;
  }
  try {
    const { materials, problems } = await fileStore().withLocal([kept.sha256], (pathOf) =>
      fileStore().collect((root, incoming) =>
        pool.readModel({ file: path, path: pathOf(kept.sha256), beside, root, incoming }, limits),
      ),
    );
    const taken: string[] = [];
    for (const [at, material] of materials.entries())
      if (await addMaterial(opened, scope, path, material, at, files, problems)) taken.push(material.name);
    say(
      [
        taken.length > 0
          ? `Its ${taken.length === 1 ? "material" : `${taken.length} materials`} with images came out as ${taken.length === 1 ? "a candidate" : "candidates"}; the geometry is not kept.`
          : "None of its materials has an image that is there.",
        ...problems.slice(0, 6),
      ].join(" "),
    );
  } catch (error) {
    if (isOwnFault(error) || limits.signal?.aborted) throw error;
    say(sentenceOf(error, "It is damaged, or of a kind that cannot be read; its materials were not read."));
  }
}

async function addMaterial(
  opened: OpenedModels,
  scope: string,
  path: string,
  material: ReadMaterial,
  at: number,
  files: KeptFiles,
  problems: string[],
): Promise<boolean> {
  const set = `${path}\n${at}`;
  const there: GivenRole[] = [];
  for (const { image, roles } of material.images) {
    const kept = "path" in image ? files.find(image.path) : image;
    if (!kept) {
      if ("path" in image)
        problems.push(
          `“${material.name.slice(0, 80)}” names an image that did not come along (${image.path.slice(0, 80)}).`,
        );
      continue;
    }
    if ("path" in image) opened.used.add(`${scope}\n${image.path.toLowerCase()}`);
    else await insertFile(database(), { ...image, mediaType: "application/octet-stream" });
    const file = "path" in image ? image.path : `${path}/${image.name}`;
    const { sha256, bytes } = kept;
    opened.found.push({ file, scope, sha256, bytes, given: { set, name: material.name, roles } });
    there.push(...roles);
  }
  if (there.length === 0) return false;
  // A map that did not come along leaves its value to speak for it.
  const values = withoutMapped(material.values, there);
  opened.hints.set(set, { from: path, repeat: material.repeat, values });
  return true;
}
