import { mkdir, mkdtemp, readdir, rm, utimes, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import { encode } from "#server/pixels/encode";
import { makeCrate } from "#server/testing/usdCrate";
import { cropped, mirrored, quarterTurned, rolled, sampleSet } from "#core/judge/testing";
import type { Raster } from "#core/raster/raster";
import { openTestStudio, picture, takeIn, zipOf, type TestStudio } from "#server/testing/testStudio";
import { folderStore } from "#server/store/folderStore";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const png = (raster: Raster) => encode(raster, "png");
const codes = (candidate: { findings: { code: string }[] }) => candidate.findings.map(({ code }) => code);
const accept = (id: string, body: unknown) => studio.api("POST", `/intakes/${id}/accept`, body);

describe("an intake judges by pixels", () => {
  test("names that say nothing: the set is found, and each map is what it is", async () => {
    const set = sampleSet("brick");
    const intake = await takeIn(studio, {
      "scan.zip": await zipOf({
        "IMG_0001.png": await png(set.base_color),
        "IMG_0002.png": await png(set.geometry_normal),
        "IMG_0003.png": await png(set.height),
      }),
    });
    expect(intake.candidates).toHaveLength(1);
    const roles = Object.fromEntries(
      intake.candidates[0].maps.map(({ file, role }: { file: string; role: string }) => [file, role]),
    );
    expect(roles).toEqual({
      "IMG_0001.png": "base_color",
      "IMG_0002.png": "geometry_normal",
      "IMG_0003.png": "height",
    });
    expect(
      intake.candidates[0].maps.find(({ role }: { role: string }) => role === "geometry_normal"),
    ).toMatchObject({
      normalDirection: "+Y",
    });
  });

  test("a name that the pixels contradict is a finding with both opinions", async () => {
    const set = sampleSet("brick");
    const intake = await takeIn(studio, {
      "wall_basecolor.png": await png(set.base_color),
      "wall_normal_dx.png": await png(set.geometry_normal),
      "wall_roughness.png": await png(set.geometry_normal),
      "wall_height.png": await png(set.height),
    });
    const { findings } = intake.candidates[0];
    expect(findings).toContainEqual(
      expect.objectContaining({
        level: "wrong",
        code: "direction-disagrees",
        message: expect.stringContaining("+Y"),
      }),
    );
    expect(findings).toContainEqual(
      expect.objectContaining({
        code: "name-and-pixels-disagree",
        file: "wall_roughness.png",
        message: expect.stringContaining("unit vectors"),
      }),
    );
  });

  test("packed channels become maps of their own, and one of them is delivered", async () => {
    const set = sampleSet("brick");
    const orm = await sharp(
      Buffer.from(
        Array.from({ length: 256 * 256 }, (_, i) => [
          set.ambient_occlusion.data[i],
          set.specular_roughness.data[i],
          0,
        ]).flat(),
      ),
      { raw: { width: 256, height: 256, channels: 3 } },
    )
      .png()
      .toBuffer();
    const intake = await takeIn(studio, {
      "yard_basecolor.png": await png(set.base_color),
      "yard_ORM.png": orm,
    });
    expect(
      intake.candidates[0].maps
        .map(({ file, role }: { file: string; role: string }) => `${file} ${role}`)
        .sort(),
    ).toEqual([
      "yard_ORM.png#blue base_metalness",
      "yard_ORM.png#green specular_roughness",
      "yard_ORM.png#red ambient_occlusion",
      "yard_basecolor.png base_color",
    ]);
    const { json } = await accept(intake.id, { all: true });
    const started = (
      await studio.api("POST", "/deliveries", {
        materials: [json.materials[0].id],
        profiles: ["gloss-path-tracer-cm"],
      })
    ).json;
    const { runDelivery } = await import("#server/delivery/run");
    await runDelivery(started.id);
    const delivery = (await studio.api("GET", `/deliveries/${started.id}`)).json;
    const gloss = delivery.account.materials[0].files.find(({ role }: { role: string }) => role === "gloss");
    expect(gloss.operations).toEqual(expect.arrayContaining(["take green", "invert"]));
  });

  test("a cropped picture is not seamless; a panorama in floating point is an environment, and scuffs are wear", async () => {
    const set = sampleSet("brick");
    const scuffs = await png(set.ambient_occlusion);
    const header = "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 8 +X 16\n";
    const sky = Buffer.concat([
      Buffer.from(header, "latin1"),
      Buffer.from(Array.from({ length: 128 }, (_, i) => [120, 130, 140, i < 20 ? 134 : 128]).flat()),
    ]);
    const intake = await takeIn(studio, {
      "yard_photo.png": await png(cropped(set.base_color, 11, 9, 203, 187)),
      "floor_scuffs.png": scuffs,
      "harbour_sky.hdr": sky,
    });
    const byName = Object.fromEntries(intake.candidates.map((one: { name: string }) => [one.name, one]));
    expect(codes(byName["Yard photo"])).toContain("seam");
    expect(byName["Floor scuffs"]).toMatchObject({ kind: "wear", maps: [{ role: "wear_mask" }] });
    expect(byName["Harbour sky"]).toMatchObject({
      kind: "environment",
      maps: [{ role: "environment", bitDepth: 32 }],
    });
    const { json } = await accept(intake.id, { candidates: [{ id: byName["Harbour sky"].id }] });
    expect((await studio.api("GET", `/materials/${json.materials[0].id}`)).json.kind).toBe("environment");
  });

  test("the same picture is found again when it was mirrored, turned, shifted and encoded anew; a decision is remembered", async () => {
    const { base_color: base } = sampleSet("trowelled");
    const first = await takeIn(studio, { "lime_wash.png": await png(base) });
    await accept(first.id, { all: true });
    const jpeg = await sharp(await png(quarterTurned(mirrored(rolled(base, 70, 33)))))
      .jpeg({ quality: 88 })
      .toBuffer();
    const second = await takeIn(studio, { "download-17.jpg": jpeg });
    expect(second.candidates[0].findings).toContainEqual(
      expect.objectContaining({
        code: "same-picture",
        message: expect.stringMatching(/Lime wash.*mirrored/),
      }),
    );
    const [pair] = (await studio.api("GET", "/likenesses")).json.items;
    expect(
      pair.sides
        .flatMap(({ owners }: { owners: { name: string }[] }) => owners.map(({ name }) => name))
        .sort(),
    ).toEqual(["Download 17", "Lime wash"]);
    const { first: a, second: b } = pair;
    expect(
      (await studio.api("PUT", "/likenesses", { first: a, second: b, decision: "different" })).status,
    ).toBe(200);
    expect((await studio.api("PUT", "/likenesses", { first: b, second: a, decision: "same" })).status).toBe(
      404,
    );
    const third = await takeIn(studio, { "download-18.jpg": jpeg });
    expect(codes(third.candidates[0])).not.toContain("same-picture");
  });

  test("a picture that was cropped, and what it was mended into, are found by the part that they share", async () => {
    const { base_color: base } = sampleSet("cast");
    const whole = cropped(base, 0, 0, 250, 244);
    const first = await takeIn(studio, { "shuttered_wall.png": await png(whole) });
    const { materials } = (await accept(first.id, { all: true })).json;
    const jpeg = await sharp(await png(cropped(whole, 14, 20, 215, 210)))
      .jpeg({ quality: 88 })
      .toBuffer();
    const second = await takeIn(studio, { "download-31.jpg": jpeg });
    expect(second.candidates[0].findings).toContainEqual(
      expect.objectContaining({
        code: "same-picture",
        message: expect.stringMatching(/shows a part of “Shuttered wall”/),
      }),
    );
    const pairs = (await studio.api("GET", "/likenesses")).json.items as {
      sides: { sha256: string; width: number }[];
      parts: Record<"first" | "second", { left: number; width: number; height: number }> | null;
    }[];
    const pair = pairs.find(({ sides }) => sides.some(({ width }) => width === 215))!;
    const [large, small] =
      pair.sides[0].width === 250 ? (["first", "second"] as const) : (["second", "first"] as const);
    expect(pair.parts![large].left).toBeCloseTo(14 / 250, 1);
    expect(pair.parts![large].width).toBeCloseTo(215 / 250, 1);
    expect(pair.parts![small].height).toBeGreaterThan(0.95);
    // What was decided of one pair is said of no other, and a reduction that is lost is made again.
    const [first31, second31] = pair.sides.map(({ sha256 }) => sha256);
    await studio.api("PUT", "/likenesses", { first: first31, second: second31, decision: "different" });
    const { smallName } = await import("#server/images/studyFile");
    const wholeSha = pair.sides.find(({ width }) => width === 250)!.sha256;
    await rm(folderStore(studio.folder).derivedPath(smallName(wholeSha)));
    const other = await sharp(await png(cropped(whole, 30, 4, 212, 216)))
      .jpeg({ quality: 88 })
      .toBuffer();
    const alikeFound = async (files: Record<string, Buffer>) =>
      codes((await takeIn(studio, files)).candidates[0]).includes("same-picture");
    expect(await alikeFound({ "download-32.jpg": other })).toBe(true);
    expect(await alikeFound({ "download-33.jpg": jpeg })).toBe(false);
    // Once it is mended, the file that it came from is still known as that.
    const { id } = materials[0];
    const mend = await studio.api("POST", `/materials/${id}/mends`, { kind: "seams" });
    const { runMend } = await import("#server/mending/run");
    await runMend(mend.json.id);
    expect((await studio.api("GET", `/materials/${id}/mends`)).json.items[0].state).toBe("done");
    const third = await takeIn(studio, { "again.png": await png(whole) });
    const messages = third.candidates[0].findings.map(({ message }: { message: string }) => message);
    expect(messages).toContain(
      "The same picture, file for file, is what “Shuttered wall” of the library was made from.",
    );
  });

  test("what was read before pictures are compared as now is read anew by the worker, some at a time", async () => {
    const { base_color: base } = sampleSet("scraped");
    const first = await takeIn(studio, { "old_lime.png": await png(base) });
    const { sha256 } = (await studio.api("GET", `/intakes/${first.id}/uploads`)).json.items[0];
    const { database } = await import("#server/db/database");
    const { imagesWithoutFigures, unreadImages } = await import("#server/images/queries");
    const { askToReadAnew, readAnew } = await import("#server/images/readAnew");
    const asked = async () => {
      const { rows } = await database().query(
        "SELECT payload->>'after' AS after FROM graphile_worker._private_jobs WHERE key LIKE 'read-anew:%'",
      );
      await database().query("DELETE FROM graphile_worker._private_jobs WHERE key LIKE 'read-anew:%'");
      return rows.map(({ after }) => after as string);
    };
    await askToReadAnew(database());
    expect(await asked()).toEqual([]);
    await database().query("UPDATE images SET reading = reading - 'seams' WHERE reading IS NOT NULL");
    await database().query("DELETE FROM fingerprints");
    await database().query("DELETE FROM picture_figures");
    // One whose file is lost cannot be read any more, and holds up none of the others.
    await rm(folderStore(studio.folder).path(sha256));
    expect((await unreadImages(database(), "", 1000)).length).toBeGreaterThan(5);
    await askToReadAnew(database());
    let next = await asked();
    expect(next).toEqual([""]);
    while (next.length > 0) {
      await readAnew(next[0]);
      next = await asked();
    }
    expect(await unreadImages(database(), "", 1000)).toEqual([sha256]);
    const { rows } = await database().query("SELECT count(DISTINCT sha256)::int AS count FROM fingerprints");
    expect(rows[0].count).toBeGreaterThan(5);
    expect(await imagesWithoutFigures(database(), "", 1000)).toEqual([]);
    // Where figures alone are missing, they are read from the reductions.
    await database().query("DELETE FROM picture_figures");
    await askToReadAnew(database());
    for (next = await asked(); next.length > 0; next = await asked()) await readAnew(next[0]);
    const again = await database().query("SELECT count(*)::int AS count FROM picture_figures");
    expect(again.rows[0].count).toBe(rows[0].count);
  });
});

describe("a big batch", () => {
  test("folders become collections, thin ones merged; names follow a rule; licences wait for a person", async () => {
    const intake = await takeIn(studio, {
      "tree.zip": await zipOf({
        "Stone/granite_color.png": await picture("#7a7a70"),
        "Stone/slate_color.png": await picture("#3a3a40"),
        "Wood/Oak/oak_color.png": await picture("#8a6a40"),
        "licence.txt": "Released under CC BY 4.0. You must credit Mara Quist when you use it.",
      }),
    });
    expect(intake.candidates.map(({ folder }: { folder: string }) => folder).sort()).toEqual([
      "Stone",
      "Stone",
      "Wood/Oak",
    ]);
    const [granite] = intake.candidates;
    expect(granite.licence).toMatchObject({
      name: "CC BY",
      price: "free",
      credit: expect.stringContaining("Mara Quist"),
    });
    const rest = intake.candidates.slice(1).map(({ id }: { id: string }) => ({ id }));
    const { json } = await accept(intake.id, {
      candidates: [{ id: granite.id, licence: true }, ...rest],
      nameRule: "Family name 01",
      collections: { level: 1, thin: 2 },
    });
    expect(json.materials.map(({ name }: { name: string }) => name)).toEqual([
      "Stone granite 01",
      "Wood oak 02",
      "Stone slate 03",
    ]);
    const { items } = (await studio.api("GET", "/collections")).json;
    expect(
      items.map(({ name, materials }: { name: string; materials: string[] }) => [name, materials.length]),
    ).toEqual([["Stone", 2]]);
    // What is taken in later can go into a collection by its name, folders inside it.
    const later = await takeIn(studio, {
      "glass/pane_basecolor.png": await picture("#113355", 40),
      "glass/sheet_basecolor.png": await picture("#335511", 40),
      "loose_basecolor.png": await picture("#551133", 40),
    });
    const options = { all: true, into: "Stone", collections: { level: 1, thin: 2 } };
    expect((await accept(later.id, options)).status).toBe(200);
    const after: { name: string; parent: string | null; materials: string[] }[] = (
      await studio.api("GET", "/collections")
    ).json.items;
    expect(after.map(({ name, materials }) => [name, materials.length]).sort()).toEqual([
      ["Stone", 3],
      ["glass", 2],
    ]);
    expect(after.find(({ name }) => name === "glass")!.parent).not.toBeNull();
    const licensed = (await studio.api("GET", `/materials/${json.materials[0].id}`)).json;
    expect(licensed.licence).toMatchObject({ name: expect.stringContaining("CC BY"), price: "free" });
    const open = (await studio.api("GET", `/materials/${json.materials[1].id}`)).json;
    expect(codes(open)).toContain("licence-unconfirmed");
    expect((await accept(intake.id, { all: true, nameRule: "the same" })).json.pointer).toBe("/nameRule");
  });

  test("limits and rules set files aside with the reason; the account lists every file", async () => {
    const form = new FormData();
    form.append("leastMaps", "2");
    form.append("itemMib", "16");
    const huge = await sharp({ create: { width: 1800, height: 1800, channels: 3, background: "#444" } })
      .png()
      .toBuffer();
    for (const [name, content] of Object.entries({
      "=lone.png": await picture("#222"),
      "pair.png": await picture("#333"),
      "pair_ao.png": await picture("#eee"),
      "huge.png": huge,
    }))
      form.append("files", new Blob([new Uint8Array(content)]), name);
    const { id } = (await studio.api("POST", "/intakes", form)).json;
    const { readIntake } = await import("#server/intake/stages/read");
    await readIntake(id);
    const intake = (await studio.api("GET", `/intakes/${id}`)).json;
    expect(intake.candidates.map(({ name }: { name: string }) => name)).toEqual(["Pair"]);
    const kinds = Object.fromEntries(
      intake.ignored.map(({ file, kind }: { file: string; kind: string }) => [file, kind]),
    );
    expect(kinds).toEqual({ "=lone.png": "left-aside", "huge.png": "set-aside" });
    const csv = await (await studio.api("GET", `/intakes/${id}/account`)).response.text();
    expect(csv.split("\r\n")).toHaveLength(6);
    expect(csv).toContain("'=lone.png");
    const bad = new FormData();
    bad.append("itemMib", "a lot");
    bad.append("files", new Blob(["x"]), "x.png");
    expect((await studio.api("POST", "/intakes", bad)).json).toMatchObject({
      status: 422,
      pointer: "/itemMib",
    });
  });

  test("a reading can wait, go on, and stop with what it has", async () => {
    const { database } = await import("#server/db/database");
    const { readIntake } = await import("#server/intake/stages/read");
    const form = new FormData();
    for (let i = 0; i < 6; i++)
      form.append("files", new Blob([new Uint8Array(await picture(`#4${i}4${i}4${i}`))]), `wait${i}.png`);
    const { id } = (await studio.api("POST", "/intakes", form)).json;
    const hold = (wish: string) => studio.api("POST", `/intakes/${id}/hold`, { wish });
    expect((await hold("pause")).json).toMatchObject({ state: "reading", hold: "pause" });
    await readIntake(id);
    expect((await studio.api("GET", `/intakes/${id}`)).json).toMatchObject({
      state: "reading",
      candidates: [],
    });
    await hold("go-on");
    await database().query("UPDATE intakes SET hold = 'stop' WHERE id = $1", [id]);
    await readIntake(id);
    const stopped = (await studio.api("GET", `/intakes/${id}`)).json;
    expect(stopped.state).toBe("review");
    expect(stopped.ignored[0].reason).toContain("stopped");
    expect((await hold("pause")).status).toBe(409);
  });
});

test("what was set aside for its cost can be tried again with more patience, alone", async () => {
  const form = new FormData();
  form.append("itemMib", "16");
  const big = await encode(sampleSet("brick").base_color, "png").then((file) =>
    sharp(file).resize(3000, 3000, { kernel: "nearest" }).png().toBuffer(),
  );
  form.append("files", new Blob([new Uint8Array(big)]), "big_basecolor.png");
  form.append("files", new Blob([new Uint8Array(await picture("#778899", 64))]), "small_basecolor.png");
  const { json } = await studio.api("POST", "/intakes", form);
  const { readIntake } = await import("#server/intake/stages/read");
  await readIntake(json.id);
  const first = (await studio.api("GET", `/intakes/${json.id}`)).json;
  expect(first.candidates).toHaveLength(1);
  expect(first.ignored).toMatchObject([{ file: "big_basecolor.png", kind: "set-aside" }]);
  const again = await studio.api("POST", `/intakes/${json.id}/again`, { itemMib: 2048 });
  expect(again.status).toBe(202);
  await readIntake(again.json.id);
  const second = (await studio.api("GET", `/intakes/${again.json.id}`)).json;
  expect(second.candidates).toMatchObject([{ name: "Big", maps: [{ width: 3000 }] }]);
  expect((await studio.api("POST", `/intakes/${again.json.id}/again`, {})).status).toBe(409);
});

test("a studio keeps its rule for names", async () => {
  const intake = await takeIn(studio, { "quern_basecolor.png": await picture("#4f5f6f", 64) });
  await studio.api("POST", `/intakes/${intake.id}/accept`, {
    all: true,
    nameRule: "NAME 01",
    keepRule: true,
  });
  const { readStudio, keepNameRule } = await import("#server/studio/sql");
  const { database } = await import("#server/db/database");
  expect(await readStudio(database())).toEqual({ nameRule: "NAME 01" });
  await expect(keepNameRule(database(), "x".repeat(121))).rejects.toThrow("studio_name_rule_check");
});

test("a project has a camera of its own, which its materials are judged with", async () => {
  const { json: project } = await studio.api("POST", "/projects", { name: "Weighbridge" });
  expect(project.camera).toBeNull();
  const camera = { widthPx: 6000, angleDegrees: 45 };
  const { json } = await studio.api("PUT", `/projects/${project.id}/camera`, camera);
  expect(json.camera).toEqual(camera);
  expect(
    (await studio.api("PUT", `/projects/${project.id}/camera`, { ...camera, angleDegrees: 0 })).status,
  ).toBe(422);
  const { json: plain } = await studio.api("POST", "/materials", {
    name: "Fog",
    layout: "plain",
    color: "#cccccc",
  });
  await studio.api("PUT", `/projects/${project.id}/materials`, { add: [plain.id] });
  const { listCameras } = await import("#server/project/queries");
  const { database } = await import("#server/db/database");
  expect(await listCameras(database(), plain.id)).toEqual([
    { id: project.id, name: "Weighbridge", uses: true, camera },
  ]);
});

test("a second run that ends after people accepted takes nothing back", async () => {
  const { readIntake } = await import("#server/intake/stages/read");
  const form = new FormData();
  form.append("files", new Blob([new Uint8Array(await picture("#5a4a3a", 64))]), "late.png");
  const { id } = (await studio.api("POST", "/intakes", form)).json;
  await Promise.all([readIntake(id), readIntake(id).then(() => accept(id, { all: true }))]);
  await readIntake(id);
  const intake = (await studio.api("GET", `/intakes/${id}`)).json;
  expect(intake.candidates).toHaveLength(1);
  expect(intake).toMatchObject({ state: "accepted", candidates: [{ state: "accepted" }] });
});

describe("files that are sent one by one", () => {
  test("are listed as they arrive, and the intake is read only once all are there", async () => {
    const { insertFile } = await import("#server/store/sql");
    const { insertUpload } = await import("#server/intake/receiving/sql");
    const { database } = await import("#server/db/database");
    const { fileStore } = await import("#server/store/store");
    const { Readable } = await import("node:stream");
    const begun = (await studio.api("POST", "/intakes/begin", { files: 2, purpose: "far" })).json;
    expect(begun.state).toBe("receiving");
    const arrive = async (position: number, name: string) => {
      const kept = await fileStore().keep(Readable.from([await picture(`#12${position}345`)]));
      await insertFile(database(), { ...kept, mediaType: "image/png" });
      await insertUpload(database(), begun.id, position, { name, sha256: kept.sha256 });
    };
    await arrive(1, "set/b.png");
    expect((await studio.api("POST", `/intakes/${begun.id}/complete`)).json.detail).toContain("1 of 2 files");
    await arrive(0, "set/a.png");
    await arrive(0, "set/a.png");
    const listed = (await studio.api("GET", `/intakes/${begun.id}/uploads`)).json;
    expect(listed.items.map(({ name }: { name: string }) => name)).toEqual(["set/a.png", "set/b.png"]);
    const other = await studio.addPerson("make");
    expect(
      (await studio.api("POST", `/intakes/${begun.id}/complete`, {}, { token: other.token })).status,
    ).toBe(403);
    expect((await studio.api("POST", `/intakes/${begun.id}/complete`)).json.state).toBe("reading");
    expect((await studio.api("POST", `/intakes/${begun.id}/complete`)).status).toBe(202);
  });
});

describe("the drop folder", () => {
  test("takes in what has stopped growing, once, and leaves it where it is", async () => {
    const folder = await mkdtemp(join(tmpdir(), "kalonomy-drop-"));
    const { lookIntoDropFolder } = await import("#server/intake/receiving/dropFolder");
    const { database } = await import("#server/db/database");
    const count = async () =>
      (await database().query("SELECT id FROM intakes WHERE found_at IS NOT NULL")).rowCount;
    try {
      await mkdir(join(folder, "Delivery/sub"), { recursive: true });
      await writeFile(join(folder, "Delivery/sub/oak_color.png"), await picture("#806040"));
      await writeFile(join(folder, ".hidden.png"), await picture("#000000"));
      let seen = await lookIntoDropFolder(folder, new Map());
      expect(await count()).toBe(0);
      await writeFile(join(folder, "Delivery/sub/oak_rough.png"), await picture("#909090"));
      seen = await lookIntoDropFolder(folder, seen);
      expect(await count()).toBe(0);
      seen = await lookIntoDropFolder(folder, seen);
      seen = await lookIntoDropFolder(folder, seen);
      expect(await count()).toBe(1);
      const [{ id }] = (await database().query("SELECT id FROM intakes WHERE found_at IS NOT NULL")).rows;
      const { readIntake } = await import("#server/intake/stages/read");
      await readIntake(id);
      const intake = (await studio.api("GET", `/intakes/${id}`)).json;
      expect(intake.candidates[0]).toMatchObject({ name: "Oak", folder: "Delivery/sub" });
      expect(await readdir(join(folder, "Delivery/sub"))).toHaveLength(2);
      await utimes(join(folder, "Delivery/sub/oak_rough.png"), new Date(), new Date(Date.now() + 5000));
      seen = await lookIntoDropFolder(folder, seen);
      await lookIntoDropFolder(folder, seen);
      expect(await count()).toBe(2);
    } finally {
      await rm(folder, { recursive: true });
    }
  });
});

describe("the drop folder with names of an older system", () => {
  test("takes in files and folders whose names are no UTF-8, under names that can be read", async () => {
    const folder = await mkdtemp(join(tmpdir(), "kalonomy-drop-"));
    const { lookIntoDropFolder } = await import("#server/intake/receiving/dropFolder");
    const { database } = await import("#server/db/database");
    const bytes = (name: string) => Buffer.concat([Buffer.from(`${folder}/`), Buffer.from(name, "latin1")]);
    try {
      await writeFile(bytes("gr\xf6\xdfe_color.png"), await picture("#706050"));
      await mkdir(bytes("T\xfcren"));
      await writeFile(bytes("T\xfcren/eiche_color.png"), await picture("#605040"));
      const seen = await lookIntoDropFolder(folder, new Map());
      expect([...seen.keys()].sort()).toEqual(["Türen", "größe_color.png"]);
      await lookIntoDropFolder(folder, seen);
      const { rows } = await database().query(
        "SELECT name FROM intake_uploads JOIN intakes ON intake = intakes.id WHERE found_at LIKE 'größe%' OR found_at LIKE 'Türen%' ORDER BY name",
      );
      expect(rows.map(({ name }) => name).sort()).toEqual(["Türen/eiche_color.png", "größe_color.png"]);
    } finally {
      await rm(folder, { recursive: true });
    }
  });
});

describe("3D models and material files", () => {
  test("their materials become candidates; the images beside them are no pictures of their own, and sizes are assumed", async () => {
    const set = sampleSet("brick");
    const obj =
      "mtllib wall.mtl\nv 0 0 0\nv 4 0 0\nv 4 2 0\nvt 0 0\nvt 4 0\nvt 4 2\nusemtl Brickwork\nf 1/1 2/2 3/3";
    const intake = await takeIn(studio, {
      "model.zip": await zipOf({
        "m/wall.obj": obj,
        "m/wall.mtl": "newmtl Brickwork\nKd 1 0 0\nPr 0.7\nmap_Kd tex/1.png\nnorm tex/2.png\nmap_Pr gone.png",
        "m/tex/1.png": await png(set.base_color),
        "m/tex/2.png": await png(set.geometry_normal),
        "m/liar.glb": "glTF and nothing else",
      }),
    });
    expect(intake.candidates).toHaveLength(1);
    const [candidate] = intake.candidates;
    expect(candidate.name).toBe("Brickwork");
    expect(candidate.maps.map(({ role }: { role: string }) => role).sort()).toEqual([
      "base_color",
      "geometry_normal",
    ]);
    const reasons = intake.ignored
      .map(({ file, reason }: { file: string; reason: string }) => `${file}: ${reason}`)
      .join("\n");
    expect(reasons).toContain("gone.png");
    expect(reasons).toContain("m/liar.glb: It is no glTF 2.0");
    const { json } = await accept(intake.id, { all: true });
    const made = (await studio.api("GET", `/materials/${json.materials[0].id}`)).json;
    // The map of roughness did not come along, so that its value speaks for it; the one of color did.
    expect(made).toMatchObject({
      sizeState: "assumed",
      repeat: { width: 1000, height: 1000 },
      finish: { roughness: 0.7 },
    });
    expect(made.finish).not.toHaveProperty("color");
  });

  test("a USDZ package is opened, and its layer in binary form read", async () => {
    const look = "/Slate";
    const intake = await takeIn(studio, {
      "slate.usdz": await zipOf({
        "slate.usdc": makeCrate({
          "/": {},
          [look]: { typeName: { token: "Material" } },
          [`${look}/P`]: { typeName: { token: "Shader" } },
          [`${look}/P.info:id`]: { default: { token: "UsdPreviewSurface" } },
          [`${look}/P.inputs:roughness`]: { default: { float: 0.25 } },
          [`${look}/P.inputs:diffuseColor`]: { connectionPaths: { paths: [`${look}/C.outputs:rgb`] } },
          [`${look}/C`]: { typeName: { token: "Shader" } },
          [`${look}/C.info:id`]: { default: { token: "UsdUVTexture" } },
          [`${look}/C.inputs:file`]: { default: { asset: "tex/1.png" } },
          [`${look}/C.outputs:rgb`]: {},
        }),
        "tex/1.png": await picture("#405060"),
      }),
      "broken.usdc": Buffer.from("PXR-USDC".padEnd(200, "\0")),
    });
    const [candidate] = intake.candidates;
    expect(candidate).toMatchObject({ name: "Slate", maps: [{ role: "base_color" }] });
    expect(intake.candidates).toHaveLength(1);
    const { reason } = intake.ignored.find(({ file }: { file: string }) => file === "broken.usdc")!;
    expect(reason).toContain("damaged or cut short");
  });
});
