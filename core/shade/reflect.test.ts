import { describe, expect, test } from "@jest/globals";
import { dielectricAlbedo, mirrorAlbedo, mirrorAlbedoAverage } from "#core/shade/albedo";
import {
  dielectricFresnel,
  edgeDip,
  iorOfF0,
  f0OfIor,
  metalFresnel,
  metalFresnelAverage,
} from "#core/shade/fresnel";
import { fuzzAlbedo } from "#core/shade/fuzz";
import { alphaOf, ggxDistribution, seenFrom, visibleNormal } from "#core/shade/ggx";
import { scatteringOf } from "#core/shade/reflect";
import { WHITE, type Rgb } from "#core/shade/rgb";
import { PLAIN_SURFACE, type Surface } from "#core/shade/surface";
import { dot, unit, type Vector } from "#core/shade/vector";
import { seededRandom } from "#core/pattern/random";

const surface = (values: Partial<Surface>): Surface => ({ ...PLAIN_SURFACE, ...values });
const towards = (degrees: number, turn = 0): Vector => {
  const angle = (degrees * Math.PI) / 180;
  return [Math.sin(angle) * Math.cos(turn), Math.sin(angle) * Math.sin(turn), Math.cos(angle)];
};

/** All light that comes out towards the eye under a white sky: half of the directions by the microfacets of `roughness`, half by the cosine. */
function underWhiteSky(one: Surface, eye: Vector, roughness = one.roughness): Rgb {
  const { reflected } = scatteringOf(one);
  const alpha = alphaOf(roughness);
  const sum: [number, number, number] = [0, 0, 0];
  const side = 72;
  const add = (light: Vector) => {
    const half = unit([light[0] + eye[0], light[1] + eye[1], light[2] + eye[2]]);
    const facets = (ggxDistribution(half[2], alpha) * seenFrom(eye[2], alpha)) / (4 * eye[2]);
    const chance = (facets + light[2] / Math.PI) / 2;
    const f = reflected(light, eye);
    for (const i of [0, 1, 2] as const) sum[i] += f[i] / chance / (2 * side * side);
  };
  for (let i = 0; i < side; i++)
    for (let j = 0; j < side; j++) {
      const u: [number, number] = [(i + 0.5) / side, (j + 0.5) / side];
      const normal = visibleNormal(eye, alpha, u);
      const double = 2 * dot(eye, normal);
      const light: Vector = [
        double * normal[0] - eye[0],
        double * normal[1] - eye[1],
        double * normal[2] - eye[2],
      ];
      if (light[2] > 0) add(light);
      const flat = Math.sqrt(u[0]);
      const turn = 2 * Math.PI * u[1];
      add([flat * Math.cos(turn), flat * Math.sin(turn), Math.sqrt(1 - u[0])]);
    }
  return sum;
}

const ROUGHNESSES = [0.1, 0.2, 0.35, 0.5, 0.75, 1];
const ANGLES = [5, 45, 70];

describe("under a white sky nothing that absorbs nothing is seen", () => {
  test.each(ROUGHNESSES)("white metal of roughness %d", (roughness) => {
    for (const angle of ANGLES)
      for (const value of underWhiteSky(
        surface({ baseColor: WHITE, metalness: 1, roughness }),
        towards(angle),
      ))
        expect(Math.abs(value - 1)).toBeLessThan(0.01);
  });

  test.each(ROUGHNESSES)("a white dielectric of roughness %d, at any index of refraction", (roughness) => {
    for (const ior of [1, 1.3, 1.5, 2])
      for (const angle of ANGLES)
        for (const value of underWhiteSky(surface({ baseColor: WHITE, roughness, ior }), towards(angle)))
          expect(Math.abs(value - 1)).toBeLessThan(0.01);
  });

  test.each([
    { specularWeight: 0.3 },
    { metalness: 0.5 },
    { subsurfaceWeight: 1, baseColor: [0, 0, 0] as Rgb },
  ])("nor white in other ways: %j", (values) => {
    const one = surface({ baseColor: WHITE, ...values });
    for (const angle of ANGLES)
      for (const value of underWhiteSky(one, towards(angle))) expect(Math.abs(value - 1)).toBeLessThan(0.01);
  });

  test.each([
    { coatWeight: 1, coatRoughness: 0.1, roughness: 0.5 },
    { coatWeight: 1, coatRoughness: 0.4, roughness: 0.3 },
    { coatWeight: 0.5, coatRoughness: 0.2, metalness: 1, roughness: 0.5 },
    { coatWeight: 1, coatRoughness: 0.2, metalness: 1, roughness: 1 },
    { coatWeight: 1, coatRoughness: 0.1, metalness: 1, roughness: 0.35 },
    { fuzzWeight: 1, roughness: 0.8 },
    { fuzzWeight: 0.6, roughness: 0.3, metalness: 1 },
    { fuzzWeight: 0.5, coatWeight: 1, coatRoughness: 0.3, roughness: 0.6 },
  ])("white under coats and fuzz: %j", (values) => {
    const one = surface({ baseColor: WHITE, ...values });
    for (const angle of [5, 45, 70])
      for (const value of underWhiteSky(one, towards(angle), values.coatRoughness ?? values.roughness))
        // What is between a mirror and what is the same all round is only nearly exact: metal under a whole coat.
        expect(Math.abs(value - 1)).toBeLessThan(values.metalness && values.coatWeight ? 0.014 : 0.01);
  });

  test("a thin sheet divides what it scatters between its two sides", () => {
    const one = surface({
      baseColor: WHITE,
      specularWeight: 0,
      thinWalled: true,
      translucencyWeight: 0.4,
      translucencyColor: [0.5, 1, 0.25],
    });
    const { throughScattered } = scatteringOf(one);
    const eye = towards(30);
    for (const value of underWhiteSky(one, eye)) expect(value).toBeCloseTo(0.6, 2);
    // ∫ cos dω over the other side is π.
    const through = throughScattered(1, eye).map((value) => value * Math.PI);
    expect(through[0]).toBeCloseTo(0.2, 3);
    expect(through[1]).toBeCloseTo(0.4, 3);
  });
});

test("what is mirrored and what is scattered, from all sides, is what comes out under a white sky", () => {
  for (const values of [
    { baseColor: [0.5, 0.3, 0.2] as Rgb, roughness: 0.4 },
    { baseColor: [0.8, 0.8, 0.8] as Rgb, roughness: 0.6, coatWeight: 1, coatRoughness: 0.3 },
    { baseColor: [0.9, 0.7, 0.3] as Rgb, metalness: 1, roughness: 0.5 },
    { fuzzWeight: 0.7, fuzzColor: [1, 0.5, 0.5] as Rgb, roughness: 0.9 },
  ])
    for (const angle of [5, 45]) {
      const one = surface(values);
      const { mirrored, scattered } = scatteringOf(one);
      const { base, coat } = mirrored(towards(angle));
      const all = underWhiteSky(one, towards(angle), Math.min(one.roughness, one.coatRoughness || 1));
      for (const i of [0, 1, 2] as const)
        expect(Math.abs(base[i] + coat + scattered(towards(angle))[i] - all[i])).toBeLessThan(0.025);
    }
});

test("light and eye can be exchanged", () => {
  const random = seededRandom(4711);
  const any = (): Surface => ({
    ...PLAIN_SURFACE,
    baseColor: [random(), random(), random()],
    metalness: random(),
    roughness: 0.05 + 0.95 * random(),
    specularColor: [random(), random(), random()],
    specularWeight: random(),
    ior: 1 + random(),
    coatWeight: random(),
    coatColor: [random(), random(), random()],
    coatRoughness: random(),
    fuzzWeight: random(),
    subsurfaceWeight: random(),
    transmissionWeight: random(),
    thinWalled: random() < 0.5,
  });
  for (let i = 0; i < 60; i++) {
    const { reflected } = scatteringOf(any());
    const [a, b] = [towards(85 * random(), 6 * random()), towards(85 * random(), 6 * random())];
    const [there, back] = [reflected(a, b), reflected(b, a)];
    for (const channel of [0, 1, 2] as const)
      expect(there[channel] / a[2]).toBeCloseTo(back[channel] / b[2], 9);
  }
});

describe("at the limits", () => {
  test("glass mirrors 4 % straight on and all at grazing, and lets the rest through", () => {
    const glass = surface({ roughness: 0, transmissionWeight: 1, baseColor: WHITE });
    const { mirrored, throughClear, reflected } = scatteringOf(glass);
    expect(mirrored(towards(0)).base[0]).toBeCloseTo(0.04, 3);
    expect(throughClear(towards(0), 10)[0]).toBeCloseTo(0.96, 3);
    expect(mirrored(towards(89.9)).base[0]).toBeGreaterThan(0.95);
    expect(reflected(towards(20), towards(50, 2))[0]).toBeLessThan(1e-3);
    // A pane has two sides: 2F / (1 + F).
    const pane = scatteringOf({ ...glass, thinWalled: true });
    expect(pane.mirrored(towards(0)).base[1]).toBeCloseTo(0.0769, 3);
    expect(pane.throughClear(towards(0), 10)[1]).toBeCloseTo(0.9231, 3);
  });

  test("glass has its colour after its depth, twice after twice as much, and more at an angle; a thin sheet has it at once", () => {
    const transmissionColor: Rgb = [0.5, 0.8, 1];
    const glass = surface({
      roughness: 0,
      transmissionWeight: 1,
      transmissionColor,
      transmissionDepthMm: 10,
    });
    const through = (one: Surface, degrees: number, thickMm: number) => {
      const [r, g, b] = scatteringOf(one).throughClear(towards(degrees), thickMm);
      return [r / b, g / b];
    };
    const [once, twice] = [through(glass, 0, 10), through(glass, 0, 20)];
    expect(once[0]).toBeCloseTo(0.5, 9);
    expect(twice[0]).toBeCloseTo(0.25, 9);
    expect(twice[1]).toBeCloseTo(0.64, 9);
    // At 60° light goes on inside at asin(sin 60° / 1.5) = 35.26°.
    expect(through(glass, 60, 10)[0]).toBeCloseTo(0.5 ** (1 / Math.cos((35.264 * Math.PI) / 180)), 4);
    expect(through({ ...glass, thinWalled: true }, 60, 10)[0]).toBeCloseTo(0.5, 9);
    expect(through({ ...glass, transmissionDepthMm: 0 }, 60, 10)[0]).toBeCloseTo(0.5, 9);
  });

  test("rough glass blurs what is behind it, the more the stronger it refracts", () => {
    const spread = (values: Partial<Surface>) =>
      scatteringOf(surface({ transmissionWeight: 1, ...values })).throughSpread;
    expect(spread({ roughness: 0 })).toBeLessThan(1e-3);
    // α = 0.25, half an angle at each face.
    expect(spread({ roughness: 0.5, ior: 1.5 })).toBeCloseTo(0.25 * 0.5 * Math.SQRT2, 9);
    expect(spread({ roughness: 0.5, ior: 1 })).toBe(0);
  });

  test("a smooth metal mirrors its colour, and white at its edge", () => {
    const { mirrored } = scatteringOf(surface({ roughness: 0, metalness: 1, baseColor: [0.9, 0.6, 0.3] }));
    expect(mirrored(towards(0)).base.map((value) => Number(value.toFixed(3)))).toEqual([0.9, 0.6, 0.3]);
    for (const value of mirrored(towards(89.9)).base) expect(value).toBeGreaterThan(0.95);
  });

  test("with no reflectance it is Lambert's: colour by the cosine over π", () => {
    const { reflected } = scatteringOf(surface({ specularWeight: 0 }));
    for (const [light, eye] of [
      [0, 0],
      [60, 10],
      [30, 80],
    ])
      expect(reflected(towards(light), towards(eye, 1))[0]).toBeCloseTo(
        (0.18 * Math.cos((light * Math.PI) / 180)) / Math.PI,
        5,
      );
  });

  test("nothing is lit from behind, or seen from there", () => {
    const { reflected } = scatteringOf(surface({ metalness: 0.5, coatWeight: 1, fuzzWeight: 1 }));
    expect(reflected([0, 0.6, -0.8], towards(10))).toEqual([0, 0, 0]);
    expect(reflected(towards(10), [0.6, 0, -0.8])).toEqual([0, 0, 0]);
  });

  test("every value is finite and none is negative, smooth or rough, grazing or not", () => {
    for (const roughness of [0, 0.01, 1])
      for (const values of [
        { metalness: 1 },
        { coatWeight: 1, coatRoughness: 0 },
        { fuzzWeight: 1, fuzzRoughness: 0 },
      ])
        for (const angle of [0, 45, 89.99]) {
          const { reflected } = scatteringOf(surface({ roughness, ...values }));
          for (const value of reflected(towards(angle), towards(angle, Math.PI))) {
            expect(Number.isFinite(value)).toBe(true);
            expect(value).toBeGreaterThanOrEqual(0);
          }
        }
  });
});

describe("Fresnel", () => {
  test("of a dielectric, by known values", () => {
    expect(dielectricFresnel(1, 1.5)).toBeCloseTo(0.04, 6);
    // ISO 2813: black glass of index 1.567 at 60°.
    expect(dielectricFresnel(0.5, 1.567)).toBeCloseTo(0.1001, 4);
    // At Brewster's angle only one polarisation is left.
    const brewster = Math.cos(Math.atan(1.5));
    expect(dielectricFresnel(brewster, 1.5)).toBeCloseTo(((1.5 ** 2 - 1) / (1.5 ** 2 + 1)) ** 2 / 2, 6);
    expect(dielectricFresnel(0, 1.5)).toBeCloseTo(1, 6);
    for (const ior of [1.1, 1.5, 2.4]) expect(iorOfF0(f0OfIor(ior))).toBeCloseTo(ior, 6);
  });

  test("of a metal keeps its edge tint at 82°, and its average is the integral", () => {
    const dip = edgeDip(0.6, 0.8);
    const untinted = 0.6 + 0.4 * (6 / 7) ** 5;
    expect(metalFresnel(1 / 7, 0.6, dip)).toBeCloseTo(untinted * 0.8, 6);
    let sum = 0;
    for (let i = 0; i < 2000; i++) {
      const cosine = (i + 0.5) / 2000;
      sum += (2 * cosine * metalFresnel(cosine, 0.6, dip)) / 2000;
    }
    expect(metalFresnelAverage(0.6, dip)).toBeCloseTo(sum, 4);
  });
});

describe("albedo tables", () => {
  test("agree with a plain sum over all directions", () => {
    for (const [roughness, angle] of [
      [0.5, 30],
      [0.8, 60],
      [1, 75],
    ] as const) {
      const eye = towards(angle);
      const alpha = alphaOf(roughness);
      let sum = 0;
      const steps = 400;
      for (let i = 0; i < steps; i++)
        for (let j = 0; j < steps; j++) {
          const z = (i + 0.5) / steps;
          const turn = (2 * Math.PI * (j + 0.5)) / steps;
          const flat = Math.sqrt(1 - z * z);
          const light: Vector = [flat * Math.cos(turn), flat * Math.sin(turn), z];
          const half = unit([light[0] + eye[0], light[1] + eye[1], light[2] + eye[2]]);
          const lambda = (c: number) => (Math.sqrt(1 + (alpha * alpha * (1 - c * c)) / (c * c)) - 1) / 2;
          const seen = 1 / (1 + lambda(z) + lambda(eye[2]));
          sum += (ggxDistribution(half[2], alpha) * seen) / (4 * eye[2]);
        }
      expect(mirrorAlbedo(eye[2], roughness)).toBeCloseTo((sum * 2 * Math.PI) / (steps * steps), 2);
    }
  });

  test("of a smooth dielectric are Fresnel's, and averages lie between", () => {
    for (const angle of [0, 40, 70])
      expect(dielectricAlbedo(0.04, 0).towards(Math.cos((angle * Math.PI) / 180))).toBeCloseTo(
        dielectricFresnel(Math.cos((angle * Math.PI) / 180), 1.5),
        2,
      );
    // ∫ 2μ F dμ for 1.5 (Walsh's integral) is 0.0918.
    expect(Math.abs(dielectricAlbedo(0.04, 0).average - 0.0918)).toBeLessThan(1e-3);
    expect(mirrorAlbedoAverage(0)).toBeCloseTo(1, 3);
    expect(mirrorAlbedoAverage(1)).toBeLessThan(0.7);
    expect(dielectricAlbedo(0, 0.5).average).toBeLessThan(1e-3);
    expect(fuzzAlbedo(0.2, 0.5)).toBeGreaterThan(fuzzAlbedo(1, 0.5));
  });
});
