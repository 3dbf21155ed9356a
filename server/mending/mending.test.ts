import { afterAll, beforeAll, describe, expect, jest, test } from "@jest/globals";
import { cropped, sampleSet } from "#core/judge/testing";
import { createRaster, type Raster } from "#core/raster/raster";
import { encode } from "#server/pixels/encode";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const part = (map: Raster) => encode(cropped(map, 13, 17, 229, 213), "png");

/** The base color alone, unless it matters what becomes of the others. */
async function takeCropped(name: string, isWholeSet = false): Promise<string> {
  const set = sampleSet("brick");
  const intake = await takeIn(studio, {
    [`${name}_basecolor.png`]: await part(set.base_color),
    ...(isWholeSet && {
      [`${name}_normal_gl.png`]: await part(set.geometry_normal),
      [`${name}_height.png`]: await part(set.height),
    }),
  });
  const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, {
    all: true,
    onClash: "keep-both",
  });
  return json.materials[0].id;
}

async function mended(id: string, recipe: unknown) {
  const { json, status } = await studio.api("POST", `/materials/${id}/mends`, recipe);
  expect(status).toBe(202);
  const { runMend } = await import("#server/mending/run");
  await runMend(json.id);
  return { id: json.id as string, mend: (await studio.api("GET", `/materials/${id}/mends`)).json.items[0] };
}

describe("a mend", () => {
  test("makes a new revision with a shorter repeat at the same density; the one before keeps its maps", async () => {
    const id = await takeCropped("yard", true);
    await studio.api("PUT", `/materials/${id}/repeat`, { method: "size", width: 1000 });
    const before = (await studio.api("GET", `/materials/${id}`)).json;
    const { mend } = await mended(id, { kind: "seams" });
    expect(mend).toMatchObject({ state: "done", fromRevision: 2, toRevision: 3 });
    expect(mend.figures.after.broken).toBeLessThan(mend.figures.before.broken);
    const after = (await studio.api("GET", `/materials/${id}`)).json;
    expect(after.revision).toBe(3);
    const base = after.maps.find(({ role }: { role: string }) => role === "base_color");
    expect(base.width).toBe(229 - mend.figures.overlap.across);
    expect(base.width / after.repeat.width).toBeCloseTo(229 / before.repeat.width, 6);
    expect(
      new Set(after.maps.map(({ width, height }: { width: number; height: number }) => `${width} ${height}`))
        .size,
    ).toBe(1);
    const height = after.maps.find(({ role }: { role: string }) => role === "height");
    expect(height.bitDepth).toBe(
      before.maps.find(({ role }: { role: string }) => role === "height").bitDepth,
    );
    const old = (await studio.api("GET", `/materials/${id}?revision=2`)).json;
    expect(old.maps).toEqual(before.maps);
  });

  test("by a quarter turn exchanges width and height of all maps and of the repeat, and takes the count away", async () => {
    const id = await takeCropped("ramp", true);
    const count = { method: "modules", across: 4, up: 12, workSize: { width: 215, height: 65 }, joint: 10 };
    await studio.api("PUT", `/materials/${id}/repeat`, count);
    const before = (await studio.api("GET", `/materials/${id}`)).json;
    await mended(id, { kind: "turn", right: 0, down: 1, left: 1, below: 0 });
    const after = (await studio.api("GET", `/materials/${id}`)).json;
    expect(after.repeat).toEqual({ width: before.repeat.height, height: before.repeat.width });
    expect(after.gauge).toEqual({ method: "size", ...after.repeat });
    for (const map of after.maps) expect([map.width, map.height]).toEqual([213, 229]);
  });

  test("moves the start of all maps together, and leaves size and count as they are", async () => {
    const id = await takeCropped("steps");
    await studio.api("PUT", `/materials/${id}/repeat`, { method: "size", width: 900 });
    const before = (await studio.api("GET", `/materials/${id}`)).json;
    await mended(id, { kind: "start", right: 0.25, down: -0.1 });
    const after = (await studio.api("GET", `/materials/${id}`)).json;
    expect([after.repeat, after.gauge]).toEqual([before.repeat, before.gauge]);
    expect(after.maps.every(({ derived }: { derived: string[] }) => derived.includes("start"))).toBe(true);
    const none = { kind: "turn", right: 1, down: 1, left: -1, below: -1 };
    expect((await studio.api("POST", `/materials/${id}/mends`, none)).status).toBe(422);
  });

  test("run twice, as after a crash, is done once", async () => {
    const id = await takeCropped("court");
    const { id: mend } = await mended(id, { kind: "even-out" });
    const { runMend } = await import("#server/mending/run");
    await runMend(mend);
    expect((await studio.api("GET", `/materials/${id}`)).json.revision).toBe(2);
  });

  test("can be looked at first: it waits to be kept or dropped, and changes nothing until then", async () => {
    const id = await takeCropped("mole");
    const material = async () => (await studio.api("GET", `/materials/${id}`)).json;
    const newest = async () => (await studio.api("GET", `/materials/${id}/mends`)).json.items[0];
    const ask = async () => {
      const recipe = { kind: "even-out" };
      const { json } = await studio.api("POST", `/materials/${id}/mends?look=first`, recipe);
      expect((await studio.api("POST", `/materials/${id}/mends/${json.id}/keep`)).status).toBe(409);
      await (await import("#server/mending/run")).runMend(json.id);
      return json.id as string;
    };
    const dropped = await ask();
    const waiting = await newest();
    expect(waiting).toMatchObject({ state: "waiting", toRevision: null });
    expect(waiting.figures.after).toBeDefined();
    const [was] = (await material()).maps;
    expect(waiting.proposed.maps[0]).toMatchObject({ role: "base_color" });
    expect(waiting.proposed.maps[0].sha256).not.toBe(was.sha256);
    expect((await studio.api("DELETE", `/materials/${id}/mends/${dropped}`)).json.state).toBe("failed");
    expect((await studio.api("DELETE", `/materials/${id}/mends/${dropped}`)).status).toBe(409);
    // What was left lying makes room for the next.
    const left = await ask();
    const kept = await ask();
    expect((await material()).revision).toBe(1);
    expect((await studio.api("POST", `/materials/${id}/mends/${left}/keep`)).status).toBe(409);
    const looker = await studio.addPerson("look");
    const path = `/materials/${id}/mends/${kept}/keep`;
    expect((await studio.api("POST", path, undefined, { token: looker.token })).status).toBe(403);
    expect((await studio.api("POST", path)).json).toMatchObject({ state: "done", toRevision: 2 });
    const after = await material();
    expect(after.revision).toBe(2);
    expect(after.maps[0].sha256).toBe(waiting.proposed.maps[0].sha256);
    expect((await studio.api("POST", path)).status).toBe(409);
    // Of another material there is none.
    const other = await takeCropped("groyne");
    expect((await studio.api("POST", `/materials/${other}/mends/${kept}/keep`)).status).toBe(404);
  });

  test("that was looked at while somebody saved the material is not forced on it either", async () => {
    const id = await takeCropped("spur");
    const { json } = await studio.api("POST", `/materials/${id}/mends?look=first`, { kind: "even-out" });
    await (await import("#server/mending/run")).runMend(json.id);
    await studio.api("PATCH", `/materials/${id}`, { finish: { roughness: 0.3 } });
    expect((await studio.api("POST", `/materials/${id}/mends/${json.id}/keep`)).json).toMatchObject({
      state: "failed",
      failure: expect.stringContaining("in the meantime"),
    });
    expect((await studio.api("GET", `/materials/${id}`)).json).toMatchObject({ revision: 2 });
  });

  test("of a material that somebody saved meanwhile is not forced on it", async () => {
    const id = await takeCropped("lane");
    const { json } = await studio.api("POST", `/materials/${id}/mends`, { kind: "seams", down: false });
    expect((await studio.api("POST", `/materials/${id}/mends`, { kind: "even-out" })).status).toBe(409);
    await studio.api("PATCH", `/materials/${id}`, { finish: { roughness: 0.3 } });
    const { runMend } = await import("#server/mending/run");
    await runMend(json.id);
    const [mend] = (await studio.api("GET", `/materials/${id}/mends`)).json.items;
    expect(mend).toMatchObject({ state: "failed", failure: expect.stringContaining("in the meantime") });
    expect((await studio.api("GET", `/materials/${id}`)).json.finish.roughness).toBe(0.3);
  });

  test("is refused in words where there is nothing to mend or nothing was chosen", async () => {
    const plain = (
      await studio.api("POST", "/materials", { name: "Chalk", layout: "plain", color: "#eeeeee" })
    ).json;
    expect(
      (await studio.api("POST", `/materials/${plain.id}/mends`, { kind: "seams" })).json.detail,
    ).toContain("no map");
    const id = await takeCropped("path");
    expect(
      (await studio.api("POST", `/materials/${id}/mends`, { kind: "seams", across: false, down: false }))
        .status,
    ).toBe(422);
    const looker = await studio.addPerson("look");
    expect(
      (await studio.api("POST", `/materials/${id}/mends`, { kind: "seams" }, { token: looker.token })).status,
    ).toBe(403);
  });

  test("of maps that differ in size fails with the reason, in the worker's way", async () => {
    const set = sampleSet("brick");
    const intake = await takeIn(studio, {
      "odd_basecolor.png": await encode(set.base_color, "png"),
      "odd_ao.png": await picture("#cccccc", 64),
    });
    const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, {
      all: true,
      onClash: "keep-both",
    });
    const { id } = (await studio.api("POST", `/materials/${json.materials[0].id}/mends`, { kind: "seams" }))
      .json;
    const { runMend, failMend } = await import("#server/mending/run");
    await expect(runMend(id)).rejects.toThrow("differ in size");
    await failMend(id, "The maps differ in size.");
    expect((await studio.api("GET", `/materials/${json.materials[0].id}/mends`)).json.items[0].state).toBe(
      "failed",
    );
  });
});

describe("what is missing", () => {
  async function takeMaps(name: string, roles: ("base_color" | "geometry_normal" | "height")[]) {
    const set = sampleSet("brick");
    const words = { base_color: "basecolor", geometry_normal: "normal_gl", height: "height" };
    const files = await Promise.all(
      roles.map(async (role) => [`${name}_${words[role]}.png`, await encode(set[role], "png")] as const),
    );
    const intake = await takeIn(studio, Object.fromEntries(files));
    const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, {
      all: true,
      onClash: "keep-both",
    });
    return json.materials[0].id as string;
  }
  const material = async (id: string) => (await studio.api("GET", `/materials/${id}`)).json;
  const role = (json: { maps: { role: string }[] }, name: string) =>
    json.maps.find((map) => map.role === name);

  test("a height is made from the normal map, with its amplitude in millimetres; then occlusion from it", async () => {
    const id = await takeMaps("made", ["base_color", "geometry_normal"]);
    await studio.api("PUT", `/materials/${id}/repeat`, { method: "size", width: 900, height: 900 });
    expect((await mended(id, { kind: "height-from-normal" })).mend).toMatchObject({ state: "done" });
    const after = await material(id);
    expect(role(after, "height")).toMatchObject({
      derived: ["height-from-normal"],
      bitDepth: 16,
      width: 256,
    });
    const real = sampleSet("brick").heightAmplitudeMm;
    expect(after.finish.heightAmplitudeMm / real).toBeGreaterThan(0.5);
    expect(after.finish.heightAmplitudeMm / real).toBeLessThan(1.6);
    expect(after.repeat).toEqual({ width: 900, height: 900 });
    expect(after.findings).toContainEqual({
      level: "note",
      code: "derived",
      message: "Height made from the normal map.",
    });
    await mended(id, { kind: "occlusion-from-height", reachMm: 20 });
    expect(role(await material(id), "ambient_occlusion")).toMatchObject({
      derived: ["occlusion-from-height"],
    });
  });

  test("a guess from the colours says that it is one, and completes the set", async () => {
    const id = await takeMaps("guessed", ["base_color"]);
    await mended(id, { kind: "height-from-color", depthMm: 4, darkIsDeep: false });
    await mended(id, { kind: "normal-from-height" });
    await mended(id, { kind: "roughness-from-color" });
    const after = await material(id);
    expect(after.maps.map(({ role }: { role: string }) => role).sort()).toEqual([
      "base_color",
      "geometry_normal",
      "height",
      "specular_roughness",
    ]);
    expect(after.finish.heightAmplitudeMm).toBe(4);
    const codes = after.findings.map(({ code }: { code: string }) => code);
    expect(codes).not.toContain("incomplete");
    expect(after.findings).toContainEqual(
      expect.objectContaining({ level: "look", message: expect.stringContaining("it is a guess") }),
    );
    // A mend afterwards does not make the guess forgotten.
    await mended(id, { kind: "start", right: 0.25, down: 0 });
    expect(role(await material(id), "height")).toMatchObject({ derived: ["height-from-color", "start"] });
  });

  test.each([
    [{ kind: "height-from-normal" }, /is made from normal; this material has none/],
    [{ kind: "height-from-color" }, /has a map that says its height already/],
  ])("%j is refused where it does not fit", async (recipe, reason) => {
    const id = await takeMaps(`refused-${recipe.kind}`, ["base_color", "height"]);
    const { status, json } = await studio.api("POST", `/materials/${id}/mends`, recipe);
    expect(status).toBe(422);
    expect(json.detail).toMatch(reason);
  });

  test("a crop to whole modules keeps the density; what has no pitch fails in words, and stays as it was", async () => {
    const id = await takeCropped("whole");
    await studio.api("PUT", `/materials/${id}/repeat`, { method: "size", width: 900 });
    const before = await material(id);
    const { mend } = await mended(id, { kind: "crop" });
    expect(mend.figures.modules).toMatchObject({ across: { modules: 3 }, down: { modules: 5 } });
    const after = await material(id);
    const base = role(after, "base_color") as unknown as { width: number };
    expect(base.width / after.repeat.width).toBeCloseTo(229 / before.repeat.width, 6);

    const intake = await takeIn(studio, {
      "smooth_basecolor.png": await encode(sampleSet("trowelled").base_color, "png"),
    });
    const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, {
      all: true,
      onClash: "keep-both",
    });
    const { json: asked } = await studio.api("POST", `/materials/${json.materials[0].id}/mends`, {
      kind: "crop",
    });
    const { runMend, failMend } = await import("#server/mending/run");
    const error = await runMend(asked.id).catch((thrown: Error) => thrown);
    expect(error).toMatchObject({ message: expect.stringContaining("no pitch to crop to") });
    await failMend(asked.id, (error as Error).message);
    expect((await material(json.materials[0].id)).revision).toBe(1);
  });
});

test("a picture that holds itself is cut to one copy, at the same density", async () => {
  const one = sampleSet("tiles").base_color;
  const twice = createRaster(512, 256, 3, 8);
  for (let y = 0; y < 256; y++)
    for (const left of [0, 256])
      twice.data.set(one.data.subarray(y * 768, (y + 1) * 768), (y * 512 + left) * 3);
  const intake = await takeIn(studio, { "twice_basecolor.png": await encode(twice, "png") });
  const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, {
    all: true,
    onClash: "keep-both",
  });
  const { id } = json.materials[0];
  await studio.api("PUT", `/materials/${id}/repeat`, { method: "size", width: 1000, height: 500 });
  const { mend } = await mended(id, { kind: "one-copy", across: 2, down: 1 });
  expect(mend).toMatchObject({ state: "done", toRevision: 3 });
  const after = (await studio.api("GET", `/materials/${id}`)).json;
  expect(after.repeat).toEqual({ width: 500, height: 500 });
  expect(after.maps[0]).toMatchObject({ width: 256, height: 256, derived: ["one-copy"] });
});

test("a mend whose result does not continue either changes nothing, and says so", async () => {
  const { pool } = await import("#server/pool/pool");
  const { runMend, failMend } = await import("#server/mending/run");
  const id = await takeCropped("hopeless", true);
  const { json } = await studio.api("POST", `/materials/${id}/mends`, { kind: "seams" });
  // Cut through bricks and courses once more.
  const worse = jest.spyOn(pool, "mend").mockResolvedValue({
    files: await Promise.all(
      (["base_color", "geometry_normal", "height"] as const).map((name) =>
        encode(cropped(sampleSet("brick")[name], 5, 9, 203, 196), "png"),
      ),
    ),
    overlap: { across: 26, down: 17 },
    scale: { width: 203 / 229, height: 196 / 213 },
  });
  const error = await runMend(json.id).catch((thrown: Error) => thrown);
  worse.mockRestore();
  expect(error).toMatchObject({
    name: "Refusal",
    message: expect.stringMatching(
      /^The result would not continue from (left to right|top to bottom) either/,
    ),
  });
  await failMend(json.id, (error as Error).message);
  expect((await studio.api("GET", `/materials/${id}`)).json.revision).toBe(1);
});

describe("counting modules", () => {
  const once = { job: { attempts: 1, max_attempts: 4 } } as never;
  const modules = async (id: string) => (await studio.api("GET", `/materials/${id}/modules`)).json;

  test("is asked for once, done by the worker, and kept; a crop of it has a pitch only", async () => {
    const set = sampleSet("brick");
    const { tasks } = await import("#server/main/tasks");
    const intake = await takeIn(studio, {
      "counted_basecolor.png": await encode(set.base_color, "png"),
      "counted_height.png": await encode(set.height, "png"),
    });
    const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, {
      all: true,
      onClash: "keep-both",
    });
    const { id } = json.materials[0];
    expect(await modules(id)).toEqual({ state: "counting" });
    await tasks["count-modules"]({ material: id }, once);
    expect(await modules(id)).toMatchObject({
      state: "counted",
      count: { across: 4, down: 12, bond: "half" },
    });

    const part = await takeCropped("counted-part");
    await tasks["count-modules"]({ material: part }, once);
    const found = await modules(part);
    expect(found.count).toBeUndefined();
    expect(found.pitch.across).toBeCloseTo(64, 0);
  }, 120_000);

  test("that fails for good is said, and not waited for", async () => {
    const { tasks } = await import("#server/main/tasks");
    const { pool } = await import("#server/pool/pool");
    const intake = await takeIn(studio, { "odd_basecolor.png": await picture("#705030", 64) });
    const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, {
      all: true,
      onClash: "keep-both",
    });
    const { id } = json.materials[0];
    const count = jest.spyOn(pool, "countModules").mockRejectedValue(new Error("out of memory"));
    await expect(tasks["count-modules"]({ material: id }, once)).rejects.toThrow("out of memory");
    expect(await modules(id)).toEqual({ state: "counting" });
    const last = { job: { attempts: 4, max_attempts: 4 } } as never;
    await expect(tasks["count-modules"]({ material: id }, last)).rejects.toThrow("out of memory");
    count.mockRestore();
    expect(await modules(id)).toEqual({ state: "failed" });
  });

  test("has nothing to count in a plain colour", async () => {
    const { json } = await studio.api("POST", "/materials", {
      name: "Mist",
      layout: "plain",
      color: "#dddddd",
    });
    expect(await modules(json.id)).toEqual({ state: "none" });
  });
});
