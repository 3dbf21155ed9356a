import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";
import { folderStore } from "#server/store/folderStore";

let studio: TestStudio;
let photo: string;
beforeAll(async () => {
  studio = await openTestStudio();
  photo = await takeOne("facade.png", Buffer.from(await encode(sampleSet("brick").base_color, "png")));
});
afterAll(() => studio.close());

async function takeOne(name: string, data: Buffer): Promise<string> {
  const intake = await takeIn(studio, { [name]: data });
  const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  return json.materials[0].id;
}

/** On a picture of 256 × 256 px. */
const region = {
  name: "Gable wall",
  corners: [
    { x: 30, y: 40 },
    { x: 230, y: 20 },
    { x: 220, y: 240 },
    { x: 40, y: 210 },
  ],
  width: 3000,
  height: 2400,
};

const material = async (id: string) => (await studio.api("GET", `/materials/${id}`)).json;

async function flattened(recipe: object) {
  const asked = await studio.api("POST", `/materials/${photo}/flattenings`, recipe);
  expect(asked.status).toBe(202);
  expect(asked.json.state).toBe("running");
  const { runFlattening } = await import("#server/flattening/run");
  await runFlattening(asked.json.id);
  const { items } = (await studio.api("GET", `/materials/${photo}/flattenings`)).json;
  return items.find(({ id }: { id: string }) => id === asked.json.id);
}

describe("a region of a photograph", () => {
  test("becomes a material of its own with its real size, and the photograph stays as it is", async () => {
    const before = await material(photo);
    const done = await flattened(region);
    expect(done).toMatchObject({ state: "done", failure: null });
    const made = await material(done.material);
    expect(made).toMatchObject({
      name: "Gable wall",
      layout: "placed",
      sizeState: "known",
      madeFrom: { id: photo },
      gauge: { method: "flattened", photo },
    });
    expect(made.repeat.width).toBeCloseTo(3000, 0);
    expect(made.repeat.height).toBeCloseTo(2400, 0);
    const [map] = made.maps;
    expect(map.width / map.height).toBeCloseTo(3000 / 2400, 1);
    expect(await material(photo)).toEqual(before);
  });

  test("asked for twice at the same time gives two materials, and carried out twice, as after a crash, one", async () => {
    const [one, two] = await Promise.all([
      flattened({ ...region, name: "Left bay", layout: "repeating" }),
      flattened({ ...region, name: "Right bay", quality: "rough" }),
    ]);
    expect(one.material).not.toBe(two.material);
    expect(two.figures.width).toBeLessThan(one.figures.width / 3);
    const { runFlattening } = await import("#server/flattening/run");
    await runFlattening(one.id);
    const { items } = (await studio.api("GET", "/materials?q=Left bay")).json;
    expect(items).toHaveLength(1);
  });

  test("says how far its control points are off, and keeps that as the error of its size", async () => {
    const control = [{ at: { x: 130, y: 125 }, real: { x: 1500, y: 900 } }];
    const done = await flattened({ ...region, name: "Checked", control });
    expect(done.figures.residuals).toHaveLength(1);
    const made = await material(done.material);
    expect(made.gauge.errorPercent).toBeCloseTo(
      (100 * done.figures.residuals[0]) / Math.hypot(3000, 2400),
      6,
    );
  });

  test("is painted out with another material, whose size has to be known", async () => {
    const green = await takeOne("hedge_basecolor.png", await picture("#206020", 32));
    const patch = { x: 0, y: 0, width: 3000, height: 2400, shift: { x: 0, y: 0 }, material: green };
    const asked = { ...region, name: "Overgrown", patches: [patch] };
    const refused = await studio.api("POST", `/materials/${photo}/flattenings`, asked);
    expect(refused.status).toBe(422);
    expect(refused.json).toMatchObject({
      pointer: "/patches/0/material",
      detail: expect.stringContaining("unknown"),
    });
    await studio.api("PUT", `/materials/${green}/repeat`, { method: "size", width: 500 });
    const made = await material((await flattened(asked)).material);
    const { decode } = await import("#server/pixels/decode");
    const flat = await decode(folderStore(studio.folder).path(made.maps[0].sha256), "png", "color");
    const at = 3 * (Math.floor(flat.height / 2) * flat.width + Math.floor(flat.width / 2));
    expect([...flat.data.slice(at, at + 3)]).toEqual([0x20, 0x60, 0x20]);
  });

  test.each([
    ["mirrored", { corners: [1, 0, 3, 2].map((i) => region.corners[i]) }, "/corners", "mirrored"],
    ["crossing", { corners: [0, 2, 1, 3].map((i) => region.corners[i]) }, "/corners", "cross"],
    ["without a width", { width: 0 }, "/width", "real width"],
    ["with three corners", { corners: region.corners.slice(0, 3) }, "/corners", ""],
    ["without a name", { name: " " }, "/name", "1 to 200"],
  ])("that is %s is refused by its field", async (_, change, pointer, words) => {
    const { status, json } = await studio.api("POST", `/materials/${photo}/flattenings`, {
      ...region,
      ...change,
    });
    expect(status).toBe(422);
    expect(json.pointer).toMatch(new RegExp(`^${pointer}`));
    expect(json.detail).toContain(words);
  });

  test("of a plain colour, or of nothing, is refused", async () => {
    const plain = (
      await studio.api("POST", "/materials", { name: "Lime", layout: "plain", color: "#eeeeee" })
    ).json;
    const { status, json } = await studio.api("POST", `/materials/${plain.id}/flattenings`, region);
    expect([status, json.detail]).toEqual([422, "Lime has no picture that could be flattened."]);
    const nobody = "00000000-0000-4000-8000-000000000000";
    expect((await studio.api("POST", `/materials/${nobody}/flattenings`, region)).status).toBe(404);
  });

  test("whose photograph was taken away meanwhile ends with the reason", async () => {
    const gone = await takeOne("shed.png", await picture("#806020", 64));
    const corners = [
      { x: 5, y: 5 },
      { x: 60, y: 5 },
      { x: 60, y: 60 },
      { x: 5, y: 60 },
    ];
    const { json } = await studio.api("POST", `/materials/${gone}/flattenings`, { ...region, corners });
    await studio.api("DELETE", `/materials/${gone}`);
    const { runFlattening } = await import("#server/flattening/run");
    await runFlattening(json.id);
    const { findFlattening } = await import("#server/flattening/queries");
    const { database } = await import("#server/db/database");
    expect((await findFlattening(database(), json.id))!.failure).toContain("no longer");
  });
});

describe("a size taken over from another material", () => {
  test("is its size of now, kept with where it came from; without one it is refused", async () => {
    const [one, two] = [
      await takeOne("oak_basecolor.png", await picture("#aa8855", 40)),
      await takeOne("ash_basecolor.png", await picture("#bba070", 40)),
    ];
    const put = () => studio.api("PUT", `/materials/${two}/repeat`, { method: "same-as", material: one });
    const early = await put();
    expect(early.status).toBe(422);
    expect(early.json.detail).toContain("unknown too");
    await studio.api("PUT", `/materials/${one}/repeat`, { method: "size", width: 900, height: 450 });
    expect((await put()).json.repeat).toEqual({ width: 900, height: 450 });
    expect((await material(two)).gauge).toMatchObject({
      method: "same-as",
      material: one,
      width: 900,
      height: 450,
    });
  });

  test("is handed on to others one by one: who cannot take it holds up nobody", async () => {
    const { handOnRepeat } = await import("#server/material/commands");
    const from = await takeOne("slate_basecolor.png", await picture("#556070", 40));
    const to = await takeOne("slate_dark_basecolor.png", await picture("#354050", 80));
    const plain = (
      await studio.api("POST", "/materials", { name: "Chalk", layout: "plain", color: "#eeeeee" })
    ).json;
    await studio.api("PUT", `/materials/${from}/repeat`, { method: "size", width: 1200, assumed: true });
    const { person } = await studio.addPerson("make");
    const outcome = await handOnRepeat(from, [plain.id, to], person);
    expect(outcome).toEqual({
      saved: 1,
      failed: [{ name: "Chalk", reason: expect.stringContaining("plain") }],
    });
    expect(await material(to)).toMatchObject({
      repeat: { width: 1200, height: 1200 },
      sizeState: "assumed",
      gauge: { method: "same-as", material: from },
    });
  });

  test("and several lines over the interface, with what each is off by", async () => {
    const id = await takeOne("elm_basecolor.png", await picture("#a08860", 100));
    const lines = [
      { from: { x: 0, y: 0 }, to: { x: 100, y: 0 }, length: 500 },
      { from: { x: 0, y: 0 }, to: { x: 0, y: 50 }, length: 200 },
    ];
    const { json } = await studio.api("PUT", `/materials/${id}/repeat`, { method: "lines", lines });
    expect(json.repeat.width).toBeCloseTo(500, 6);
    expect(json.repeat.height).toBeCloseTo(400, 6);
    expect(json.residuals).toHaveLength(2);
    const wrong = await studio.api("PUT", `/materials/${id}/repeat`, {
      method: "lines",
      lines: [lines[0], { ...lines[1], to: { x: 0, y: 500 } }],
    });
    expect([wrong.status, wrong.json.pointer]).toEqual([422, "/lines/1/to"]);
  });
});
