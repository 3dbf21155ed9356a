import { expect, test } from "@jest/globals";
import { readImage } from "#core/judge/imageReading";
import { mapped, sampleSet } from "#core/judge/testing";
import { rolesFromPixels, type StudiedImage } from "#core/maps/rolesFromPixels";
import type { Role } from "#core/roles/roles";
import type { Raster } from "#core/raster/raster";

const NAMES = ["brick", "planks", "chips", "trowelled", "cast"];
const MAPS = ["base_color", "geometry_normal", "height", "specular_roughness", "ambient_occlusion"] as const;

const readings = new WeakMap<Raster, StudiedImage>();
/** A map belongs to several sets, and is read once. */
function studied(raster: Raster): StudiedImage {
  const known = readings.get(raster) ?? { reading: readImage(raster), small: raster };
  readings.set(raster, known);
  return known;
}

/** Every set whole, and without one or two of its maps, as downloads are. */
function cases(): { name: string; roles: Role[] }[] {
  return NAMES.flatMap((name) => [
    { name, roles: [...MAPS] },
    { name, roles: MAPS.filter((role) => role !== "ambient_occlusion") },
    { name, roles: MAPS.filter((role) => role !== "height" && role !== "ambient_occlusion") },
  ]);
}

test("roles from pixels alone: nine of ten are right, and a roughness is asked for as roughness or gloss", () => {
  let [right, all] = [0, 0];
  const wrong: string[] = [];
  for (const { name, roles } of cases()) {
    const set = sampleSet(name);
    const opinions = rolesFromPixels(roles.map((role) => studied(set[role as (typeof MAPS)[number]])));
    roles.forEach((role, i) => {
      all++;
      if (opinions[i].likely[0] === role) right++;
      else wrong.push(`${name}: ${role} taken for ${opinions[i].likely.join(" or ")} (${opinions[i].why})`);
    });
  }
  console.log(`Roles from pixels alone: ${right} of ${all} right (${((100 * right) / all).toFixed(1)} %).`);
  expect({ enough: right / all >= 0.9, wrong }).toEqual({ enough: true, wrong });
});

test("channels that hold different things are a packed map", () => {
  const set = sampleSet("brick");
  const packed = mapped(set.base_color, (_v, channel, i) => {
    const at = Math.floor(i / 3);
    if (channel === 0) return set.ambient_occlusion.data[at] / 255;
    return channel === 1 ? set.specular_roughness.data[at] / 255 : 0;
  });
  const [base, orm] = rolesFromPixels([studied(set.base_color), studied(packed)]);
  expect(base.likely[0]).toBe("base_color");
  expect(orm.packed).toEqual(["ambient_occlusion", "specular_roughness", "base_metalness"]);
});

test("a pale cream is a colour, though read as vectors nearly all of it has length 1 and points outwards", () => {
  const cream = mapped(
    sampleSet("trowelled").base_color,
    (v, channel) => [0.82, 0.79, 0.73][channel] + 0.02 * v,
  );
  const studiedCream = studied(cream);
  expect(studiedCream.reading.normal).toMatchObject({ unit: expect.closeTo(1, 1), up: 1 });
  const [{ likely }] = rolesFromPixels([studiedCream]);
  expect(likely[0]).toBe("base_color");
  const [normal] = rolesFromPixels([studied(sampleSet("brick").geometry_normal)]);
  expect(normal.likely[0]).toBe("geometry_normal");
});

test("masks, blacks and whites are said to be what they are", () => {
  const grey = sampleSet("brick").ambient_occlusion;
  const one = (change: (v: number, i: number) => number) =>
    rolesFromPixels([
      studied(sampleSet("brick").base_color),
      studied(mapped(grey, (v, _c, i) => change(v, i))),
    ])[1].likely;
  expect(one((_, i) => ((i >> 4) % 2 ? 1 : 0))).toEqual(["geometry_opacity", "base_metalness"]);
  expect(one(() => 0)[0]).toBe("base_metalness");
  expect(one(() => 0.5)).toEqual(["specular_roughness", "gloss"]);
});
