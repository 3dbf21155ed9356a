import { Readable } from "node:stream";
import type { ModelMaterial, ModelReading } from "#core/formats/modelMaterial";
import { readGltf } from "#core/formats/readGltf";
import { readMaterialX } from "#core/formats/readMaterialX";
import { readObj } from "#core/formats/readObj";
import { readUsda } from "#core/formats/readUsda";
import type { GivenRole, IgnoredFile } from "#core/maps/candidate";
import { database } from "#server/db/database";
import { insertFile } from "#server/db/files";
import type { ModelHint } from "#server/db/intakes";
import { fileStore } from "#server/files/store";
import type { Found } from "#server/intake/unpack";

/** A file of an intake by its path inside its scope. */
export interface KeptFile {
  sha256: string;
  bytes: number;
}

export const IS_MODEL = /\.(glb|gltf|obj|mtlx|usda)$/i;

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
export async function openModels(scope: string, files: Map<string, KeptFile>): Promise<OpenedModels> {
  const opened: OpenedModels = { found: [], ignored: [], hints: new Map(), used: new Set() };
  for (const [path, kept] of files) {
    if (!IS_MODEL.test(path)) continue;
    const shown = scope === "" ? path : `${scope}/${path}`;
    const say = (reason: string) => opened.ignored.push({ file: shown, kind: "model", reason });
    const text = !/\.glb$/i.test(path);
    if (kept.bytes > (text ? LARGEST_TEXT : LARGEST_MODEL)) {
      say(
        `It is larger than ${(text ? LARGEST_TEXT : LARGEST_MODEL) / 2 ** 20} MiB; its materials were not read.`,
      );
      continue;
    }
    try {
      const { materials, problems } = await readModel(path, kept, files);
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
      say((error as Error).message);
    }
  }
  return opened;
}

async function readModel(path: string, kept: KeptFile, files: Map<string, KeptFile>): Promise<ModelReading> {
  const bytes = await fileStore().read(kept.sha256);
  const fileOf = async (other: string) => {
    const found = findFile(files, other);
    return found && found.bytes <= LARGEST_MODEL
      ? new Uint8Array(await fileStore().read(found.sha256))
      : undefined;
  };
  if (/\.(glb|gltf)$/i.test(path)) return readGltf(path, new Uint8Array(bytes), fileOf);
  const text = bytes.toString("utf8");
  if (/\.mtlx$/i.test(path)) return readMaterialX(path, text);
  if (/\.usda$/i.test(path)) return readUsda(path, text);
  return readObj(path, text, async (other) => {
    const found = await fileOf(other);
    return found && Buffer.from(found).toString("utf8");
  });
}

/** A path as it is written, or in other case: models are often made where case does not count. */
function findFile(files: Map<string, KeptFile>, path: string): KeptFile | undefined {
  return files.get(path) ?? [...files].find(([one]) => one.toLowerCase() === path.toLowerCase())?.[1];
}

async function addMaterial(
  opened: OpenedModels,
  scope: string,
  path: string,
  material: ModelMaterial,
  at: number,
  files: Map<string, KeptFile>,
  problems: string[],
): Promise<boolean> {
  const set = `${path}\u0000${at}`;
  const images = new Map<string, { kept: KeptFile; file: string; roles: GivenRole[] }>();
  for (const { role, channel, normalDirection, image } of material.maps) {
    const name = "path" in image ? image.path : `${path}/${image.name}`;
    const kept = "path" in image ? findFile(files, image.path) : await keepBytes(image.bytes);
    if (!kept) {
      problems.push(`“${material.name}” names an image that did not come along (${name.slice(0, 80)}).`);
      continue;
    }
    if ("path" in image) opened.used.add(`${scope}\u0000${image.path.toLowerCase()}`);
    const there = images.get(name) ?? { kept, file: name, roles: [] };
    images.set(name, there);
    there.roles.push({ role, channel, ...(normalDirection && { normalDirection }) });
  }
  for (const { kept, file, roles } of images.values())
    opened.found.push({ file, scope, ...kept, given: { set, name: material.name, roles } });
  if (images.size > 0)
    opened.hints.set(set, { from: path, repeat: material.repeat, values: material.values });
  return images.size > 0;
}

async function keepBytes(bytes: Uint8Array): Promise<KeptFile> {
  const kept = await fileStore().keep(Readable.from([Buffer.from(bytes)]));
  await insertFile(database(), { ...kept, mediaType: "application/octet-stream" });
  return kept;
}
