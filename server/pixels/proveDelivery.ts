import { mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { unzipSync } from "fflate";
import type { Profile } from "#core/convert/profile";
import { heightAmplitude } from "#core/finish/finish";
import type { ModelReading } from "#core/formats/modelMaterial";
import { readIfc } from "#core/formats/readIfc";
import { readMaterialX } from "#core/formats/readMaterialX";
import { readObj } from "#core/formats/readObj";
import { readUsd } from "#core/formats/readUsd";
import type { Repeat } from "#core/length/repeat";
import { detailLevel } from "#core/picture/detail";
import { roleTexture } from "#core/picture/roleTexture";
import type { DrawnMaterial, Textures } from "#core/picture/surfaceReader";
import { imageCause, lossCause, reductionCause, type ExpectedImage } from "#core/proof/imageCause";
import { prove, PROOF_LIMIT, type Proof } from "#core/proof/prove";
import { readGlbPackage } from "#core/proof/readGlbPackage";
import { readDocument } from "#core/proof/readDocument";
import { isColorInput, readPackage, UNKNOWN_SIZE, type Place } from "#core/proof/readPackage";
import { SCENES, sceneView } from "#core/proof/scenes";
import type { Raster } from "#core/raster/raster";
import type { Role } from "#core/roles/roles";
import { Refusal } from "#core/text/refusal";
import { extractChannel } from "#core/convert/kernels/channels";
import { decode } from "#server/pixels/decode";
import { drawnMaterial, type MaterialTask } from "#server/pixels/drawPicture";
import { encode } from "#server/pixels/encode";

interface Wired {
  /** The inputs whose images the document has a place for. */
  wired: string[];
}

export interface ProveTask {
  material: MaterialTask;
  profile: Profile;
  delivered:
    | {
        kind: "images";
        files: { slot: string; path: string; format: string }[];
        settings: Record<string, string | number | boolean>;
      }
    | ({
        kind: "document";
        /** Its parts, by their ending. */
        parts: { extension: string; path: string }[];
        files: { slot: string; name: string; path: string; format: string }[];
      } & Wired)
    | ({
        /** A document with its images in one archive. */
        kind: "package";
        path: string;
        files: { slot: string; name: string; format: string }[];
      } & Wired)
    | { kind: "glb"; path: string };
  expected: ExpectedImage[];
  /** What the plan said that the renderer cannot take, in words. */
  notCarried: string[];
  /** And of which maps it said that there is no place for them. */
  withoutPlace: string[];
  /** The size that the delivered images are meant to have. */
  intended: Repeat | null;
}

/** Proves a delivery from its files. @returns the figures, and the sheet of pictures as a PNG */
export async function proveDelivery(task: ProveTask): Promise<{ proof: Proof; sheet: Uint8Array }> {
  const { mmPerPx } = sceneView(SCENES[0], task.material.repeat);
  const place = {
    reduce: (raster: Raster, size: { width: number; height: number }) =>
      2 ** detailLevel(raster, size, mmPerPx),
    wraps: task.material.wraps,
  };
  const material = await drawnMaterial(task.material, mmPerPx);
  const { seen, problems } = await seenIn(task, place);
  const { proof, sheet } = prove(material, seen, task.intended ?? UNKNOWN_SIZE);
  const causes = [...problems, ...proof.causes];
  if (causes.length === 0 && proof.scenes[proof.worst].mean > PROOF_LIMIT) causes.push(...otherCauses(task));
  return { proof: { ...proof, causes }, sheet: await encode(sheet, "png") };
}

async function seenIn(
  { delivered, profile, expected }: ProveTask,
  place: Place,
): Promise<{ seen: DrawnMaterial; problems: string[] }> {
  if (delivered.kind === "images") return seenInImages(profile, delivered, expected, place);
  if (delivered.kind === "glb") return { seen: await seenInGlb(delivered.path, place), problems: [] };
  if (delivered.kind === "document") return seenInDocument(profile, delivered, expected, place);
  const inside = unzipSync(new Uint8Array(await readFile(delivered.path)));
  return inFolder(async (folder) => {
    const put = async (name: string) => {
      const path = join(folder, name.replaceAll(/[^\w.-]/g, "_"));
      await writeFile(path, inside[name]);
      return path;
    };
    const files = delivered.files.filter(({ name }) => inside[name]);
    const layer = Object.keys(inside).find((name) => name.endsWith(".usda"));
    const opened: Extract<ProveTask["delivered"], { kind: "document" }> = {
      kind: "document",
      parts: layer === undefined ? [] : [{ extension: "usda", path: await put(layer) }],
      files: await Promise.all(files.map(async (file) => ({ ...file, path: await put(file.name) }))),
      wired: delivered.wired,
    };
    return seenInDocument(profile, opened, expected, place);
  });
}

/** What the material file wires up, read by what takes such files in. */
async function seenInDocument(
  profile: Profile,
  { parts, files, wired }: Extract<ProveTask["delivered"], { kind: "document" }>,
  expected: ExpectedImage[],
  place: Place,
) {
  const problems: string[] = [];
  const textOf = async (extension: string) => {
    const part = parts.find((one) => one.extension === extension);
    return part && readFile(part.path, "utf8");
  };
  const { materials, problems: said } = await materialsIn(textOf);
  const [material] = materials;
  if (!material) throw new Refusal(`There is no material in the file that was delivered. ${said.join(" ")}`);
  const named = new Set([
    ...material.maps.map(({ image }) => ("path" in image ? image.path : image.name)),
    ...(material.wear ?? []).map(({ path }) => path),
  ]);
  for (const one of expected) {
    const file = files.find(({ slot }) => slot === one.slot);
    if (!file && wired.includes(one.slot)) problems.push(imageCause(one, undefined)!);
    else if (file && wired.includes(one.slot) && !named.has(file.name))
      problems.push(`The material file does not use the image for ${one.slot}.`);
  }
  // An image may be of several roles, and of the kind of each.
  const decoded = new Map<string, Promise<Raster>>();
  const imageOf = async (name: string, isColor: boolean) => {
    const file = files.find((one) => one.name === name);
    if (!file) {
      problems.push(`The material file names an image that was not delivered (${name.slice(0, 80)}).`);
      return undefined;
    }
    const key = `${name} ${isColor}`;
    const known = decoded.get(key);
    if (known) return known;
    const reading = decode(file.path, file.format, isColor ? "color" : "data");
    decoded.set(key, reading);
    const wanted = expected.find(({ slot }) => slot === file.slot);
    const problem = wanted && imageCause(wanted, await reading);
    if (problem && !problems.includes(problem)) problems.push(problem);
    return reading;
  };
  return { seen: await readDocument(profile, material, imageOf, place), problems };
}

async function materialsIn(
  textOf: (extension: string) => Promise<string | undefined>,
): Promise<ModelReading> {
  const materialX = await textOf("mtlx");
  if (materialX !== undefined) return readMaterialX("material.mtlx", materialX);
  const layer = await textOf("usda");
  if (layer !== undefined) return readUsd("material.usda", layer);
  const ifc = await textOf("ifc");
  if (ifc !== undefined) return readIfc("material.ifc", ifc);
  const model = await textOf("obj");
  return model === undefined
    ? { materials: [], problems: [] }
    : readObj("material.obj", model, () => textOf("mtl"));
}

/** Work with a folder that is there for as long. */
async function inFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), "kalonomy-proof-"));
  try {
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** What is no mistake: what the renderer has no input for, and images that are smaller. */
function otherCauses({ notCarried, withoutPlace, expected }: ProveTask): string[] {
  const found = [
    ...withoutPlace,
    ...notCarried.map((words) => `The renderer does not get ${words}`),
    ...[reductionCause(expected), lossCause(expected)].filter((cause) => cause !== undefined),
  ];
  return found.length > 0 ? found : ["No single mistake explains it."];
}

async function seenInImages(
  profile: Profile,
  { files, settings }: Extract<ProveTask["delivered"], { kind: "images" }>,
  expected: ExpectedImage[],
  place: Place,
) {
  const problems: string[] = expected
    .filter(({ slot }) => !files.some((file) => file.slot === slot))
    .map((one) => imageCause(one, undefined)!);
  const images = new Map(
    files.map(({ slot, path, format }) => [
      slot,
      async () => {
        const raster = await decode(path, format, isColorInput(profile, slot) ? "color" : "data");
        const wanted = expected.find((one) => one.slot === slot);
        const problem = wanted && imageCause(wanted, raster);
        if (problem) problems.push(problem);
        return raster;
      },
    ]),
  );
  return { seen: await readPackage(profile, { images, settings }, place), problems };
}

/** What glTF's images hold, by place. */
const ROLES_OF: Record<string, Role[]> = {
  packed: ["ambient_occlusion", "specular_roughness", "base_metalness"],
  baseColor: ["base_color"],
  normal: ["geometry_normal"],
  emission: ["emission_color"],
};

async function seenInGlb(path: string, place: Place): Promise<DrawnMaterial> {
  const found = await readGlbPackage(new Uint8Array(await readFile(path)));
  const repeat = found.repeat ?? UNKNOWN_SIZE;
  const textures: Textures = {};
  const lay = (role: Role, raster: Raster) => {
    const [as, texture] = roleTexture(
      { role, channel: "color", normalDirection: "+Y", raster },
      { reduce: place.reduce(raster, repeat), wraps: place.wraps },
    );
    textures[as] = texture;
  };
  await inFolder(async (folder) => {
    for (const [name, { bytes, format }] of Object.entries(found.images)) {
      const file = join(folder, name);
      await writeFile(file, bytes);
      const isColor = name === "baseColor" || name === "emission";
      const raster = await decode(file, format, isColor ? "color" : "data");
      const roles = ROLES_OF[name];
      if (name === "packed")
        for (const [at, role] of roles.entries()) {
          if (role !== "ambient_occlusion" || found.hasOcclusion)
            lay(role, raster.channels < 3 ? raster : extractChannel(raster, at));
        }
      else lay(roles[0], raster);
      if (name === "baseColor" && found.hasOpacity && raster.channels === 4)
        lay("geometry_opacity", extractChannel(raster, 3));
    }
  });
  const { finish } = found;
  return { textures, finish, repeat, heightMm: heightAmplitude(finish, null).mm };
}
