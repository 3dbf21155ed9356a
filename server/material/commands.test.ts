import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

async function makeMaterial(name: string): Promise<string> {
  const color = `#${Math.floor(Math.random() * 0xffffff)
    .toString(16)
    .padStart(6, "0")}`;
  const intake = await takeIn(studio, {
    [`${name}.png`]: await picture(color, 64),
    [`${name}_normal.png`]: await picture("#8080ff", 64),
  });
  return (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
}

const paving = { method: "modules", across: 4, up: 8, workSize: { width: 200, height: 100 }, joint: 3 };

describe("the repeat", () => {
  test("by modules, kept with its method; the earlier revision stays as it was", async () => {
    const id = await makeMaterial("paving");
    const { json, status } = await studio.api("PUT", `/materials/${id}/repeat`, paving);
    expect(status).toBe(200);
    expect(json).toMatchObject({
      repeat: { width: 812, height: 824 },
      stretchPercent: expect.closeTo(1.478, 3),
      densityX: expect.closeTo(78.818, 3),
      revision: 2,
    });
    const now = (await studio.api("GET", `/materials/${id}`)).json;
    expect(now).toMatchObject({ sizeState: "known", gauge: paving, repeat: { width: 812, height: 824 } });
    expect((await studio.api("GET", `/materials/${id}?revision=1`)).json).toMatchObject({
      repeat: null,
      sizeState: "unknown",
    });
  });

  test("by line, rectangle and overall size; a guess stays marked as one", async () => {
    const id = await makeMaterial("measured");
    const put = async (body: unknown) =>
      (await studio.api("PUT", `/materials/${id}/repeat`, body)).json.repeat;
    expect(await put({ method: "length", from: { x: 0, y: 0 }, to: { x: 32, y: 0 }, length: 150 })).toEqual({
      width: 300,
      height: 300,
    });
    expect(
      await put({
        method: "rectangle",
        from: { x: 0, y: 0 },
        to: { x: 32, y: 16 },
        width: 100,
        height: 50,
        keep: "width",
      }),
    ).toEqual({ width: 200, height: 200 });
    expect(await put({ method: "size", width: 600, assumed: true })).toEqual({ width: 600, height: 600 });
    expect((await studio.api("GET", `/materials/${id}`)).json.sizeState).toBe("assumed");
  });

  test.each([
    [{ method: "size", width: "12 q" }, "/width", "12 q"],
    [{ method: "size", width: -3 }, "/width", "-3"],
    [{ method: "size", width: 0 }, "/width", "0"],
    [{ ...paving, across: 0.5 }, "/across", "0.5"],
    [{ method: "length", from: { x: 0, y: 0 }, to: { x: 900, y: 0 }, length: 5 }, "/to", "outside"],
    [{ method: "weigh" }, "/method", "weigh"],
  ])("refuses %j and says what came", async (body, pointer, said) => {
    const id = await makeMaterial("refused");
    const { status, json, type } = await studio.api("PUT", `/materials/${id}/repeat`, body);
    expect(status).toBe(422);
    expect(type).toContain("application/problem+json");
    expect(json).toMatchObject({ title: expect.any(String), pointer });
    expect(json.detail).toContain(said);
    expect((await studio.api("GET", `/materials/${id}`)).json.revision).toBe(1);
  });
});

describe("saving", () => {
  test("somebody who saw an older revision is told, and nothing is lost", async () => {
    const id = await makeMaterial("contended");
    expect(
      (
        await studio.api(
          "PUT",
          `/materials/${id}/repeat`,
          { method: "size", width: 500 },
          { headers: { "If-Match": '"1"' } },
        )
      ).status,
    ).toBe(200);
    const late = await studio.api(
      "PATCH",
      `/materials/${id}`,
      { name: "Mine" },
      { headers: { "If-Match": "1" } },
    );
    expect(late.status).toBe(412);
    expect(late.json.detail).toContain("revision 2");
    expect((await studio.api("GET", `/materials/${id}`)).json).toMatchObject({
      name: "Contended",
      revision: 2,
      repeat: { width: 500 },
    });
  });

  test("of two who save the same revision at once, one is told", async () => {
    const id = await makeMaterial("race");
    const save = (width: number) =>
      studio.api(
        "PUT",
        `/materials/${id}/repeat`,
        { method: "size", width },
        { headers: { "If-Match": "1" } },
      );
    const statuses = (await Promise.all([save(100), save(200)])).map(({ status }) => status);
    expect(statuses.sort()).toEqual([200, 412]);
  });

  test("of many who save without having looked, all get in, one after the other", async () => {
    const id = await makeMaterial("queue");
    const answers = await Promise.all(
      [1, 2, 3].map((n) => studio.api("PATCH", `/materials/${id}`, { finish: { normalStrength: n } })),
    );
    expect(answers.map(({ status }) => status)).toEqual([200, 200, 200]);
    expect((await studio.api("GET", `/materials/${id}`)).json.revision).toBe(4);
  });

  test("a finish changes only what is named, and a direction answers the finding", async () => {
    const id = await makeMaterial("finish");
    const { json } = await studio.api("PATCH", `/materials/${id}`, {
      finish: { ior: 1.4 },
      normalDirection: "-Y",
    });
    expect(json.finish).toMatchObject({ ior: 1.4, roughness: 0.5, normalStrength: 1 });
    // What was changed before stays, and is not put back to where it began.
    const next = await studio.api("PATCH", `/materials/${id}`, { finish: { normalStrength: 0.7 } });
    expect(next.json.finish).toMatchObject({ ior: 1.4, roughness: 0.5, normalStrength: 0.7 });
    expect(json.maps.find(({ role }: { role: string }) => role === "geometry_normal").normalDirection).toBe(
      "-Y",
    );
    expect(json.findings.map(({ code }: { code: string }) => code)).not.toContain("normal-direction-assumed");
    // The height amount alone can be taken away, and is assumed from then on.
    const amount = (heightAmplitudeMm: number | null) =>
      studio.api("PATCH", `/materials/${id}`, { finish: { heightAmplitudeMm } });
    expect((await amount(4)).json.finish.heightAmplitudeMm).toBe(4);
    expect((await amount(null)).json.finish).not.toHaveProperty("heightAmplitudeMm");
    expect((await studio.api("PATCH", `/materials/${id}`, { finish: { ior: null } })).status).toBe(422);
    expect((await studio.api("PATCH", `/materials/${id}`, { finish: { ior: 9 } })).json.pointer).toBe(
      "/finish/ior",
    );
    expect((await studio.api("PATCH", `/materials/${id}`, { colour: "red" })).status).toBe(422);
  });
});

describe("making", () => {
  test("a plain colour is a material; a copy remembers its origin", async () => {
    const plain = await studio.api("POST", "/materials", {
      name: "Sail",
      layout: "plain",
      color: "#ECE7DA",
      roughness: 0.4,
    });
    expect(plain.status).toBe(201);
    expect(plain.json).toMatchObject({
      layout: "plain",
      maps: [],
      finish: { color: "#ece7da", roughness: 0.4 },
      missing: [],
    });
    const copy = await studio.api("POST", "/materials", { name: "Sail, matt", from: plain.json.id });
    expect(copy.json).toMatchObject({
      madeFrom: { id: plain.json.id, name: "Sail" },
      finish: { color: "#ece7da" },
    });
    expect(copy.json.code).not.toBe(plain.json.code);
    expect(
      (await studio.api("POST", "/materials", { name: "x", layout: "plain", color: "red" })).json.detail,
    ).toContain("#rrggbb");
    expect(
      (await studio.api("POST", "/materials", { name: "", layout: "plain", color: "#000000" })).json.pointer,
    ).toBe("/name");
  });

  test("search finds words in name, code and supplier, in pages, and takes signs literally", async () => {
    await studio.api("POST", "/materials", { name: "100 % wool", layout: "plain", color: "#777777" });
    const found = async (q: string) =>
      (await studio.api("GET", `/materials?q=${encodeURIComponent(q)}`)).json;
    expect((await found("% WOOL")).items).toHaveLength(1);
    expect((await found("_ool")).items).toHaveLength(0);
    expect((await found((await found("wool")).items[0].code)).items[0].name).toBe("100 % wool");
    for (let n = 0; n < 61; n++)
      await studio.api("POST", "/materials", { name: `Swatch ${n}`, layout: "plain", color: "#777777" });
    const first = await found("swatch");
    expect(first).toMatchObject({ total: 61, next: "2" });
    const second = (await studio.api("GET", `/materials?q=swatch&page=${first.next}`)).json;
    expect([second.items.length, second.next]).toEqual([1, null]);
  });

  test("deleting takes it out of the library and nothing else", async () => {
    const id = await makeMaterial("gone");
    expect((await studio.api("DELETE", `/materials/${id}`)).status).toBe(200);
    expect((await studio.api("GET", `/materials/${id}`)).status).toBe(404);
    expect((await studio.api("GET", "/materials?q=gone")).json.total).toBe(0);
  });
});
