import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import type { WearLayer } from "#core/finish/wear";
import { sampleSet } from "#core/judge/testing";
import { createRaster } from "#core/raster/raster";
import { encode } from "#server/pixels/encode";
import { whileQueued } from "#server/testing/runQueued";
import { archiveFiles, openTestStudio, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let wall: string;
let scuffs: string;

/** Light bars across a dark ground, of 16 bits. */
function bars(lit: (y: number) => boolean) {
  const raster = createRaster(64, 64, 1, 16);
  for (let i = 0; i < raster.data.length; i++) raster.data[i] = lit(Math.floor(i / 64)) ? 65535 : 0;
  return encode(raster, "png");
}

beforeAll(async () => {
  studio = await openTestStudio();
  const { base_color, specular_roughness } = sampleSet("brick");
  const intake = await takeIn(studio, {
    "wall_basecolor.png": await encode(base_color, "png"),
    "wall_roughness.png": await encode(specular_roughness, "png"),
    "floor_scuffs.png": await bars((y) => y % 16 < 3),
  });
  const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  const idOf = (word: string) =>
    json.materials.find(({ name }: { name: string }) => name.toLowerCase().includes(word)).id;
  [wall, scuffs] = [idOf("wall"), idOf("scuffs")];
  await studio.api("PUT", `/materials/${wall}/repeat`, { method: "size", width: 900, height: 900 });
  await studio.api("PUT", `/materials/${scuffs}/repeat`, { method: "size", width: 600, height: 600 });
});
afterAll(() => studio.close());

const get = async (id: string) => (await studio.api("GET", `/materials/${id}`)).json;
const layer = async (over: Partial<WearLayer> = {}): Promise<WearLayer> => ({
  material: scuffs,
  revision: (await get(scuffs)).revision,
  strength: 0.5,
  polarity: "light",
  effect: "rougher",
  on: true,
  ...over,
});
const lay = (wear: unknown, id = wall) => studio.api("PATCH", `/materials/${id}`, { finish: { wear } });

async function deliver(id = wall) {
  const { json } = await studio.api("POST", "/deliveries", {
    materials: [id],
    profiles: ["gloss-path-tracer-cm", "packed-walkthrough-m"],
  });
  const { runDelivery } = await import("#server/delivery/run");
  await runDelivery(json.id);
  const { account, state } = (await studio.api("GET", `/deliveries/${json.id}`)).json;
  expect(state).toBe("done");
  const of = (profile: string) =>
    account.materials.find((one: { profile: string }) => one.profile.startsWith(profile));
  return { gloss: of("gloss"), packed: of("packed"), files: await archiveFiles(studio, json.id) };
}

test("a wear layer is kept as one, lacks a size and no colour, and is asked for by its kind", async () => {
  const { json } = await studio.api("GET", "/materials?kind=wear");
  expect(json.items).toMatchObject([{ id: scuffs, kind: "wear", missing: [] }]);
  expect((await studio.api("GET", "/materials?kind=material")).json.total).toBe(1);
});

test("wear is baked for one renderer, handed over as a map to another, and at strength 0 is not there at all", async () => {
  const bare = await deliver();
  expect((await lay([await layer()])).json.finish.wear).toHaveLength(1);
  const worn = await deliver();
  // 2 × 900 mm are 3 × 600 mm.
  expect(worn.gloss.repeat).toEqual({ width: 1800, height: 1800 });
  expect(worn.gloss.warnings.join(" ")).toContain("2 × 2 repeats of the material");
  const gloss = worn.gloss.files.find(({ role }: { role: string }) => role === "gloss");
  expect(gloss.operations.join(" ")).toContain("tile 2 2, wear".replace(", ", " "));
  const size = async (path: string) => sharp(worn.files.get(path)!).metadata();
  expect(await size(gloss.path)).toMatchObject({ width: 2 * 256, height: 2 * 256 });
  expect(worn.packed.repeat).toEqual({ width: 900, height: 900 });
  const mask = worn.packed.files.find(({ role }: { role: string }) => role === "wear_mask");
  const stats = await sharp(worn.files.get(mask.path)!).stats();
  // Three of sixteen rows are marks.
  expect(stats.channels[0].mean / 255).toBeCloseTo(3 / 16, 2);
  const settings = JSON.parse(worn.files.get(worn.packed.settings.path)!.toString());
  expect(settings.settings).toMatchObject({ "wear 1 effect": "rougher", "wear 1 width": 0.6 });

  await lay([await layer({ strength: 0 }), await layer({ on: false, effect: "smoother" })]);
  const none = await deliver();
  const images = (files: Map<string, Buffer>) =>
    Object.fromEntries([...files].filter(([path]) => !path.endsWith(".json")));
  expect(images(none.files)).toEqual(images(bare.files));
});

test("wear is drawn, and a picture without it is the one from before", async () => {
  const draw = async () => {
    const { response } = await whileQueued(
      studio.api("GET", `/materials/${wall}/picture?width=96&height=96&condition=grazing`),
    );
    return response.headers.get("ETag");
  };
  await lay(null);
  const bare = await draw();
  await lay([await layer({ effect: "tint", tint: "#ffffff", strength: 1 })]);
  const worn = await draw();
  expect(worn).not.toBe(bare);
  await lay([await layer({ strength: 0 })]);
  expect(await draw()).toBe(bare);
});

describe("a layer that cannot be laid on is refused, and nothing is saved:", () => {
  test.each([
    ["a material", async () => [await layer({ material: wall, revision: 1 })], "/finish/wear/0/material"],
    ["nothing", async () => [await layer({ material: crypto.randomUUID() })], "/finish/wear/0/material"],
    [
      "a revision to come",
      async () => [await layer(), await layer({ revision: 99 })],
      "/finish/wear/1/material",
    ],
    ["too deep", async () => [await layer({ effect: "cut-in", amountMm: 1000 })], "/finish/wear/0/amountMm"],
    ["eleven", async () => Array.from({ length: 11 }, () => ({})), "/finish/wear"],
    ["no list", async () => "scuffs", "/finish/wear"],
  ])("%s", async (_, wear, pointer) => {
    const before = await get(wall);
    const { status, json } = await lay(await wear());
    expect([status, json.pointer.startsWith(pointer)]).toEqual([422, true]);
    expect((await get(wall)).revision).toBe(before.revision);
  });

  test("over another layer, or over itself", async () => {
    expect((await lay([await layer()], scuffs)).status).toBe(422);
    expect((await studio.api("PUT", `/materials/${wall}/corrections/gltf-2`, { wear: [] })).status).toBe(422);
  });
});

test("many who lay wear on at the same time do not wait for each other's connections", async () => {
  const wear = [await layer()];
  const plains = await Promise.all(
    Array.from({ length: 24 }, (_, i) =>
      studio.api("POST", "/materials", { name: `Paint ${i}`, layout: "plain", color: "#808080" }),
    ),
  );
  const saved = await Promise.all(plains.map(({ json }) => lay(wear, json.id)));
  expect(saved.map(({ status }) => status)).toEqual(Array(24).fill(200));
  await Promise.all(plains.map(({ json }) => studio.api("DELETE", `/materials/${json.id}`)));
});

test("a copy and a restored revision wear what they wore", async () => {
  await lay([await layer({ strength: 0.7 })]);
  const { revision } = await get(wall);
  const copy = (await studio.api("POST", "/materials", { name: "Wall, copied", from: wall })).json;
  expect(copy.finish.wear).toMatchObject([{ material: scuffs, strength: 0.7 }]);
  await lay(null);
  expect((await get(wall)).finish.wear).toBeUndefined();
  await studio.api("POST", `/materials/${wall}/restore`, { revision });
  expect((await get(wall)).finish.wear).toMatchObject([{ strength: 0.7 }]);
  const { items } = (await studio.api("GET", `/materials/${scuffs}/wearers`)).json;
  expect(items.map(({ name }: { name: string }) => name).sort()).toEqual(["Wall", "Wall, copied"]);
  await studio.api("DELETE", `/materials/${copy.id}`);
});

test("a new revision of a layer changes nothing until it is taken over, in all that use it or in some", async () => {
  await lay([await layer({ strength: 0.4, start: { x: 10, y: 20 } })]);
  const used = (await get(scuffs)).revision;
  const before = await deliver();
  await studio.api("PUT", `/materials/${scuffs}/repeat`, { method: "size", width: 450, height: 450 });
  expect((await deliver()).gloss.repeat).toEqual(before.gloss.repeat);
  const { items } = (await studio.api("GET", `/materials/${scuffs}/wearers`)).json;
  expect(items).toMatchObject([{ id: wall, layerRevision: used }]);

  const other = await studio.api("POST", `/materials/${scuffs}/wearers`, { materials: [scuffs] });
  expect(other.json).toEqual({ saved: [], failed: [] });
  const { revision } = await get(wall);
  const taken = await studio.api("POST", `/materials/${scuffs}/wearers`, {});
  expect(taken.json).toEqual({ saved: [{ id: wall, revision: revision + 1 }], failed: [] });
  expect((await get(wall)).finish.wear).toMatchObject([
    { revision: used + 1, strength: 0.4, start: { x: 10, y: 20 } },
  ]);
  expect((await deliver()).gloss.repeat).toEqual({ width: 900, height: 900 });
  // Twice does no harm, and what is no layer has nobody who wears it.
  expect((await studio.api("POST", `/materials/${scuffs}/wearers`, {})).json.saved).toEqual([]);
  expect((await studio.api("POST", `/materials/${wall}/wearers`, {})).status).toBe(422);
});

test("roles that a person gives at review make a material a layer, and a layer a material", async () => {
  const intake = await takeIn(studio, {
    "speckle.png": await bars((y) => y % 8 === 0),
    "old_stains.png": await bars((y) => y % 12 === 0),
  });
  const of = (word: string) =>
    intake.candidates.find(({ name }: { name: string }) => name.toLowerCase().includes(word));
  const roles = (word: string, role: string) => ({
    id: of(word).id,
    roles: { [of(word).maps[0].file]: role },
  });
  const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, {
    candidates: [roles("speckle", "wear_mask"), roles("stains", "base_color")],
  });
  const kinds = await Promise.all(json.materials.map(async ({ id }: { id: string }) => (await get(id)).kind));
  expect(kinds).toEqual(["wear", "material"]);
});
