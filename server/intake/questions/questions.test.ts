import { afterAll, beforeAll, expect, test } from "@jest/globals";
import sharp from "sharp";
import { seededRandom } from "#core/pattern/random";
import { createRaster } from "#core/raster/raster";
import { encode } from "#server/pixels/encode";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

let hue = 0;
/** A set of a coloured picture and of grey ones by their marks. */
async function set(name: string, ...marks: string[]): Promise<Record<string, Buffer>> {
  const files: Record<string, Buffer> = {};
  for (const mark of marks) {
    const value = (0x20 + ++hue).toString(16);
    files[`${name}${mark}.png`] = await picture(
      mark.endsWith("basecolor") ? `#${value}6040` : `#${value.repeat(3)}`,
    );
  }
  return files;
}
const hand = async (...sets: (Record<string, Buffer> | Promise<Record<string, Buffer>>)[]) =>
  (await takeIn(studio, Object.assign({}, ...(await Promise.all(sets))))).id as string;
const read = async (intake: string) => (await studio.api("GET", `/intakes/${intake}`)).json;
const questions = async (intake: string) =>
  (await studio.api("GET", `/intakes/${intake}/questions`)).json.items;
const answer = (intake: string, body: object) => studio.api("POST", `/intakes/${intake}/answers`, body);
const rolesOf = async (intake: string) =>
  Object.fromEntries(
    (await read(intake)).candidates.flatMap(({ maps }: { maps: { file: string; role: string }[] }) =>
      maps.map(({ file, role }) => [file, role]),
    ),
  );
const codes = ({ findings }: { findings: { code: string }[] }) => findings.map(({ code }) => code);

test("what files share is asked once, answered for all, kept for later ones of the source, and taken back", async () => {
  const first = await hand(set("wall", "_basecolor", "_kx"), set("floor", "_basecolor", "_kx"));
  const [question, ...others] = await questions(first);
  expect(others).toEqual([]);
  expect(question).toMatchObject({ asks: "role", mark: "_kx", companions: ["_basecolor"] });
  expect(question.files.map(({ file }: { file: string }) => file).sort()).toEqual([
    "floor_kx.png",
    "wall_kx.png",
  ]);

  const given = await answer(first, { question: question.key, answer: "gloss", keep: true });
  expect(given).toMatchObject({ status: 201, json: { files: 2, left: 0 } });
  expect(await questions(first)).toEqual([]);
  await runQueued();
  expect(await rolesOf(first)).toMatchObject({ "wall_kx.png": "gloss", "floor_kx.png": "gloss" });
  const { candidates } = await read(first);
  expect(candidates).toHaveLength(2);
  for (const candidate of candidates) {
    expect(codes(candidate)).not.toContain("role-unknown");
    // Judged anew: a roughness is no longer missing.
    const incomplete = candidate.findings.find(({ code }: { code: string }) => code === "incomplete");
    expect(incomplete.message).not.toContain("roughness");
  }
  // Somebody else who saw the question is too late.
  expect((await answer(first, { question: question.key, answer: "height" })).status).toBe(409);

  const later = await hand(set("roof", "_basecolor", "_kx"));
  expect(await questions(later)).toEqual([]);
  const [roof] = (await read(later)).candidates;
  expect(roof.findings).toContainEqual(
    expect.objectContaining({
      code: "answered-before",
      message: expect.stringContaining("is taken for gloss, as Somebody who may keep has answered"),
    }),
  );
  // Of another source, which writes otherwise.
  const other = await hand(set("door", "-basecolor", "-kx"));
  expect(await questions(other)).toMatchObject([{ mark: "-kx" }]);

  const wall = candidates.find(({ name }: { name: string }) => name === "Wall");
  const { materials } = (
    await studio.api("POST", `/intakes/${first}/accept`, { candidates: [{ id: wall.id }] })
  ).json;
  expect((await studio.api("GET", "/answers")).json.items).toMatchObject([
    { mark: "_kx", answer: "gloss", files: 3, intakes: 2 },
  ]);
  expect((await studio.api("DELETE", `/answers/${given.json.id}`)).status).toBe(200);
  expect((await studio.api("DELETE", `/answers/${given.json.id}`)).status).toBe(404);
  await runQueued();
  expect((await studio.api("GET", "/answers")).json.items).toEqual([]);
  expect(await questions(first)).toMatchObject([{ mark: "_kx", files: [{ file: "floor_kx.png" }] }]);
  expect(await questions(later)).toMatchObject([{ mark: "_kx", files: [{ file: "roof_kx.png" }] }]);
  expect(codes((await read(later)).candidates[0])).toContain("role-unknown");
  // What is in the library stays.
  const { maps } = (await studio.api("GET", `/materials/${materials[0].id}`)).json;
  expect(maps.map(({ role }: { role: string }) => role).sort()).toEqual(["base_color", "gloss"]);
  expect(await questions(await hand(set("gate", "_basecolor", "_kx")))).toHaveLength(1);
});

test("what a set has already it is not given twice; what is left out is asked no more, and not taken", async () => {
  const intake = await hand(
    set("a", "_basecolor", "_qz", "_gloss"),
    set("b", "_basecolor", "_qz"),
    set("c", "_basecolor", "_qz"),
  );
  const ask = async () => (await questions(intake)).find(({ mark }: { mark: string }) => mark === "_qz");
  const { key } = await ask();
  expect((await answer(intake, { question: key, answer: "gloss" })).json).toMatchObject({
    files: 2,
    left: 1,
  });
  const left = await ask();
  expect(left.files).toMatchObject([{ file: "a_qz.png" }]);
  expect(await answer(intake, { question: key, answer: "gloss" })).toMatchObject({
    status: 422,
    json: { pointer: "/answer", detail: expect.stringContaining("has a gloss map already") },
  });
  expect((await answer(intake, { question: key, answer: "+Y" })).status).toBe(422);
  expect((await answer(intake, { question: key, answer: "leave-out" })).status).toBe(201);
  expect(await ask()).toBeUndefined();
  await runQueued();
  const { candidates } = await read(intake);
  const a = candidates.find(({ name }: { name: string }) => name === "A");
  expect(a.maps.find(({ file }: { file: string }) => file === "a_qz.png")).toMatchObject({
    role: "unknown",
    leftOut: true,
  });
  const { materials } = (
    await studio.api("POST", `/intakes/${intake}/accept`, { candidates: [{ id: a.id }] })
  ).json;
  expect((await studio.api("GET", `/materials/${materials[0].id}`)).json.maps).toHaveLength(2);
});

test("a direction that was answered goes when the role that it was asked for is taken back", async () => {
  const intake = await hand(set("d", "_basecolor", "_zn"), set("e", "_basecolor", "_zn"));
  const [role] = await questions(intake);
  const { id } = (await answer(intake, { question: role.key, answer: "geometry_normal" })).json;
  await runQueued();
  const [asked] = await questions(intake);
  expect(asked).toMatchObject({ asks: "direction", mark: "_zn" });
  expect((await answer(intake, { question: asked.key, answer: "gloss" })).status).toBe(422);
  expect((await answer(intake, { question: asked.key, answer: "-Y" })).json.files).toBe(2);
  expect((await read(intake)).candidates[0].maps[1]).toMatchObject({ normalDirection: "-Y" });
  await studio.api("DELETE", `/answers/${id}`);
  await runQueued();
  expect(await rolesOf(intake)).toMatchObject({ "d_zn.png": "unknown", "e_zn.png": "unknown" });
  expect((await read(intake)).candidates[0].maps[1].normalDirection).toBeUndefined();
});

test("several who answer at once: one of them does, and nothing is asked or answered twice", async () => {
  const intake = await hand(set("g", "_basecolor", "_qy"), set("h", "_basecolor", "_qy"));
  const [{ key }] = await questions(intake);
  const all = await Promise.all(
    (["gloss", "height", "gloss", "leave-out"] as const).map((one) =>
      answer(intake, { question: key, answer: one }),
    ),
  );
  expect(all.map(({ status }) => status).sort()).toEqual([201, 409, 409, 409]);
  const { token } = await studio.addPerson("look");
  const refused = await studio.api(
    "POST",
    `/intakes/${intake}/answers`,
    { question: key, answer: "gloss" },
    { token },
  );
  expect(refused.status).toBe(403);
});

/** A set with a file whose three channels have nothing to do with each other. */
async function packedSet(name: string, seed: number): Promise<Record<string, Buffer>> {
  const random = seededRandom(seed);
  const raster = createRaster(64, 64, 3, 8);
  for (let i = 0; i < 64 * 64; i++) {
    raster.data[i * 3] = random() < 0.1 ? 120 : 250;
    raster.data[i * 3 + 1] = 90 + 80 * random();
    raster.data[i * 3 + 2] = random() < 0.5 ? 0 : 255;
  }
  return {
    ...(await set(name, "_basecolor")),
    [`${name}_kv.png`]: Buffer.from(await encode(raster, "png")),
  };
}

test("a file that packs maps is told apart once for all like it: each channel is asked, kept, and taken back", async () => {
  const first = await hand(packedSet("pier", 1), packedSet("quay", 2));
  const [question, ...others] = await questions(first);
  expect(others).toEqual([]);
  expect(question).toMatchObject({ asks: "role", channel: "color", mark: "_kv", apart: "likely" });
  const told = await answer(first, { question: question.key, answer: "apart", keep: true });
  expect(told).toMatchObject({ status: 201, json: { files: 2, left: 0 } });
  await runQueued();
  const channels = await questions(first);
  expect(
    channels
      .map((one: { channel: string; likely: string[]; files: object[] }) => [
        ...[one.channel, one.likely[0], one.files.length],
      ])
      .sort(),
  ).toEqual([
    ["blue", "geometry_opacity", 2],
    ["green", "specular_roughness", 2],
    ["red", "ambient_occlusion", 2],
  ]);
  const roles = { red: "ambient_occlusion", green: "specular_roughness", blue: "base_metalness" };
  for (const { key, channel } of channels) {
    const role = roles[channel as keyof typeof roles];
    expect((await answer(first, { question: key, answer: role, keep: true })).json.files).toBe(2);
  }
  await runQueued();
  const whole = {
    "_kv.png": "unknown",
    "_kv.png#red": "ambient_occlusion",
    "_kv.png#blue": "base_metalness",
  };
  const named = (name: string) =>
    Object.fromEntries(Object.entries(whole).map(([end, role]) => [name + end, role]));
  expect(await rolesOf(first)).toMatchObject({ ...named("pier"), ...named("quay") });

  // The next download of that source asks nothing, and is taken whole.
  const later = await hand(packedSet("wharf", 3));
  expect(await questions(later)).toEqual([]);
  expect(await rolesOf(later)).toMatchObject(named("wharf"));
  const { materials } = (await studio.api("POST", `/intakes/${later}/accept`, { all: true })).json;
  const { maps } = (await studio.api("GET", `/materials/${materials[0].id}`)).json;
  expect(maps.map(({ role, channel }: { role: string; channel: string }) => [role, channel])).toEqual(
    expect.arrayContaining([
      ["base_color", "color"],
      ["ambient_occlusion", "red"],
      ["specular_roughness", "green"],
      ["base_metalness", "blue"],
    ]),
  );
  expect(maps).toHaveLength(4);

  // Taken back, the file is one again, and is asked about as before.
  expect((await studio.api("DELETE", `/answers/${told.json.id}`)).status).toBe(200);
  await runQueued();
  expect(Object.keys(await rolesOf(first)).sort()).toEqual([
    ...["pier_basecolor.png", "pier_kv.png", "quay_basecolor.png", "quay_kv.png"],
  ]);
  expect(await questions(first)).toMatchObject([{ channel: "color", mark: "_kv", files: [{}, {}] }]);
});

test("what has one channel is not told apart", async () => {
  const intake = await hand(set("slip", "_basecolor", "_kw"));
  const [{ key, apart }] = await questions(intake);
  // A grey picture of three channels may be; what its file says is that they are alike.
  expect(apart).toBe("possible");
  const grey = await hand({
    ...(await set("stair", "_basecolor")),
    "stair_kw.png": await sharp(await picture("#303030"))
      .toColourspace("b-w")
      .png()
      .toBuffer(),
  });
  const [question] = await questions(grey);
  expect(question.apart).toBe("no");
  expect(await answer(grey, { question: question.key, answer: "apart" })).toMatchObject({
    status: 422,
    json: { pointer: "/answer" },
  });
  expect((await answer(intake, { question: key, answer: "apart" })).status).toBe(201);
});
