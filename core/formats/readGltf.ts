import { Refusal } from "#core/text/refusal";
import { WebIO, type Accessor, type Document, type GLTF, type Primitive } from "@gltf-transform/core";
import { EXTTextureWebP, KHRTextureTransform, type Transform } from "@gltf-transform/extensions";
import { metresPerUv, type UvTriangle } from "#core/formats/metresPerUv";
import {
  resolvePath,
  type ModelMap,
  type ModelMaterial,
  type ModelReading,
} from "#core/formats/modelMaterial";
import { fittingValues, unit, type FileValues } from "#core/formats/fittingValues";
import { linearToHex } from "#core/raster/srgb";

/** Triangles looked at in one model: more do not change a median. */
const MOST_TRIANGLES = 200_000;

/**
 * Reads the materials of a glTF 2.0 model, binary or with its files, and what its geometry says of their real size. Images
 * beside it are named by their path, those inside it come with their bytes.
 * @param fileOf gives a file by its path in the download, or undefined
 * @throws with a sentence where it is no glTF
 */
export async function readGltf(
  path: string,
  bytes: Uint8Array,
  fileOf: (path: string) => Promise<Uint8Array | undefined>,
): Promise<ModelReading> {
  const io = new WebIO().registerExtensions([KHRTextureTransform, EXTTextureWebP]);
  const problems: string[] = [];
  const isGlb =
    bytes.length > 12 && bytes[0] === 0x67 && bytes[1] === 0x6c && bytes[2] === 0x54 && bytes[3] === 0x46;
  let json: GLTF.IGLTF;
  let resources: Record<string, Uint8Array<ArrayBuffer>> = {};
  try {
    if (isGlb) ({ json, resources } = await io.binaryToJSON(new Uint8Array(bytes)));
    else json = JSON.parse(new TextDecoder().decode(bytes)) as GLTF.IGLTF;
    if (!json.asset?.version?.startsWith("2")) throw new Error("version");
  } catch {
    throw new Refusal("It is no glTF 2.0 model that can be read.");
  }
  await loadBuffers(json, resources, path, fileOf, problems);
  const materials = (json.materials ?? []).map((material, i) =>
    readMaterial(json, resources, material, i, path, problems),
  );
  const sizes = await sizesOf(io, json, resources, problems);
  for (const [i, size] of sizes.entries()) if (materials[i]) materials[i].repeat = size;
  return { materials, problems };
}

/** Gets the bytes of each buffer, and leaves out those that are shorter than they say. */
async function loadBuffers(
  json: GLTF.IGLTF,
  resources: Record<string, Uint8Array>,
  path: string,
  fileOf: (path: string) => Promise<Uint8Array | undefined>,
  problems: string[],
): Promise<void> {
  for (const [i, buffer] of (json.buffers ?? []).entries()) {
    const key = buffer.uri ?? "@glb.bin";
    if (buffer.uri && !resources[key]) {
      const data = buffer.uri.startsWith("data:") ? fromDataUri(buffer.uri) : undefined;
      const place = data ? undefined : resolvePath(path, decoded(buffer.uri));
      const found = data ?? (place === undefined ? undefined : await fileOf(place));
      if (found) resources[key] = found;
      else
        problems.push(
          place === undefined
            ? `Its geometry is said to lie outside its folder (${buffer.uri.slice(0, 80)}); that was not followed.`
            : `Its geometry is missing (${buffer.uri.slice(0, 80)}).`,
        );
    }
    const there = resources[key]?.length ?? 0;
    if (there < buffer.byteLength) {
      problems.push(
        `Its buffer ${i + 1} says that it has ${buffer.byteLength} bytes and has ${there}; no size was read from it.`,
      );
      delete resources[key];
    }
  }
}

/** A URI with its escapes undone, or as it is where they are broken. */
function decoded(uri: string): string {
  try {
    return decodeURIComponent(uri);
  } catch {
    return uri;
  }
}

function fromDataUri(uri: string): Uint8Array | undefined {
  const match = /^data:[^,;]*(;base64)?,/.exec(uri);
  if (!match?.[1]) return undefined;
  return Uint8Array.from(atob(uri.slice(match[0].length)), (c) => c.charCodeAt(0));
}

function readMaterial(
  json: GLTF.IGLTF,
  resources: Record<string, Uint8Array>,
  material: GLTF.IMaterial,
  at: number,
  path: string,
  problems: string[],
): ModelMaterial {
  const name = material.name?.trim() || `Material ${at + 1}`;
  const pbr = material.pbrMetallicRoughness ?? {};
  const maps: ModelMap[] = [];
  const add = (info: { index: number } | undefined, ...roles: Omit<ModelMap, "image">[]) => {
    const image = info && imageOf(json, resources, info.index, path, problems, name);
    if (image) for (const role of roles) maps.push({ ...role, image });
  };
  add(pbr.baseColorTexture, { role: "base_color", channel: "color" });
  if (material.alphaMode && material.alphaMode !== "OPAQUE")
    add(pbr.baseColorTexture, { role: "geometry_opacity", channel: "alpha" });
  add(
    pbr.metallicRoughnessTexture,
    { role: "specular_roughness", channel: "green" },
    { role: "base_metalness", channel: "blue" },
  );
  add(material.normalTexture, { role: "geometry_normal", channel: "color", normalDirection: "+Y" });
  add(material.occlusionTexture, { role: "ambient_occlusion", channel: "red" });
  add(material.emissiveTexture, { role: "emission_color", channel: "color" });
  return {
    name,
    maps,
    values: valuesOf(material),
    repeat: null,
  };
}

/** The values of a material that no image says; those of the extensions that the Khronos group has ratified. */
function valuesOf(material: GLTF.IMaterial): FileValues {
  const pbr = material.pbrMetallicRoughness ?? {};
  const of = (extension: string) =>
    (material.extensions?.[`KHR_materials_${extension}`] ?? undefined) as Record<string, unknown> | undefined;
  const number = (value: unknown, otherwise?: number) => (typeof value === "number" ? value : otherwise);
  const color = (value: unknown) =>
    Array.isArray(value) && value.length >= 3 && value.every((one) => typeof one === "number")
      ? (value as number[])
      : undefined;
  const hex = (value: unknown) => {
    const numbers = color(value);
    return numbers && linearToHex(numbers);
  };
  const [specular, coat, sheen, transmission, volume, strength] = [
    of("specular"),
    of("clearcoat"),
    of("sheen"),
    of("transmission"),
    of("volume"),
    of("emissive_strength"),
  ];
  const fuzz = color(sheen?.sheenColorFactor) ?? [0];
  const most = Math.max(...fuzz);
  const depth = number(volume?.attenuationDistance);
  const emitted = color(material.emissiveFactor) ?? [0];
  const emits = Math.max(...emitted) > 0 ? number(strength?.emissiveStrength) : undefined;
  return fittingValues({
    color: pbr.baseColorTexture ? undefined : hex(pbr.baseColorFactor),
    ...(!pbr.metallicRoughnessTexture && {
      roughness: unit(number(pbr.roughnessFactor, 1)!),
      metalness: unit(number(pbr.metallicFactor, 1)!),
    }),
    ior: number(of("ior")?.ior),
    ...(specular && {
      specularWeight: number(specular.specularFactor),
      specularColor: hex(specular.specularColorFactor),
    }),
    ...(coat && {
      coatWeight: number(coat.clearcoatFactor, 0),
      coatRoughness: number(coat.clearcoatRoughnessFactor, 0),
    }),
    ...(most > 0 && { fuzzWeight: unit(most), fuzzColor: linearToHex(fuzz.map((value) => value / most)) }),
    ...(transmission && { transmissionWeight: number(transmission.transmissionFactor, 0) }),
    ...(volume && {
      transmissionColor: hex(volume.attenuationColor),
      transmissionDepthMm: depth === undefined ? undefined : depth * 1000,
    }),
    ...(material.doubleSided && transmission && !volume && { thinWalled: true }),
    emissionNits: emits,
    ...(emits !== undefined && !material.emissiveTexture && { emissionColor: hex(emitted) }),
    ...(material.alphaMode === "MASK" && {
      opacityMode: "cut-out",
      opacityThreshold: number(material.alphaCutoff, 0.5),
    }),
    ...(material.alphaMode === "BLEND" && { opacityMode: "blend" }),
    ...(material.normalTexture?.scale !== undefined && { normalStrength: material.normalTexture.scale }),
    ...(material.occlusionTexture?.strength !== undefined && {
      occlusionStrength: material.occlusionTexture.strength,
    }),
  });
}

function imageOf(
  json: GLTF.IGLTF,
  resources: Record<string, Uint8Array>,
  texture: number,
  path: string,
  problems: string[],
  material: string,
): ModelMap["image"] | undefined {
  const { source: usual, extensions } = json.textures?.[texture] ?? {};
  // Where it is there besides, the usual image is for those that cannot read the other.
  const webp = (extensions?.EXT_texture_webp as { source?: unknown } | undefined)?.source;
  const source = typeof webp === "number" ? webp : usual;
  const image = source === undefined ? undefined : json.images?.[source];
  if (!image) {
    problems.push(`“${material}” names a texture that the model does not have.`);
    return undefined;
  }
  // What a binary model holds as a data URI is a resource by now.
  if (image.uri && resources[image.uri])
    return { name: image.name ?? `image ${source}`, bytes: resources[image.uri] };
  if (image.uri?.startsWith("data:")) {
    const bytes = fromDataUri(image.uri);
    if (bytes) return { name: image.name ?? `image ${source}`, bytes };
  } else if (image.uri) {
    const place = resolvePath(path, decoded(image.uri));
    if (place !== undefined) return { path: place };
    problems.push(
      `“${material}” names an image outside the download (${image.uri.slice(0, 80)}); that was not followed.`,
    );
    return undefined;
  }
  const view = image.bufferView === undefined ? undefined : json.bufferViews?.[image.bufferView];
  const buffer = view && resources[json.buffers?.[view.buffer]?.uri ?? "@glb.bin"];
  const start = view?.byteOffset ?? 0;
  if (!view || !buffer || start + view.byteLength > buffer.length) {
    problems.push(`“${material}” names an image whose bytes are not in the model.`);
    return undefined;
  }
  return { name: image.name ?? `image ${source}`, bytes: buffer.subarray(start, start + view.byteLength) };
}

/** Repeats in millimetres by the material's place; null where no geometry uses it. */
async function sizesOf(
  io: WebIO,
  json: GLTF.IGLTF,
  resources: Record<string, Uint8Array>,
  problems: string[],
): Promise<(ModelMaterial["repeat"] | null)[]> {
  const without = { ...json, images: [], textures: json.textures?.map(({ sampler }) => ({ sampler })) };
  let document: Document;
  try {
    document = await io.readJSON({
      json: {
        ...without,
        extensionsRequired: [],
        extensionsUsed: [],
        textures: undefined,
        images: undefined,
        materials: json.materials?.map(({ name }) => ({ name })),
      } as GLTF.IGLTF,
      resources: resources as Record<string, Uint8Array<ArrayBuffer>>,
    });
  } catch {
    if (problems.length === 0)
      problems.push("Its geometry cannot be read, so it says nothing of real sizes.");
    return [];
  }
  const listed = document.getRoot().listMaterials();
  const triangles = listed.map((): UvTriangle[] => []);
  let count = 0;
  for (const node of document.getRoot().listNodes())
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
      const material = primitive.getMaterial();
      const at = material ? listed.indexOf(material) : -1;
      if (at < 0 || count > MOST_TRIANGLES) continue;
      for (const triangle of trianglesOf(primitive, node.getWorldMatrix())) {
        triangles[at].push(triangle);
        if (++count > MOST_TRIANGLES) break;
      }
    }
  return triangles.map((list, i) => {
    const metres = metresPerUv(list);
    const info = json.materials?.[i]?.pbrMetallicRoughness?.baseColorTexture;
    const transform = info?.extensions?.["KHR_texture_transform"] as
      Transform | { scale?: number[] } | undefined;
    const [su, sv] = (transform as { scale?: number[] } | undefined)?.scale ?? [1, 1];
    if (!metres || !(Math.abs(su) > 1e-9) || !(Math.abs(sv) > 1e-9)) return null;
    return { width: (metres.u * 1000) / Math.abs(su), height: (metres.v * 1000) / Math.abs(sv) };
  });
}

function* trianglesOf(primitive: Primitive, matrix: number[]): Generator<UvTriangle> {
  const [position, uv, index] = [
    primitive.getAttribute("POSITION"),
    primitive.getAttribute("TEXCOORD_0"),
    primitive.getIndices(),
  ];
  if (!position || !uv || primitive.getMode() !== 4) return;
  const count = index?.getCount() ?? position.getCount();
  for (let i = 0; i + 2 < count; i += 3) {
    const corners = [0, 1, 2].map((k) => (index ? index.getScalar(i + k) : i + k));
    if (corners.some((at) => at >= position.getCount() || at >= uv.getCount())) return;
    yield {
      positions: corners.map((at) => moved(element(position, at), matrix)) as UvTriangle["positions"],
      uvs: corners.map((at) => element(uv, at)) as UvTriangle["uvs"],
    };
  }
}

const element = (accessor: Accessor, at: number): number[] => accessor.getElement(at, []);

/** A point by a column-major 4 × 4 matrix. */
function moved([x, y, z]: number[], m: number[]): number[] {
  return [0, 1, 2].map((i) => m[i] * x + m[4 + i] * y + m[8 + i] * z + m[12 + i]);
}
