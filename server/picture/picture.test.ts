import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import { sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";
import { whileQueued } from "#server/testing/runQueued";
import { openTestStudio, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let wall: string;
let plain: string;
beforeAll(async () => {
  studio = await openTestStudio();
  const { base_color, height, specular_roughness } = sampleSet("brick");
  const intake = await takeIn(studio, {
    "wall_basecolor.png": await encode(base_color, "png"),
    "wall_height.png": await encode(height, "png"),
    "wall_roughness.png": await encode(specular_roughness, "png"),
  });
  wall = (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
  await studio.api("PUT", `/materials/${wall}/repeat`, { method: "size", width: 900, height: 900 });
  plain = (await studio.api("POST", "/materials", { name: "Paint", layout: "plain", color: "#767676" })).json
    .id;
});
afterAll(() => studio.close());

const get = async (path: string) => {
  const { response, status, json } = await whileQueued(studio.api("GET", path));
  const isRead = response.bodyUsed;
  return {
    status,
    response,
    bytes: isRead ? Buffer.alloc(0) : Buffer.from(await response.arrayBuffer()),
    json,
  };
};

describe("a picture of a material", () => {
  test("is a PNG of the size that was asked for, made once", async () => {
    const path = `/materials/${wall}/picture?width=120&shape=block&condition=grazing`;
    const first = await get(path);
    expect([first.status, first.response.headers.get("Content-Type")]).toEqual([200, "image/png"]);
    expect(await sharp(first.bytes).metadata()).toMatchObject({ format: "png", width: 120, height: 75 });
    const second = await get(path);
    expect(second.response.headers.get("ETag")).toBe(first.response.headers.get("ETag"));
    expect(second.bytes).toEqual(first.bytes);
  });

  test("shows its finish, and the revision that was asked for", async () => {
    const path = `/materials/${wall}/picture?width=64&height=64`;
    const mean = async (bytes: Buffer) => (await sharp(bytes).stats()).channels.map(({ mean }) => mean);
    const [red] = await mean((await get(path)).bytes);
    const { revision } = (await studio.api("GET", `/materials/${wall}`)).json;
    await studio.api("PATCH", `/materials/${wall}`, { finish: { brightnessStops: -1.5, tint: "#80ff80" } });
    const [dimmed] = await mean((await get(path)).bytes);
    expect(dimmed).toBeLessThan(red * 0.7);
    const [before] = await mean((await get(`${path}&revision=${revision}`)).bytes);
    expect(before).toBeCloseTo(red, 6);
    expect((await get(`${path}&revision=99`)).status).toBe(404);
  });

  test("of a plain colour without gloss under the studio's light is that colour", async () => {
    await studio.api("PATCH", `/materials/${plain}`, { finish: { specularWeight: 0, roughness: 1 } });
    const { bytes } = await get(`/materials/${plain}/picture?width=64`);
    const { data } = await sharp(bytes).raw().toBuffer({ resolveWithObject: true });
    expect(Math.abs(data[0] - 0x76)).toBeLessThanOrEqual(2);
    const brighter = await get(`/materials/${plain}/picture?width=64&exposureStops=1`);
    expect((await sharp(brighter.bytes).raw().toBuffer())[0]).toBeGreaterThan(data[0] + 30);
  });

  test("gives the colour of a spot: a plain one's at once, a map's under the finish, and words where there is none", async () => {
    const colorOf = async (id: string, query: string) =>
      (await whileQueued(studio.api("GET", `/materials/${id}/color?${query}`))) as {
        status: number;
        json: { color: string; lab: number[]; detail: string };
      };
    const paint = (
      await studio.api("POST", "/materials", { name: "Teal", layout: "plain", color: "#206070" })
    ).json;
    expect((await colorOf(paint.id, "x=0.5&y=0.5")).json.color).toBe("#206070");
    await studio.api("PATCH", `/materials/${wall}`, { finish: { tint: "#ffffff", brightnessStops: 0 } });
    const light = (await colorOf(wall, "x=0.4&y=0.4&radius=0.02")).json.lab[0];
    await studio.api("PATCH", `/materials/${wall}`, { finish: { brightnessStops: -1 } });
    expect((await colorOf(wall, "x=0.4&y=0.4&radius=0.02")).json.lab[0]).toBeLessThan(light * 0.85);
    expect((await colorOf(wall, "x=2&y=0.4")).status).toBe(422);
    const nowhere = `x=0.4&y=0.4&reference=${paint.id}`;
    expect((await colorOf(wall, nowhere)).json.detail).toContain("no such reference picture");
  });

  test.each([
    ["width=1", "/width"],
    ["width=100000", "/width"],
    ["shape=ball", "/shape"],
    ["condition=moon", "/condition"],
    ["lampAbove=abc", "/lampAbove"],
    ["lampAbove=-5", "/lampAbove"],
    ["exposureStops=1e9", "/exposureStops"],
    ["mmPerPx=0", "/mmPerPx"],
  ])("cannot be asked for with %s", async (query, pointer) => {
    const { status, json } = await get(`/materials/${wall}/picture?${query}`);
    expect(status).toBe(422);
    expect(json).toMatchObject({ pointer });
  });

  test("is nobody's who may not look", async () => {
    const { status } = await studio.api("GET", `/materials/${wall}/picture`, undefined, { token: "nobody" });
    expect(status).toBe(401);
  });
});
