import { fittingValues, unit } from "#core/formats/fittingValues";
import { metresPerUv, type UvTriangle } from "#core/formats/metresPerUv";
import {
  resolvePath,
  type ModelMap,
  type ModelMaterial,
  type ModelReading,
} from "#core/formats/modelMaterial";
import { stepRecords, type StepRecord, type StepValue } from "#core/formats/stepLines";
import { linearToHex, srgbToLinear } from "#core/raster/srgb";
import { Refusal } from "#core/text/refusal";

const WANTED = new Set([
  "IFCSIUNIT",
  "IFCCOLOURRGB",
  "IFCSURFACESTYLE",
  "IFCSURFACESTYLERENDERING",
  "IFCSURFACESTYLESHADING",
  "IFCSURFACESTYLEREFRACTION",
  "IFCSURFACESTYLEWITHTEXTURES",
  "IFCIMAGETEXTURE",
  "IFCCARTESIANTRANSFORMATIONOPERATOR2DNONUNIFORM",
  "IFCCARTESIANTRANSFORMATIONOPERATOR2D",
  "IFCCARTESIANPOINTLIST3D",
  "IFCTRIANGULATEDFACESET",
  "IFCTEXTUREVERTEXLIST",
  "IFCINDEXEDTRIANGLETEXTUREMAP",
]);
/** A building has more of them; those of its styles are among the first million. */
const MOST_RECORDS = 300_000;
const MOST_TRIANGLES = 50_000;

/** What the mode of a texture means: the words of IFC 4.3, and those of IFC 4 and 2x3 before it. */
const MODES: Record<string, Omit<ModelMap, "image">[]> = {
  DIFFUSE: [{ role: "base_color", channel: "color" }],
  TEXTURE: [{ role: "base_color", channel: "color" }],
  NORMAL: [{ role: "geometry_normal", channel: "color" }],
  METALLICROUGHNESS: [
    { role: "specular_roughness", channel: "green" },
    { role: "base_metalness", channel: "blue" },
  ],
  OCCLUSION: [{ role: "ambient_occlusion", channel: "red" }],
  EMISSIVE: [{ role: "emission_color", channel: "color" }],
  OPACITY: [{ role: "geometry_opacity", channel: "color" }],
  TRANSPARENCYMAP: [{ role: "geometry_opacity", channel: "color" }],
  BUMP: [{ role: "height", channel: "color" }],
};

/**
 * Reads the surface styles of an IFC file: their images, values, and their size where a face set has coordinates for them.
 * @throws {Refusal} where it is no exchange file
 */
export function readIfc(path: string, text: string): ModelReading {
  if (!text.slice(0, 2000).includes("ISO-10303-21")) throw new Refusal("It is no IFC file (ISO-10303-21).");
  const records = stepRecords(text, WANTED, MOST_RECORDS);
  const problems: string[] = [];
  if (records.size >= MOST_RECORDS)
    problems.push(`It has more than ${MOST_RECORDS} styles, textures and face sets; the first were read.`);
  const at = (value: StepValue | undefined): StepRecord | undefined =>
    value?.kind === "reference" ? records.get(value.id) : undefined;
  const metres = metresByTexture(records, at, metresPerUnit(records));
  const materials: ModelMaterial[] = [];
  for (const { entity, values } of records.values()) {
    if (entity !== "IFCSURFACESTYLE") continue;
    const parts = listOf(values[2]).map(at);
    const textures = parts.find((part) => part?.entity === "IFCSURFACESTYLEWITHTEXTURES");
    const images = listOf(textures?.values[0]);
    const material: ModelMaterial = {
      name: textOf(values[0]) || "Material",
      maps: [],
      values: valuesOf(parts, at),
      repeat: null,
    };
    for (const image of images) addTexture(material, at(image), path, problems);
    material.repeat = repeatOf(images, at, metres);
    materials.push(material);
  }
  if (materials.length === 0) problems.push("It has no surface styles.");
  return { materials, problems };
}

type At = (value: StepValue | undefined) => StepRecord | undefined;

const listOf = (value: StepValue | undefined): StepValue[] => (value?.kind === "list" ? value.values : []);
const textOf = (value: StepValue | undefined): string => (value?.kind === "text" ? value.text : "");
const numberOf = (value: StepValue | undefined): number | undefined =>
  value?.kind === "number" ? value.number : undefined;

function valuesOf(parts: (StepRecord | undefined)[], at: At): ModelMaterial["values"] {
  const part = (...entities: string[]) => parts.find((one) => one && entities.includes(one.entity));
  const rendering = part("IFCSURFACESTYLERENDERING");
  const shading = rendering ?? part("IFCSURFACESTYLESHADING");
  const rgb = at(shading?.values[0])?.values.slice(1, 4).map(numberOf);
  const highlight = rendering?.values[7];
  const roughness =
    highlight?.kind === "typed" && highlight.type === "IFCSPECULARROUGHNESS"
      ? numberOf(highlight.values[0])
      : undefined;
  const method = rendering?.values[8];
  return fittingValues({
    ...(rgb?.length === 3 &&
      rgb.every((value) => value !== undefined) && {
        color: linearToHex(rgb.map((value) => srgbToLinear(unit(value)))),
      }),
    roughness: roughness === undefined ? undefined : unit(roughness),
    metalness: method?.kind === "word" && method.word === ".METAL." ? 1 : undefined,
    ior: numberOf(part("IFCSURFACESTYLEREFRACTION")?.values[0]),
  });
}

function addTexture(
  material: ModelMaterial,
  texture: StepRecord | undefined,
  path: string,
  problems: string[],
): void {
  if (texture?.entity !== "IFCIMAGETEXTURE") return;
  const mode = textOf(texture.values[2]).trim().toUpperCase();
  const file = textOf(texture.values[5]);
  // A texture that does not say what it is for is the colour.
  const maps = Object.hasOwn(MODES, mode) ? MODES[mode] : mode === "" ? MODES.DIFFUSE : [];
  const place = file === "" ? undefined : resolvePath(path, file);
  if (maps.length === 0)
    problems.push(
      `“${material.name}” has a texture for “${mode.slice(0, 40)}”, which is not known; it was left out.`,
    );
  else if (place === undefined)
    problems.push(
      `“${material.name}” names an image outside the download (${file.slice(0, 80) || "no name"}); that was not followed.`,
    );
  else
    for (const map of maps)
      if (!material.maps.some(({ role }) => role === map.role))
        material.maps.push({ ...map, image: { path: place } });
}

/** Of the first unit of lengths: the others are of areas and angles. */
function metresPerUnit(records: Map<number, StepRecord>): number {
  const PREFIXES: Record<string, number> = {
    ".MILLI.": 0.001,
    ".CENTI.": 0.01,
    ".DECI.": 0.1,
    ".KILO.": 1000,
  };
  for (const { entity, values } of records.values())
    if (entity === "IFCSIUNIT" && values[1]?.kind === "word" && values[1].word === ".LENGTHUNIT.")
      return values[2]?.kind === "word" && Object.hasOwn(PREFIXES, values[2].word)
        ? PREFIXES[values[2].word]
        : 1;
  return 1;
}

/** How many metres a unit of the coordinates covers, by the number of a texture. */
function metresByTexture(
  records: Map<number, StepRecord>,
  at: At,
  metres: number,
): Map<number, { u: number; v: number }> {
  const found = new Map<number, { u: number; v: number }>();
  for (const { entity, values } of records.values()) {
    if (entity !== "IFCINDEXEDTRIANGLETEXTUREMAP") continue;
    const faces = at(values[1]);
    const corners = listOf(at(values[2])?.values[0]).map(numbersIn);
    const points = listOf(at(faces?.values[0])?.values[0]).map((one) =>
      numbersIn(one).map((n) => n * metres),
    );
    const positions = listOf(faces?.values[3]).map(numbersIn);
    const uvs = listOf(values[3]).map(numbersIn);
    const triangles = positions.slice(0, MOST_TRIANGLES).flatMap((three, i): UvTriangle[] => {
      const ps = three.map((n) => points[n - 1]);
      const ts = (uvs[i] ?? three).map((n) => corners[n - 1]);
      const isWhole =
        ps.length === 3 &&
        ts.length === 3 &&
        ps.every((p) => p?.length === 3) &&
        ts.every((t) => t?.length === 2);
      return isWhole ? [{ positions: ps as UvTriangle["positions"], uvs: ts as UvTriangle["uvs"] }] : [];
    });
    const size = metresPerUv(triangles);
    if (size)
      for (const texture of listOf(values[0])) if (texture.kind === "reference") found.set(texture.id, size);
  }
  return found;
}

const numbersIn = (value: StepValue): number[] => listOf(value).map((one) => numberOf(one) ?? NaN);

/** A texture's transform scales the coordinates to repeats. */
function repeatOf(
  images: StepValue[],
  at: At,
  metres: Map<number, { u: number; v: number }>,
): ModelMaterial["repeat"] {
  for (const image of images) {
    const size = image.kind === "reference" ? metres.get(image.id) : undefined;
    if (!size) continue;
    const transform = at(at(image)?.values[3])?.values;
    const scale = numberOf(transform?.[3]) ?? 1;
    const scale2 = numberOf(transform?.[4]) ?? scale;
    if (scale > 1e-9 && scale2 > 1e-9)
      return { width: (size.u * 1000) / scale, height: (size.v * 1000) / scale2 };
  }
  return null;
}
