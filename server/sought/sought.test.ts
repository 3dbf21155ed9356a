import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import { cropped, sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
const { base_color: brick } = sampleSet("brick");
beforeAll(async () => {
  studio = await openTestStudio();
  for (const name of ["brick", "oak"]) {
    const set = sampleSet(name === "oak" ? "planks" : name);
    const intake = await takeIn(studio, { [`${name}_basecolor.png`]: await encode(set.base_color, "png") });
    await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  }
});
afterAll(() => studio.close());

const handIn = (bytes: Buffer, name = "seen.jpg") =>
  studio.api("POST", `/sought-pictures?name=${encodeURIComponent(name)}`, bytes);
const state = async (id: string) => (await studio.api("GET", `/sought-pictures/${id}`)).json;
const found = async (query: string): Promise<string[]> =>
  (await studio.api("GET", `/materials?${query}`)).json.items.map(({ name }: { name: string }) => name);

describe("a picture that somebody looks for the like of", () => {
  test("finds what it shows first, though it is a part of it that was saved badly", async () => {
    const part = await encode(cropped(brick, 20, 30, 200, 200), "png");
    const { status, json } = await handIn(
      await sharp(part).jpeg({ quality: 60 }).toBuffer(),
      "From a site.jpg",
    );
    expect([status, json.state, json.name]).toEqual([202, "reading", "From a site.jpg"]);
    // Nothing is found by what nobody has read.
    expect(await found(`likePicture=${json.id}`)).toEqual([]);
    await runQueued();
    expect(await state(json.id)).toMatchObject({ state: "there", failure: null });
    expect(await found(`likePicture=${json.id}`)).toEqual(["Brick", "Oak"]);
    expect(await found(`likePicture=${json.id}&family=timber`)).toEqual(["Oak"]);
    // The same once more is there at once.
    const again = await handIn(await sharp(part).jpeg({ quality: 60 }).toBuffer());
    expect([again.json.id, again.json.state]).toEqual([json.id, "there"]);
  });

  test("is said to be none, or to show nothing, and finds nothing", async () => {
    const bare = { create: { width: 40, height: 40, channels: 3 as const, background: "#808080" } };
    for (const [bytes, why] of [
      [Buffer.from("no picture at all"), /cannot be read as a picture/],
      [await sharp(bare).png().toBuffer(), /one colour/],
    ] as const) {
      const { json } = await handIn(bytes);
      await runQueued();
      const { state: now, failure } = await state(json.id);
      expect([now, failure]).toEqual(["failed", expect.stringMatching(why)]);
      expect(await found(`likePicture=${json.id}`)).toEqual([]);
    }
    expect(await found(`likePicture=${crypto.randomUUID()}`)).toEqual([]);
    expect((await studio.api("GET", `/sought-pictures/${crypto.randomUUID()}`)).status).toBe(404);
    expect((await studio.api("POST", "/sought-pictures", Buffer.from("x"))).status).toBe(422);
  });
});
