import { readFile } from "node:fs/promises";
import { Readable } from "node:stream";
import type { ModelMaterial, ModelReading } from "#core/formats/modelMaterial";
import { readGltf } from "#core/formats/readGltf";
import { readIfc } from "#core/formats/readIfc";
import { readMaterialX } from "#core/formats/readMaterialX";
import { readObj } from "#core/formats/readObj";
import { readUsd } from "#core/formats/readUsd";
import type { GivenRole } from "#core/candidates/candidate";
import { plainLine } from "#core/text/plainText";
import { folderStore } from "#server/store/folderStore";
import { safeName } from "#server/opening/safeName";

export interface ModelTask {
  /** Path of the model inside its download, and where it lies. */
  file: string;
  path: string;
  /** Where the files lie that it may name, by their path in small letters. */
  beside: Map<string, string>;
  /** Root of the file store, and a folder inside it for what is not whole yet. */
  root: string;
  incoming: string;
}

/** An image of a material: one that came beside the model, or one that lay inside it and is kept now. */
export type ReadImage = { path: string } | { name: string; sha256: string; bytes: number };

export interface ReadMaterial {
  name: string;
  images: { image: ReadImage; roles: GivenRole[] }[];
  values: ModelMaterial["values"];
  repeat: ModelMaterial["repeat"];
}

export interface ReadModel {
  materials: ReadMaterial[];
  problems: string[];
}

/** More materials than this are of no use to anybody, and could be made by the million. */
const MOST_MATERIALS = 2000;
/** As many problems as somebody reads. */
const MOST_PROBLEMS = 12;

/** Reads the materials of a model, and keeps the images that lie inside it. @throws {Refusal} */
export async function readModel(task: ModelTask): Promise<ReadModel> {
  const { materials, problems } = await readAny(task);
  const said = [...new Set(problems)].map((problem) => plainLine(problem));
  if (materials.length > MOST_MATERIALS)
    said.unshift(`It has ${materials.length} materials; the first ${MOST_MATERIALS} were read.`);
  const read: ReadMaterial[] = [];
  for (const material of materials.slice(0, MOST_MATERIALS)) read.push(await withImages(material, task));
  return { materials: read, problems: said.slice(0, MOST_PROBLEMS) };
}

async function readAny({ file, path, beside }: ModelTask): Promise<ModelReading> {
  const fileOf = async (other: string) => {
    const place = beside.get(safeName(other).toLowerCase());
    return place === undefined ? undefined : new Uint8Array(await readFile(place));
  };
  const textOf = async (other: string) => {
    const found = await fileOf(other);
    return found && Buffer.from(found).toString("utf8");
  };
  if (/\.(glb|gltf)$/i.test(file)) return readGltf(file, new Uint8Array(await readFile(path)), fileOf);
  if (/\.usd[ac]?$/i.test(file)) return readUsd(file, new Uint8Array(await readFile(path)));
  const text = await readFile(path, "utf8");
  if (/\.mtlx$/i.test(file)) return readMaterialX(file, text);
  if (/\.ifc$/i.test(file)) return readIfc(file, text);
  return readObj(file, text, textOf);
}

async function withImages(
  material: ModelMaterial,
  { root, incoming, file }: ModelTask,
): Promise<ReadMaterial> {
  const store = folderStore(root, incoming);
  const images = new Map<string, ReadMaterial["images"][number]>();
  for (const { role, channel, normalDirection, image } of material.maps) {
    const key = "path" in image ? image.path : `${file}/${image.name}`;
    let there = images.get(key);
    if (!there) {
      const read =
        "path" in image
          ? { path: safeName(image.path) }
          : { name: plainLine(image.name), ...(await store.keep(Readable.from([Buffer.from(image.bytes)]))) };
      images.set(key, (there = { image: read, roles: [] }));
    }
    there.roles.push({ role, channel, ...(normalDirection && { normalDirection }) });
  }
  const { values, repeat } = material;
  return { name: plainLine(material.name, 200) || "Material", images: [...images.values()], values, repeat };
}
