import { describe, expect, test } from "@jest/globals";
import { carryOut } from "#core/convert/carryOut";
import { planConversion } from "#core/convert/plan";
import type { Profile } from "#core/convert/profile";
import { glossPathTracer } from "#core/convert/profiles/glossPathTracer";
import { gltf } from "#core/convert/profiles/gltf";
import { packedWalkthrough } from "#core/convert/profiles/packedWalkthrough";
import { finishSchema } from "#core/finish/finish";
import type { MaterialMap, MaterialState } from "#core/finish/material";
import { isColorRole, ROLES, type Role } from "#core/roles/roles";
import { seededRandom } from "#core/pattern/random";
import { createRaster, type Raster } from "#core/raster/raster";

/** Sets of maps as downloads really bring them: any roles, sizes, bits and channels together. */
const random = seededRandom(20240607);
const pick = <T>(choices: readonly T[]): T => choices[Math.floor(random() * choices.length)];

function anyMap(role: Role): MaterialMap {
  const alpha = random() < 0.1;
  const color = isColorRole(role) || role === "geometry_normal";
  const channels = alpha ? 4 : pick(color ? [3, 3, 4] : [1, 1, 2, 3, 4]);
  return {
    role,
    sha256: role.padEnd(64, "0"),
    channel: alpha && !color ? "alpha" : "color",
    fileName: `${role}.png`,
    normalDirection: role === "geometry_normal" ? pick(["+Y", "-Y", null]) : null,
    width: pick([1, 7, 16, 32]),
    height: pick([1, 5, 16, 32]),
    bitDepth: pick([8, 16]),
    channels,
  };
}

function anyMaterial(n: number): MaterialState {
  const maps = ROLES.filter(() => random() < 0.45).map(anyMap);
  const repeat = random() < 0.8 ? { width: 100 + 900 * random(), height: 100 + 900 * random() } : null;
  return {
    id: String(n),
    code: `M${n}`,
    name: `Material ${n}`,
    fileName: `material-${n}`,
    revision: 1,
    layout: maps.length === 0 ? "plain" : "repeating",
    repeat,
    sizeState: repeat ? pick(["known", "assumed"]) : "unknown",
    finish: finishSchema.parse({
      normalStrength: pick([1, 0.5]),
      occlusionStrength: pick([0, 0.5, 1]),
      roughness: random(),
    }),
    maps,
  };
}

async function readAny(map: MaterialMap): Promise<Raster> {
  const raster = createRaster(
    map.width,
    map.height,
    map.channels as Raster["channels"],
    map.bitDepth as 8 | 16,
  );
  const noise = seededRandom(map.width * 31 + map.channels);
  for (let i = 0; i < raster.data.length; i++)
    raster.data[i] = Math.floor(noise() * (map.bitDepth === 16 ? 65536 : 256));
  return raster;
}

const materials = Array.from({ length: 24 }, (_, n) => anyMaterial(n));

describe.each<[string, Profile]>([
  ["gloss path tracer", glossPathTracer],
  ["packed walkthrough", packedWalkthrough],
  ["glTF", gltf],
])("whatever comes, for the %s", (_, profile) => {
  const plans = materials.map((material) => ({
    material,
    plan: planConversion(material, profile, { maxPixels: 16 }),
  }));

  test("every plan can be carried out, and the pixels are what the plan says", async () => {
    for (const { material, plan } of plans)
      for (const file of plan.files) {
        const raster = await carryOut(file.image, readAny, { wrap: true });
        const where = `${material.name} ${file.path}`;
        expect([where, raster.width, raster.height, raster.bitDepth]).toEqual([
          where,
          file.width,
          file.height,
          file.bitDepth,
        ]);
        expect(raster.data).toHaveLength(raster.width * raster.height * raster.channels);
        expect(Math.max(file.width, file.height)).toBeLessThanOrEqual(16);
        if (file.format === "jpeg")
          expect([where, raster.channels !== 4 && raster.channels !== 2]).toEqual([where, true]);
      }
  });

  test("no two files have the same path, and all lie in the material's folder", () => {
    for (const { material, plan } of plans) {
      const paths = plan.files.map(({ path }) => path);
      expect(new Set(paths).size).toBe(paths.length);
      for (const path of paths)
        expect(path.startsWith(`${profile.id}/${material.fileName}/${material.fileName}_`)).toBe(true);
    }
  });

  test("every map is used or named in a warning, and nothing is used that is not there", () => {
    for (const { material, plan } of plans)
      for (const map of material.maps) {
        if (map.role === "reference") continue;
        const used = JSON.stringify(plan.files).includes(`"${map.fileName}"`);
        const named = plan.warnings.some((warning) => warning.includes(`(${map.fileName}) has no place`));
        expect([map.role, used !== named]).toEqual([map.role, true]);
      }
  });

  test("gloss is inverted an odd number of times on its way to roughness, and never on its way to gloss", () => {
    for (const { plan } of plans)
      for (const file of plan.files) {
        const layers =
          file.image.kind === "packed"
            ? file.image.channels.filter((layer) => typeof layer !== "number")
            : [file.image.base];
        for (const { source, operations } of layers) {
          const inverted = operations.filter(({ op }) => op === "invert").length;
          if (source?.role === "gloss") expect(inverted).toBe(file.role === "gloss" ? 0 : 1);
          else expect(inverted).toBe(file.role === "gloss" ? 1 : 0);
        }
      }
  });

  test("green is flipped just where the directions differ, once", () => {
    for (const { material, plan } of plans) {
      const normal = plan.files.find(({ role }) => role === "geometry_normal");
      if (!normal) continue;
      const direction = material.maps.find(({ role }) => role === "geometry_normal")!.normalDirection ?? "+Y";
      expect(normal.operations.filter((word) => word === "flip-green")).toHaveLength(
        direction === profile.normalDirection ? 0 : 1,
      );
    }
  });

  test("sizes are said in the profile's unit, or it is said that there is none", () => {
    for (const { material, plan } of plans) {
      if (material.layout === "plain") continue;
      const words = [...plan.steps, ...plan.warnings].join(" ");
      if (material.repeat && plan.files.length > 0) expect(words).toContain(` ${profile.unit}`);
      if (!material.repeat) expect(words).toContain("size is unknown");
      expect(words).not.toContain("{");
      if (material.sizeState === "assumed") expect(words).toContain("assumed, not measured");
    }
  });
});
