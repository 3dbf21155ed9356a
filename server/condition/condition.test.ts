import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import { CONDITIONS } from "#core/picture/condition";
import { panoramaOfBytes } from "#core/picture/panorama";
import { whileQueued } from "#server/testing/runQueued";
import { openTestStudio, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let sky: string;
let square: string;
let paint: string;
beforeAll(async () => {
  studio = await openTestStudio();
  sky = await environment("harbour_sky.hdr", 64, 32);
  square = await environment("square_room.hdr", 48, 48);
  const made = await studio.api("POST", "/materials", { name: "Steel", layout: "plain", color: "#c8c8c8" });
  paint = made.json.id;
});
afterAll(() => studio.close());

/** A Radiance file: its upper half twenty times as bright as the lower one, and red in its left half. */
function radiance(width: number, height: number): Buffer {
  const pixels = Array.from({ length: width * height }, (_, i) => {
    const isUpper = i < (width * height) / 2;
    const isLeft = i % width < width / 2;
    return [200, isLeft ? 20 : 200, isLeft ? 20 : 200, isUpper ? 132 : 127];
  });
  return Buffer.concat([
    Buffer.from(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${height} +X ${width}\n`, "latin1"),
    Buffer.from(pixels.flat()),
  ]);
}

/** Takes one in as an environment, whatever it was taken for. @returns the hash of its file */
async function environment(name: string, width: number, height: number): Promise<string> {
  const intake = await takeIn(studio, { [name]: radiance(width, height) });
  const [{ id }] = intake.candidates;
  const accepted = await studio.api("POST", `/intakes/${intake.id}/accept`, {
    candidates: [{ id, roles: { [name]: "environment" } }],
  });
  expect(accepted.json.skipped).toEqual([]);
  const material = await studio.api("GET", `/materials/${accepted.json.materials[0].id}`);
  return material.json.maps[0].sha256;
}

const { name: _, ...light } = CONDITIONS.grazing;

describe("conditions of the studio's own", () => {
  test("are kept, renamed, changed and deleted, and listed after those that everybody has", async () => {
    const made = (await studio.api("POST", "/conditions", { name: " North window ", light })).json;
    expect(made).toMatchObject({ name: "North window", light });
    const { items } = (await studio.api("GET", "/conditions")).json;
    expect(items.map(({ name, own }: { name: string; own: boolean }) => [name, own])).toEqual([
      ...Object.values(CONDITIONS).map(({ name }) => [name, false]),
      ["North window", true],
    ]);
    const darker = { ...light, exposureStops: -1 };
    const change = { name: "North, dark", light: darker };
    expect((await studio.api("PATCH", `/conditions/${made.id}`, change)).json).toEqual({
      id: made.id,
      ...change,
    });
    expect((await studio.api("DELETE", `/conditions/${made.id}`)).status).toBe(200);
    expect((await studio.api("DELETE", `/conditions/${made.id}`)).status).toBe(404);
  });

  test("have names of their own, and no light that is none", async () => {
    const post = (body: unknown) => studio.api("POST", "/conditions", body);
    expect((await post({ name: "South", light })).status).toBe(201);
    const again = await post({ name: "SOUTH", light });
    expect(again.status).toBe(422);
    expect(again.json.detail).toContain("There is a condition “SOUTH” already");
    expect((await post({ name: "overcast studio", light })).status).toBe(422);
    expect((await post({ name: "\u202e", light })).status).toBe(422);
    expect((await post({ name: "x", light: { ...light, lampShare: 7 } })).status).toBe(422);
    const nowhere = await post({ name: "x", light: { ...light, environment: "0".repeat(64) } });
    expect([nowhere.status, nowhere.json.detail]).toEqual([
      404,
      expect.stringContaining("no such environment"),
    ]);
    const flat = await post({ name: "x", light: { ...light, environment: square } });
    expect([flat.status, flat.json.detail]).toEqual([409, expect.stringContaining("48 × 48 px")]);
  });

  test("of several people who keep one name at once, all but one are told", async () => {
    const answers = await Promise.all(
      [1, 2, 3].map(() => studio.api("POST", "/conditions", { name: "Twice", light })),
    );
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 422, 422]);
  });
});

describe("an environment of the library", () => {
  test("is listed, and its panorama read: as bright as the file, and red where that is", async () => {
    const { items } = (await studio.api("GET", "/environments")).json;
    expect(items.map(({ sha256 }: { sha256: string }) => sha256).sort()).toEqual([sky, square].sort());
    const { response } = await whileQueued(studio.api("GET", `/environments/${sky}/panorama`));
    const { data, width, height } = panoramaOfBytes(await response.arrayBuffer());
    const at = (x: number, y: number, c: number) => data[(y * width + x) * 3 + c];
    expect(at(200, 20, 0)).toBeCloseTo((200 / 256) * 2 ** 4, 1);
    expect(at(200, height - 20, 0)).toBeCloseTo((200 / 256) * 2 ** -1, 1);
    expect(at(20, 20, 1) / at(20, 20, 0)).toBeCloseTo(0.1, 1);
  });

  test("lights pictures under a condition of the studio's, by its id", async () => {
    const body = { name: "Harbour", light: { ...light, lampShare: 0, environment: sky } };
    const { id } = (await studio.api("POST", "/conditions", body)).json;
    await studio.api("PATCH", `/materials/${paint}`, { finish: { metalness: 1, roughness: 0.2 } });
    const picture = `/materials/${paint}/picture?width=64&shape=block&turnRight=0&condition=`;
    const means = async (condition: string) => {
      const { response } = await whileQueued(studio.api("GET", picture + condition));
      expect(response.status).toBe(200);
      const { channels } = await sharp(Buffer.from(await response.arrayBuffer())).stats();
      return channels.map(({ mean }) => mean);
    };
    const [red, green] = await means(id);
    const [greyRed, greyGreen] = await means("studio");
    expect(red / green).toBeGreaterThan((greyRed / greyGreen) * 1.05);
    expect((await studio.api("GET", `${picture}nothing`)).json.detail).toContain(
      "There is no condition “nothing”",
    );
    expect((await studio.api("GET", `${picture}${"-".repeat(36)}`)).status).toBe(422);
    // What it is kept for as long as a condition needs it, though the material has left the library.
    const found = (await studio.api("GET", "/environments")).json.items.find(
      ({ sha256 }: { sha256: string }) => sha256 === sky,
    );
    expect((await studio.api("DELETE", `/materials/${found.id}`)).status).toBe(200);
    expect((await means(id))[0]).toBeCloseTo(red, 6);
  });

  test("that is no panorama is refused with its size, and what is not there with words", async () => {
    const answer = await studio.api("GET", `/environments/${square}/panorama`);
    expect(answer.status).toBe(409);
    expect(answer.json.detail).toContain("48 × 48 px");
    expect((await studio.api("GET", `/environments/${"a".repeat(64)}/panorama`)).status).toBe(404);
  });
});
