import { metresPerUv, type UvTriangle } from "#core/formats/metresPerUv";
import {
  resolvePath,
  type ModelMap,
  type ModelMaterial,
  type ModelReading,
} from "#core/formats/modelMaterial";
import { fittingValues, unit, type FileValues } from "#core/formats/fittingValues";
import type { Role } from "#core/roles/roles";
import { linearToHex } from "#core/raster/srgb";

const MOST_TRIANGLES = 200_000;
/** Libraries and materials of one model: more are made to hurt. */
const MOST_LIBRARIES = 200;
const MOST_MATERIALS = 10_000;

const MAPS: Record<string, Role> = {
  map_kd: "base_color",
  map_ke: "emission_color",
  map_ks: "specular_color",
  map_ns: "gloss",
  map_d: "geometry_opacity",
  map_pr: "specular_roughness",
  map_pm: "base_metalness",
  map_bump: "bump",
  bump: "bump",
  norm: "geometry_normal",
  map_kn: "geometry_normal",
  disp: "height",
};

/** How many words follow an option of a map statement. */
const OPTION_WORDS: Record<string, number> = {
  "-blendu": 1,
  "-blendv": 1,
  "-cc": 1,
  "-clamp": 1,
  "-bm": 1,
  "-boost": 1,
  "-imfchan": 1,
  "-texres": 1,
  "-mm": 2,
  "-type": 1,
};

/**
 * Reads the materials of an OBJ model with its MTL libraries, and what its geometry says of their real size, taken in metres
 * since the format has no unit.
 */
export async function readObj(
  path: string,
  text: string,
  textOf: (path: string) => Promise<string | undefined>,
): Promise<ModelReading> {
  const problems: string[] = [];
  const triangles = new Map<string, UvTriangle[]>();
  const libraries = geometry(text, triangles);
  const materials: (ModelMaterial & { uvScale: [number, number] })[] = [];
  for (const library of new Set(libraries)) {
    if (materials.length > MOST_MATERIALS) break;
    const place = resolvePath(path, library);
    const mtl = place === undefined ? undefined : await textOf(place);
    if (mtl === undefined)
      problems.push(
        `Its material library “${library.slice(0, 80)}” is ${place === undefined ? "outside its folder" : "missing"}.`,
      );
    else materials.push(...readMtl(place!, mtl, problems));
  }
  return {
    problems,
    materials: materials.map(({ uvScale: [su, sv], ...material }) => {
      const metres = metresPerUv(triangles.get(material.name) ?? []);
      return {
        ...material,
        values: fittingValues(material.values),
        repeat: metres && { width: (metres.u * 1000) / su, height: (metres.v * 1000) / sv },
      };
    }),
  };
}

/** Collects triangles by material and gives the names of the libraries. */
function geometry(text: string, triangles: Map<string, UvTriangle[]>): string[] {
  const positions: number[][] = [];
  const uvs: number[][] = [];
  const libraries: string[] = [];
  let material = "";
  let count = 0;
  for (const line of linesOf(text)) {
    const [word, ...rest] = line.trim().split(/\s+/);
    if (word === "v") positions.push(rest.slice(0, 3).map(Number));
    else if (word === "vt") uvs.push(rest.slice(0, 2).map(Number));
    else if (word === "usemtl") material = rest.join(" ");
    else if (word === "mtllib" && libraries.length < MOST_LIBRARIES) libraries.push(rest.join(" "));
    else if (word === "f" && count < MOST_TRIANGLES) {
      const corners = rest.map((corner) => {
        const [v, vt] = corner.split("/").map(Number);
        return { position: at(positions, v), uv: at(uvs, vt) };
      });
      for (let i = 1; i + 1 < corners.length; i++) {
        const three = [corners[0], corners[i], corners[i + 1]];
        if (three.some(({ position, uv }) => !position || !uv)) continue;
        const list = triangles.get(material) ?? [];
        triangles.set(material, list);
        list.push({
          positions: three.map(({ position }) => position) as UvTriangle["positions"],
          uvs: three.map(({ uv }) => uv) as UvTriangle["uvs"],
        });
        count++;
      }
    }
  }
  return libraries;
}

/** The lines of a text one by one: all of them at once would take many times its memory. A line is read up to a length. */
function* linesOf(text: string): Generator<string> {
  for (let from = 0; from < text.length;) {
    const end = text.indexOf("\n", from);
    const to = end < 0 ? text.length : end;
    yield text.slice(from, Math.min(to, from + LONGEST_LINE));
    from = to + 1;
  }
}
const LONGEST_LINE = 20_000;

/** Counted from 1, or back from the end. */
const at = (list: number[][], index: number | undefined) =>
  index === undefined || Number.isNaN(index) ? undefined : list[index > 0 ? index - 1 : list.length + index];

function readMtl(path: string, text: string, problems: string[]) {
  const materials: (ModelMaterial & { uvScale: [number, number] })[] = [];
  for (const line of linesOf(text)) {
    const [word, ...rest] = line.trim().split(/\s+/);
    const now = materials.at(-1);
    const key = word.toLowerCase();
    if (key === "newmtl" && materials.length > MOST_MATERIALS) break;
    else if (key === "newmtl")
      materials.push({
        name: rest.join(" ") || "Material",
        maps: [],
        values: {},
        repeat: null,
        uvScale: [1, 1],
      });
    else if (!now) continue;
    else if (Object.hasOwn(VALUES, key)) Object.assign(now.values, valuesOf(key, rest.map(Number)));
    else if (Object.hasOwn(MAPS, key)) {
      const { file, scale } = mapStatement(rest);
      if (scale) now.uvScale = scale;
      const place = resolvePath(path, file);
      if (place === undefined || file === "")
        problems.push(
          `“${now.name}” names an image outside the download (${file.slice(0, 80)}); that was not followed.`,
        );
      else if (!now.maps.some(({ role }) => role === MAPS[key]))
        now.maps.push({ role: MAPS[key], channel: "color", image: { path: place } } satisfies ModelMap);
    }
  }
  return materials;
}

function mapStatement(words: string[]): { file: string; scale?: [number, number] } {
  let scale: [number, number] | undefined;
  let i = 0;
  while (i < words.length && words[i].startsWith("-")) {
    const option = words[i++].toLowerCase();
    if (option === "-s" || option === "-o" || option === "-t") {
      const numbers: number[] = [];
      while (numbers.length < 3 && i < words.length && !Number.isNaN(Number(words[i])))
        numbers.push(Number(words[i++]));
      if (option === "-s" && numbers[0] > 0) scale = [numbers[0], numbers[1] > 0 ? numbers[1] : numbers[0]];
    } else i += OPTION_WORDS[option] ?? 1;
  }
  return { file: words.slice(i).join(" "), scale };
}

/** The statements that say a value, with the lines for physically based shading. */
const VALUES: Record<string, keyof FileValues> = {
  kd: "color",
  ke: "emissionColor",
  ni: "ior",
  pr: "roughness",
  pm: "metalness",
  pc: "coatWeight",
  pcr: "coatRoughness",
  ps: "fuzzWeight",
};

/** Emission has no unit: 1 is taken for 100 cd/m². */
const NITS = 100;

function valuesOf(key: string, numbers: number[]): FileValues {
  const field = VALUES[key];
  if (numbers.length === 0 || numbers.some(Number.isNaN)) return {};
  if (key === "kd") return numbers.length >= 3 ? { color: linearToHex(numbers) } : {};
  if (key === "ke") {
    const most = Math.max(...numbers);
    if (numbers.length < 3 || !(most > 0)) return {};
    return fittingValues({
      emissionNits: most * NITS,
      emissionColor: linearToHex(numbers.map((value) => value / most)),
    });
  }
  // An index of 0 or 1 is what exporters write that know none.
  if (key === "ni") return numbers[0] > 1 ? fittingValues({ ior: numbers[0] }) : {};
  return { [field]: unit(numbers[0]) };
}
