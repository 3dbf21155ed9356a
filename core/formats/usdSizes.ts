import { metresPerUv, type UvTriangle } from "#core/formats/metresPerUv";
import type { UsdLayer, UsdPrim, UsdValue } from "#core/formats/usdLayer";

export interface UsdSizes {
  metersPerUnit: number;
  /** How many metres a unit of the coordinates covers on the meshes that a material is bound to. */
  metres: { u: number; v: number } | null;
}

/** Triangles looked at in one layer: more do not change a median. */
const MOST_TRIANGLES = 50_000;
/** Numbers of one array that are read for them. */
const MOST_NUMBERS = 600_000;

/**
 * What the meshes of a layer say of the real size of its materials. Transforms above them are not followed, nor are parts of a mesh with a
 * material of their own.
 * @returns sizes by the path of a material
 */
export function usdSizes({ prims, metersPerUnit: said }: UsdLayer): (material: string) => UsdSizes {
  // Without a word a unit is a centimetre.
  const metersPerUnit = said !== undefined && said > 0 && said < 1e6 ? said : 0.01;
  const triangles = new Map<string, UvTriangle[]>();
  let count = 0;
  const visit = (prim: UsdPrim) => {
    const bound = prim.values.get("material:binding");
    if (prim.type === "Mesh" && bound?.kind === "path" && count < MOST_TRIANGLES) {
      const found = meshTriangles(prim, metersPerUnit);
      count += found.length;
      triangles.set(bound.text, [...(triangles.get(bound.text) ?? []), ...found]);
    }
    prim.children.forEach(visit);
  };
  prims.forEach(visit);
  return (material) => ({ metersPerUnit, metres: metresPerUv(triangles.get(material) ?? []) });
}

function meshTriangles({ values }: UsdPrim, metersPerUnit: number): UvTriangle[] {
  const numbers = (name: string) => numbersIn(values.get(name));
  const points = numbers("points");
  const uvs = numbers("primvars:st");
  const uvIndices = numbers("primvars:st:indices");
  const counts = numbers("faceVertexCounts");
  const indices = numbers("faceVertexIndices");
  // By corner where there is one for each of them, else by point.
  const isByCorner =
    (uvIndices.length || uvs.length / 2) === indices.length && indices.length !== points.length / 3;
  const corner = (at: number) => {
    const point = indices[at];
    const uv = isByCorner ? at : point;
    const uvAt = uvIndices.length > 0 ? uvIndices[uv] : uv;
    return {
      position: points.slice(point * 3, point * 3 + 3).map((value) => value * metersPerUnit),
      uv: uvs.slice(uvAt * 2, uvAt * 2 + 2),
    };
  };
  const triangles: UvTriangle[] = [];
  let from = 0;
  for (const count of counts) {
    // A count may be any number; there are no more corners than indices.
    const corners = Math.min(count, indices.length - from);
    for (let i = 1; i + 1 < corners && triangles.length < MOST_TRIANGLES; i++) {
      const three = [corner(from), corner(from + i), corner(from + i + 1)];
      if (three.some(({ position, uv }) => position.length < 3 || uv.length < 2)) continue;
      triangles.push({
        positions: three.map(({ position }) => position) as UvTriangle["positions"],
        uvs: three.map(({ uv }) => uv) as UvTriangle["uvs"],
      });
    }
    from += count;
    if (!(count > 0) || triangles.length >= MOST_TRIANGLES) break;
  }
  return triangles;
}

/** The numbers of an array, without the brackets around each few of them. */
function numbersIn(value: UsdValue | undefined): number[] {
  if (value?.kind !== "array") return [];
  const numbers: number[] = [];
  for (const [word] of value.text.matchAll(/[^\s,()]+/g)) {
    const number = Number(word);
    if (Number.isNaN(number) || numbers.length >= MOST_NUMBERS) break;
    numbers.push(number);
  }
  return numbers;
}
