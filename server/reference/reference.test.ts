import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import { sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";
import { runQueued, whileQueued } from "#server/testing/runQueued";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let wall: string;
let paint: string;
beforeAll(async () => {
  studio = await openTestStudio();
  const { base_color, specular_roughness } = sampleSet("brick");
  const intake = await takeIn(studio, {
    "wall_basecolor.png": await encode(base_color, "png"),
    "wall_roughness.png": await encode(specular_roughness, "png"),
  });
  wall = (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
  await studio.api("PUT", `/materials/${wall}/repeat`, { method: "size", width: 900, height: 900 });
  paint = (await studio.api("POST", "/materials", { name: "Paint", layout: "plain", color: "#767676" })).json
    .id;
});
afterAll(() => studio.close());

const path = () => `/materials/${wall}/references`;
const handIn = (bytes: Buffer, query = "name=Supplier", to = path()) =>
  studio.api("POST", `${to}?${query}`, bytes);
const list = async () => (await studio.api("GET", path())).json.items;

/** A grey picture with a red spot in its middle. */
const photograph = (grey = 118) =>
  sharp({ create: { width: 400, height: 300, channels: 3, background: { r: grey, g: grey, b: grey } } })
    .jpeg({ quality: 95 })
    .toBuffer();

describe("a reference picture", () => {
  test("is handed in, read by the worker, placed, made neutral, and removed", async () => {
    const { status, json } = await handIn(await photograph(), "name=Supplier%20page");
    expect([status, json.state, json.name]).toEqual([202, "reading", "Supplier page"]);
    await runQueued();
    expect(await list()).toMatchObject([
      { id: json.id, state: "there", width: 400, height: 300, placing: null },
    ]);
    const change = {
      placing: { by: "points", from: { x: 0.1, y: 0.5 }, to: { x: 0.9, y: 0.5 }, lengthMm: 800 },
      neutral: { x: 0.5, y: 0.5, reflects: 18 },
    };
    const placed = await studio.api("PATCH", `${path()}/${json.id}`, change);
    expect(placed.json).toMatchObject(change);
    expect((await studio.api("PATCH", `${path()}/${json.id}`, { name: "Their page" })).json).toMatchObject({
      name: "Their page",
      ...change,
    });
    // The same picture once more is no second one.
    await handIn(await photograph(), "name=Again");
    expect(await list()).toMatchObject([{ id: json.id, name: "Again", state: "there" }]);
    expect((await studio.api("DELETE", `${path()}/${json.id}`)).status).toBe(200);
    expect(await list()).toEqual([]);
    expect((await studio.api("DELETE", `${path()}/${json.id}`)).status).toBe(404);
  });

  test.each([
    ["no picture", () => Buffer.from("<svg onload=alert(1)>")],
    ["a picture that breaks off", async () => (await photograph()).subarray(0, 900)],
    ["a zip", () => Buffer.from("PK\u0003\u0004 and so on")],
  ])("that is %s is said to be none, and is not shown", async (_, bytes) => {
    const { json } = await handIn(await bytes());
    await runQueued();
    const [one] = await list();
    expect(one).toMatchObject({ id: json.id, state: "failed", width: null });
    expect(one.failure).toContain("It cannot be read as a picture");
    const change = { placing: { by: "points", from: { x: 0, y: 0 }, to: { x: 1, y: 0 }, lengthMm: 5 } };
    expect((await studio.api("PATCH", `${path()}/${json.id}`, change)).status).toBe(409);
    await studio.api("DELETE", `${path()}/${json.id}`);
  });

  test("is refused with what is wrong: empty, without a name, for no renderer, of no material, by a guest", async () => {
    const bytes = await photograph();
    expect((await handIn(Buffer.alloc(0))).status).toBe(400);
    expect((await handIn(bytes, "name=")).json).toMatchObject({ status: 422, pointer: "/name" });
    expect((await handIn(bytes, "name=a&profile=none")).json).toMatchObject({
      status: 422,
      pointer: "/profile",
    });
    expect((await handIn(bytes, "name=a", `/materials/${crypto.randomUUID()}/references`)).status).toBe(404);
    const guest = await studio.api("POST", `${path()}?name=a`, bytes, { token: "nobody" });
    expect(guest.status).toBe(401);
    expect(await list()).toEqual([]);
  });

  test("cannot be placed by points that are one, or corners that mirror it", async () => {
    const { json } = await handIn(await picture("#808080", 64));
    await runQueued();
    const place = (placing: unknown) => studio.api("PATCH", `${path()}/${json.id}`, { placing });
    const here = { x: 0.5, y: 0.5 };
    expect((await place({ by: "points", from: here, to: here, lengthMm: 10 })).json.pointer).toBe("/placing");
    const corners = [
      { x: 1, y: 0 },
      { x: 0, y: 0 },
      { x: 0, y: 1 },
      { x: 1, y: 1 },
    ];
    const { json: mirrored } = await place({ by: "corners", corners, widthMm: 100, heightMm: 100 });
    expect(mirrored).toMatchObject({ pointer: "/placing" });
    expect(mirrored.detail).toContain("mirrored");
    await studio.api("DELETE", `${path()}/${json.id}`);
  });
});

describe("a difference", () => {
  const difference = (other: string, of = wall) =>
    whileQueued(studio.api("GET", `/materials/${of}/difference?with=${other}`));

  test("from an earlier revision is none until something is changed, in colour or in roughness", async () => {
    const { revision } = (await studio.api("GET", `/materials/${wall}`)).json;
    const { json: none } = await difference(`revision:${revision}`);
    expect(none.deltaE2000).toBe(0);
    expect(none.roughness).toEqual(none.otherRoughness);
    await studio.api("PATCH", `/materials/${wall}`, { finish: { brightnessStops: -1, roughnessScale: 0.5 } });
    const { json } = await difference(`revision:${revision}`);
    expect(json.deltaE2000).toBeGreaterThan(8);
    expect(json.meanLab[0]).toBeLessThan(json.otherLab[0] - 8);
    expect(json.roughness.mean).toBeCloseTo(json.otherRoughness.mean / 2, 2);
    await studio.api("PATCH", `/materials/${wall}`, {
      finish: { brightnessStops: null, roughnessScale: null },
    });
  });

  test("from another material, and from a reference picture by its grey", async () => {
    const { json: other } = await difference(`material:${wall}`, paint);
    expect(other.deltaE2000).toBeGreaterThan(5);
    expect(other.roughness.spread).toBeCloseTo(0, 6);
    await studio.api("PATCH", `/materials/${paint}`, { finish: { specularWeight: 0, roughness: 1 } });
    const { json: made } = await handIn(await photograph(118), "name=a", `/materials/${paint}/references`);
    await runQueued();
    const { json } = await difference("reference", paint);
    // #767676 is 118 of 255: the same grey as the paint's.
    expect(json.deltaE2000).toBeLessThan(1);
    expect(json.otherRoughness).toBeNull();
    expect((await difference(`reference:${made.id}`, paint)).json.deltaE2000).toBe(json.deltaE2000);
  });

  test.each(["nothing", "revision:99", "reference", `material:${crypto.randomUUID()}`, "reference:x"])(
    "from %s is refused",
    async (other) => {
      expect((await difference(other)).json).toMatchObject({ status: 422, pointer: "/with" });
    },
  );

  test("a picture for one renderer has its corrections", async () => {
    const draw = async (query: string) => {
      const { response } = await whileQueued(
        studio.api("GET", `/materials/${wall}/picture?width=64&height=64${query}`),
      );
      return response.headers.get("ETag");
    };
    await studio.api("PUT", `/materials/${wall}/corrections/gltf-2`, { tint: "#ff8080" });
    expect(await draw("&profile=gltf-2")).not.toBe(await draw(""));
    expect(await draw("&profile=gloss-path-tracer-cm")).toBe(await draw(""));
  });
});
