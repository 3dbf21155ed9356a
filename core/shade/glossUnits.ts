import { dielectricFresnel } from "#core/shade/fresnel";
import { alphaOf, ggxDistribution, seenFrom, visibleNormal } from "#core/shade/ggx";
import { scatteringOf } from "#core/shade/reflect";
import { luminance } from "#core/shade/rgb";
import { PLAIN_SURFACE, type Surface } from "#core/shade/surface";
import { dot, unit, type Vector } from "#core/shade/vector";

/**
 * Specular gloss at 60° by ISO 2813: the light that a receptor of 4.4° × 11.7° gets from a source of 0.75° × 2.5° by way of the
 * surface, against black glass of index 1.567, which has 100.
 */
const ANGLE = 60;
const RECEPTOR = { inPlane: 4.4, across: 11.7 };
const SOURCE = { inPlane: 0.75, across: 2.5 };
const BLACK_GLASS = dielectricFresnel(Math.cos((ANGLE * Math.PI) / 180), 1.567);

const SAMPLES = 24;
const SOURCES = 2;
const DEGREE = Math.PI / 180;

/** A direction by its angles from the instrument's axis: in the plane of light and normal, and out of it. */
function direction(side: 1 | -1, inPlane: number, across: number): Vector {
  const angle = (ANGLE + inPlane) * DEGREE;
  const turn = across * DEGREE;
  return unit([side * Math.sin(angle) * Math.cos(turn), Math.sin(turn), Math.cos(angle) * Math.cos(turn)]);
}

function isSeen([x, y, z]: Vector): boolean {
  const across = Math.asin(y) / DEGREE;
  const inPlane = Math.atan2(x, z) / DEGREE - ANGLE;
  return Math.abs(across) <= RECEPTOR.across / 2 && Math.abs(inPlane) <= RECEPTOR.inPlane / 2;
}

const RECEPTOR_SOLID = RECEPTOR.inPlane * DEGREE * 2 * Math.sin((RECEPTOR.across / 2) * DEGREE);

/** Gloss units at 60°. */
export function glossUnits(surface: Surface): number {
  const { reflected, roughness } = scatteringOf(surface);
  const alphas = [alphaOf(roughness), ...(surface.coatWeight > 0 ? [alphaOf(surface.coatRoughness)] : [])];
  let flux = 0;
  for (let i = 0; i < SOURCES; i++)
    for (let j = 0; j < SOURCES; j++) {
      const light = direction(
        -1,
        ((i + 0.5) / SOURCES - 0.5) * SOURCE.inPlane,
        ((j + 0.5) / SOURCES - 0.5) * SOURCE.across,
      );
      flux += received(light, alphas, reflected) / SOURCES ** 2;
    }
  return (100 * flux) / BLACK_GLASS;
}

/**
 * The share of a ray's light that gets into the receptor: as many directions by each layer's microfacets as evenly over the receptor,
 * each weighed by how likely all of these were to choose it.
 */
function received(
  light: Vector,
  alphas: number[],
  reflected: (light: Vector, eye: Vector) => ReturnType<ReturnType<typeof scatteringOf>["reflected"]>,
): number {
  const chanceOf = (out: Vector) => {
    const half = unit([light[0] + out[0], light[1] + out[1], light[2] + out[2]]);
    const byFacets = alphas.map(
      (alpha) => (ggxDistribution(half[2], alpha) * seenFrom(light[2], alpha)) / (4 * light[2]),
    );
    return byFacets.reduce((sum, chance) => sum + chance, 1 / RECEPTOR_SOLID) / (alphas.length + 1);
  };
  let sum = 0;
  const add = (out: Vector) => {
    if (!isSeen(out)) return;
    // Light and eye exchanged: what is reflected already has the cosine of the first.
    sum += luminance(reflected(out, light)) / chanceOf(out);
  };
  for (let i = 0; i < SAMPLES; i++)
    for (let j = 0; j < SAMPLES; j++) {
      const u: [number, number] = [(i + 0.5) / SAMPLES, (j + 0.5) / SAMPLES];
      for (const alpha of alphas) {
        const normal = visibleNormal(light, alpha, u);
        const double = 2 * dot(light, normal);
        add([double * normal[0] - light[0], double * normal[1] - light[1], double * normal[2] - light[2]]);
      }
      add(direction(1, (u[0] - 0.5) * RECEPTOR.inPlane, (u[1] - 0.5) * RECEPTOR.across));
    }
  return sum / (SAMPLES * SAMPLES * (alphas.length + 1));
}

/** The roughness of a coat-less paint of an index of refraction that has so many gloss units; the smoothest or roughest where none has. */
export function roughnessOfGloss(units: number, ior = 1.5): number {
  const surface = (roughness: number): Surface => ({
    ...PLAIN_SURFACE,
    baseColor: [0, 0, 0],
    ior,
    roughness,
  });
  let [low, high] = [0.02, 1];
  if (units >= glossUnits(surface(low))) return low;
  if (units <= glossUnits(surface(high))) return high;
  for (let round = 0; round < 16; round++) {
    const middle = (low + high) / 2;
    if (glossUnits(surface(middle)) > units) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
