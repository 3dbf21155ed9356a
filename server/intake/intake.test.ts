import { promisify } from "node:util";
import { deflate } from "node:zlib";
import { readdir } from "node:fs/promises";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { openTestStudio, picture, takeIn, zipOf, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const reasonsOf = (intake: { ignored: { file: string; reason: string }[] }) =>
  Object.fromEntries(intake.ignored.map(({ file, reason }) => [file, reason]));

describe("an intake", () => {
  test("reads zips and loose files into candidates, and previews lie ready", async () => {
    const intake = await takeIn(studio, {
      "oak.zip": await zipOf({
        "oak/oak_basecolor.png": await picture("#8a6b42"),
        "oak/oak_normal_gl.png": await picture("#8080ff"),
        "oak/readme.txt": "hello",
      }),
      "elm.png": await picture("#aa8855"),
    });
    expect(intake.state).toBe("review");
    expect(intake.candidates.map(({ name }: { name: string }) => name)).toEqual(["Elm", "Oak"]);
    expect(intake.candidates[1].maps).toEqual([
      expect.objectContaining({
        file: "oak/oak_basecolor.png",
        role: "base_color",
        width: 16,
        height: 16,
        bitDepth: 8,
      }),
      expect.objectContaining({
        file: "oak/oak_normal_gl.png",
        role: "geometry_normal",
        normalDirection: "+Y",
      }),
    ]);
    expect(reasonsOf(intake)).toEqual({
      "oak.zip/oak/readme.txt": expect.stringContaining("A text that came along"),
    });
    const previews = await readdir(join(studio.folder, "derived"), { recursive: true });
    for (const size of [64, 256, 1024])
      expect(previews.filter((name) => name.endsWith(`-color-${size}`))).toHaveLength(3);
  });

  test("names what is wrong with each bad file and goes on with the rest", async () => {
    const good = await picture("#123456");
    const climbing = await zipOf({ "xx/evil.png": good, "fine.png": await picture("#654321") });
    const names = { from: Buffer.from("xx/evil.png"), to: Buffer.from("../evil.png") };
    for (let at = climbing.indexOf(names.from); at !== -1; at = climbing.indexOf(names.from))
      names.to.copy(climbing, at);
    const broken = await zipOf({ "a.png": good });
    const intake = await takeIn(studio, {
      "cut.png": good.subarray(0, good.length - 30),
      "text.jpg": "This is a text.",
      "nothing.png": "",
      "empty.zip": await zipOf({}),
      "damaged.zip": broken.subarray(0, broken.length - 30),
      "liar.zip": "not a zip at all",
      "climbing.zip": climbing,
      "good.png": good,
    });
    const reasons = reasonsOf(intake);
    expect(reasons["cut.png"]).toContain("damaged or cut short");
    expect(reasons["text.jpg"]).toContain("no image of a format that can be read");
    expect(reasons["nothing.png"]).toContain("empty (0 bytes)");
    expect(reasons["empty.zip"]).toContain("empty");
    expect(reasons["damaged.zip"]).toContain("damaged");
    expect(reasons["liar.zip"]).toContain("is no zip");
    expect(reasons["climbing.zip/../evil.png"]).toContain("leads out of the archive");
    expect(intake.candidates.map(({ name }: { name: string }) => name)).toEqual(["Fine", "Good"]);
    expect(await readdir(join(studio.folder, "incoming"))).toEqual([]);
  });

  test("refuses an entry that expands beyond reason, and a JPEG named .png is taken for what it is", async () => {
    const jpeg = await (
      await import("sharp")
    )
      .default({ create: { width: 8, height: 8, channels: 3, background: "#fff" } })
      .jpeg()
      .toBuffer();
    const intake = await takeIn(studio, {
      "bomb.zip": await zipOf({ "bomb.png": Buffer.alloc(3_000_000) }),
      "photo.png": jpeg,
    });
    expect(reasonsOf(intake)["bomb.zip/bomb.png"]).toContain("times its size");
    expect(intake.candidates[0].findings.map(({ code }: { code: string }) => code)).toContain(
      "extension-differs",
    );
  });

  test("a zip in a zip is read; one more inside is set aside with what to do", async () => {
    const deepest = await zipOf({ "deep.png": await picture("#0a0b0c") });
    const inner = await zipOf({ "reed.png": await picture("#1a2b0c"), "deepest.zip": deepest });
    const intake = await takeIn(studio, { "outer.zip": await zipOf({ "inner.zip": inner }) });
    expect(intake.candidates.map(({ name }: { name: string }) => name)).toEqual(["Reed"]);
    expect(reasonsOf(intake)["outer.zip/inner.zip/deepest.zip"]).toContain(
      "unpack it and send what is inside",
    );
  });

  test("an image of 30,000 × 30,000 px is refused before it is decoded, and the rest goes on", async () => {
    const intake = await takeIn(studio, {
      "vast.png": await blankPng(30_000),
      "sedge.png": await picture("#3c4d2e"),
    });
    expect(reasonsOf(intake)["vast.png"]).toBe("It is 30000 × 30000 px; up to 16384 × 16384 px are read.");
    expect(intake.candidates.map(({ name }: { name: string }) => name)).toEqual(["Sedge"]);
  });

  test("read twice gives the same candidates once", async () => {
    const first = await takeIn(studio, { "twice.png": await picture("#010203") });
    const { database } = await import("#server/db/database");
    const { setIntakeState } = await import("#server/intake/writes");
    const { readIntake } = await import("#server/intake/stages/read");
    await setIntakeState(database(), first.id, "reading");
    await readIntake(first.id);
    const again = (await studio.api("GET", `/intakes/${first.id}`)).json;
    expect(again.candidates).toHaveLength(1);
    expect(again.candidates[0].name).toBe("Twice");
  });

  test("a request without files or with an unknown choice is refused, and leaves no intake", async () => {
    const { database } = await import("#server/db/database");
    const count = async () => (await database().query("SELECT count(*) FROM intakes")).rows[0].count;
    const before = await count();
    expect((await studio.api("POST", "/intakes", new FormData())).status).toBe(422);
    const form = new FormData();
    form.append("onClash", "whatever");
    form.append("files", new Blob(["x"]), "x.png");
    const refused = await studio.api("POST", "/intakes", form);
    expect(refused.json).toMatchObject({
      status: 422,
      pointer: "/onClash",
      detail: expect.stringContaining("whatever"),
    });
    expect((await studio.api("POST", "/intakes", { files: [] })).status).toBe(415);
    expect(await count()).toBe(before);
  });
});

describe("accepting", () => {
  const accept = (id: string, body: unknown) => studio.api("POST", `/intakes/${id}/accept`, body);

  test("takes corrected roles and a new name; the material is of unknown size and remembers its findings", async () => {
    const intake = await takeIn(studio, {
      "floor.png": await picture("#704020"),
      "floor_sm.png": await picture("#303030"),
      "floor_nm.png": await picture("#8080ff"),
    });
    const [candidate] = intake.candidates;
    const { json, status } = await accept(intake.id, {
      candidates: [{ id: candidate.id, name: "Attic floor", roles: { "floor_sm.png": "gloss" } }],
    });
    expect(status).toBe(200);
    expect(json.materials).toEqual([{ id: expect.any(String), name: "Attic floor" }]);
    const material = (await studio.api("GET", `/materials/${json.materials[0].id}`)).json;
    expect(material).toMatchObject({
      sizeState: "unknown",
      repeat: null,
      revision: 1,
      kind: "material",
      layout: "repeating",
      missing: ["size"],
    });
    expect(material.maps.map(({ role }: { role: string }) => role).sort()).toEqual([
      "base_color",
      "geometry_normal",
      "gloss",
    ]);
    expect(material.findings.map(({ code }: { code: string }) => code)).toEqual(["normal-direction-assumed"]);
    expect((await studio.api("GET", `/intakes/${intake.id}`)).json).toMatchObject({ state: "accepted" });
    expect(
      (await accept(intake.id, { candidates: [{ id: candidate.id }] })).json.skipped[0].reason,
    ).toContain("accepted already");
  });

  test("names the file or the role that does not fit", async () => {
    const intake = await takeIn(studio, {
      "stone.png": await picture("#555555"),
      "stone_ao.png": await picture("#eeeeee"),
    });
    const id = intake.candidates[0].id;
    expect(
      (await accept(intake.id, { candidates: [{ id, roles: { "other.png": "height" } }] })).json.detail,
    ).toContain("no file “other.png”");
    expect(
      (await accept(intake.id, { candidates: [{ id, roles: { "stone_ao.png": "sparkle" } }] })).json.detail,
    ).toContain("“sparkle” is not a role");
    expect(
      (await accept(intake.id, { candidates: [{ id, roles: { "stone_ao.png": "base color" } }] })).json
        .detail,
    ).toContain("cannot both be");
    expect((await accept(intake.id, {})).status).toBe(422);
    expect((await studio.api("GET", "/materials?q=stone")).json.total).toBe(0);
  });

  test.each([
    ["keep-both", 2, "Slate (2)"],
    ["skip", 1, undefined],
    ["replace", 1, "Slate"],
  ])("on a clash it can %s", async (onClash, total, name) => {
    const { database } = await import("#server/db/database");
    await database().query("UPDATE materials SET deleted_at = now() WHERE name LIKE 'Slate%'");
    const first = await takeIn(studio, { "slate.png": await picture("#334455") });
    const [before] = (await accept(first.id, { all: true })).json.materials;
    const second = await takeIn(studio, { "slate.png": await picture("#445566") }, onClash);
    const { json } = await accept(second.id, { all: true });
    expect(json.materials.map((material: { name: string }) => material.name)).toEqual(name ? [name] : []);
    expect(json.skipped).toHaveLength(name ? 0 : 1);
    expect((await studio.api("GET", "/materials?q=slate")).json.total).toBe(total);
    if (onClash === "replace")
      expect((await studio.api("GET", `/materials/${before.id}`)).json.revision).toBe(2);
  });

  test("two people accepting at once make one material", async () => {
    const intake = await takeIn(studio, { "both.png": await picture("#999111") });
    const answers = await Promise.all([accept(intake.id, { all: true }), accept(intake.id, { all: true })]);
    expect(answers.flatMap(({ json }) => json.materials)).toHaveLength(1);
    expect((await studio.api("GET", "/materials?q=both")).json.total).toBe(1);
  });
});

/** A PNG of one bit a pixel, all black: 110 KB for 30,000 × 30,000 px, as one would send who means harm. */
async function blankPng(side: number): Promise<Buffer> {
  const crcOf = (data: Buffer) => {
    let crc = ~0;
    for (const byte of data) {
      crc ^= byte;
      for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
    }
    return ~crc >>> 0;
  };
  const chunk = (kind: string, content: Buffer) => {
    const named = Buffer.concat([Buffer.from(kind, "latin1"), content]);
    const frame = Buffer.alloc(8);
    frame.writeUInt32BE(content.length, 0);
    frame.writeUInt32BE(crcOf(named), 4);
    return Buffer.concat([frame.subarray(0, 4), named, frame.subarray(4)]);
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(side, 0);
  header.writeUInt32BE(side, 4);
  header[8] = 1;
  const rows = await promisify(deflate)(Buffer.alloc((Math.ceil(side / 8) + 1) * side), { level: 1 });
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]),
    chunk("IHDR", header),
    chunk("IDAT", rows),
    chunk("IEND", Buffer.alloc(0)),
  ]);
}
