import { createHash } from "node:crypto";
import { lstat, mkdir, readdir, readFile, rm, stat, symlink, writeFile } from "node:fs/promises";
import { dirname, join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import validator from "gltf-validator";
import sharp from "sharp";
import type { Account } from "#server/delivery/account";
import { archiveFiles, openTestStudio, takeIn, type TestStudio } from "#server/testing/testStudio";
import { createRaster, type Raster } from "#core/raster/raster";

let studio: TestStudio;
let brick: string;
let destination: string;

const sha256 = (data: Uint8Array) => createHash("sha256").update(data).digest("hex");

/** A 32 × 32 image with values of its own everywhere. */
function noise(channels: 1 | 3, bitDepth: 8 | 16): Raster {
  const raster = createRaster(32, 32, channels, bitDepth);
  for (let i = 0; i < raster.data.length; i++)
    raster.data[i] = (i * 7919 + 13) % (bitDepth === 16 ? 65536 : 256);
  return raster;
}

beforeAll(async () => {
  studio = await openTestStudio();
  const { encode } = await import("#server/pixels/encode");
  const intake = await takeIn(studio, {
    "brick_color.png": await encode(noise(3, 8), "png"),
    "brick_roughness.png": await encode(noise(1, 8), "png"),
    "brick_normal_gl.png": await encode(noise(3, 16), "png"),
    "brick_height.png": await encode(noise(1, 16), "png"),
    "brick_ao.png": await encode(noise(1, 8), "png"),
  });
  brick = (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
  await studio.api("PUT", `/materials/${brick}/repeat`, { method: "size", width: 900, height: 600 });
  destination = (await studio.api("POST", "/destinations", { name: "Share", folder: "share" })).json.id;
});
afterAll(() => studio.close());

const PROFILES = ["gloss-path-tracer-cm", "packed-walkthrough-m", "gltf-2"];

/** Asks for a delivery over HTTP and runs it as the worker would. */
async function deliver(
  request: Record<string, unknown>,
): Promise<{ id: string; state: string; account: Account; failure: string | null }> {
  const { json, status } = await studio.api("POST", "/deliveries", { profiles: PROFILES, ...request });
  if (status !== 202) throw new Error(JSON.stringify(json));
  const { runDelivery } = await import("#server/delivery/run");
  await runDelivery(json.id);
  return (await studio.api("GET", `/deliveries/${json.id}`)).json;
}

const filesOf = (account: Account) =>
  account.materials.flatMap(({ files, settings }) => [...files, settings]);

const unzip = (id: string) => archiveFiles(studio, id);

describe("a delivery", () => {
  test("is an archive of just the files of its account, each as the account says", async () => {
    const { id, state, account } = await deliver({ materials: [brick] });
    expect(state).toBe("done");
    const files = await unzip(id);
    expect([...files.keys()].sort()).toEqual(
      [...filesOf(account).map(({ path }) => path), "account.json"].sort(),
    );
    for (const { path, sha256: sum } of filesOf(account)) expect(sha256(files.get(path)!)).toBe(sum);
    expect(JSON.parse(files.get("account.json")!.toString())).toEqual(account);

    for (const file of account.materials
      .flatMap((material) => material.files)
      .filter(({ path }) => !path.endsWith(".glb"))) {
      const metadata = await sharp(files.get(file.path)!).metadata();
      expect([metadata.width, metadata.height, metadata.depth]).toEqual([
        file.width,
        file.height,
        file.bitDepth === 16 ? "ushort" : "uchar",
      ]);
    }
    const [gloss] = account.materials;
    expect(gloss).toMatchObject({
      id: brick,
      revision: 2,
      repeat: { width: 900, height: 600 },
      profile: "gloss-path-tracer-cm",
    });
    expect(gloss.steps.join(" ")).toContain("90 × 60 cm");
    expect(account.materials[1].steps.join(" ")).toContain("normal map");
    expect(account.made).toMatch(/^\d{4}-\d\d-\d\dT.*Z$/);
  });

  test("carries the pixels exactly: gloss is inverted roughness, −Y is flipped green, height is untouched", async () => {
    const { id } = await deliver({ materials: [brick], profiles: ["gloss-path-tracer-cm"] });
    const files = await unzip(id);
    const pixelsOf = async (suffix: string): Promise<number[]> => {
      const [name, data] = [...files].find(([path]) => path.includes(suffix))!;
      const path = join(studio.folder, name.replaceAll("/", "_"));
      await writeFile(path, data);
      const { decode } = await import("#server/pixels/decode");
      return [...(await decode(path, name.endsWith("tif") ? "tiff" : "png", "data")).data];
    };
    expect(await pixelsOf("_gloss")).toEqual([...noise(1, 8).data].map((v) => 255 - v));
    expect(await pixelsOf("_height")).toEqual([...noise(1, 16).data]);
    expect(await pixelsOf("_normal")).toEqual(
      [...noise(3, 16).data].map((v, i) => (i % 3 === 1 ? 65535 - v : v)),
    );
  });

  test("of glTF passes the Khronos validator without error or warning", async () => {
    const { id } = await deliver({ materials: [brick], profiles: ["gltf-2"] });
    const glb = [...(await unzip(id))].find(([path]) => path.endsWith(".glb"))![1];
    const { issues } = await validator.validateBytes(new Uint8Array(glb));
    expect(issues.messages.filter(({ severity }) => severity <= 1)).toEqual([]);
  });

  test("made again gives the same bytes, and a changed size changes only what depends on it", async () => {
    const sums = async () =>
      new Map(
        filesOf((await deliver({ materials: [brick] })).account).map(({ path, sha256 }) => [path, sha256]),
      );
    const before = await sums();
    expect(await sums()).toEqual(before);
    await studio.api("PUT", `/materials/${brick}/repeat`, { method: "size", width: 901, height: 600 });
    const after = await sums();
    const changed = [...after]
      .filter(([path, sum]) => before.get(path) !== sum)
      .map(([path]) => path.replace(/^.*\//, ""));
    expect(changed.sort()).toEqual(
      [expect.stringMatching(/\.glb$/), "settings.json", "settings.json", "settings.json"].sort(),
    );
    await studio.api("PUT", `/materials/${brick}/repeat`, { method: "size", width: 900, height: 600 });
  });

  test("limits pixels, and says which operations were done", async () => {
    const { account } = await deliver({
      materials: [brick],
      maxPixels: 16,
      profiles: ["packed-walkthrough-m"],
    });
    for (const file of account.materials[0].files) {
      expect([file.width, file.height]).toEqual([16, 16]);
      expect(file.operations).toContain("resize 16");
    }
  });

  test("of a plain material is values without images, and a GLB", async () => {
    const plain = (
      await studio.api("POST", "/materials", {
        name: "Ochre",
        layout: "plain",
        color: "#c08a2e",
        roughness: 0.75,
      })
    ).json;
    const { account, id } = await deliver({ materials: [plain.id] });
    expect(account.materials.map(({ files }) => files.length)).toEqual([0, 0, 1]);
    const sheet = JSON.parse((await unzip(id)).get(account.materials[0].settings.path)!.toString());
    expect(sheet.settings).toMatchObject({ "base color": "#c08a2e", gloss: 0.25 });
  });
});

describe("a destination", () => {
  const place = (path: string) => join(studio.folder, "destinations", "share", path);

  test("gets each file once; what did not change is left alone, what is missing is written again", async () => {
    const first = await deliver({ materials: [brick], destination });
    const paths = filesOf(first.account).map(({ path }) => path);
    expect(first.account).toMatchObject({
      written: paths.length,
      unchanged: 0,
      destination: { name: "Share", folder: "share" },
    });
    const times = await Promise.all(paths.map(async (path) => (await stat(place(path))).mtimeMs));

    const second = await deliver({ materials: [brick], destination: "Share" });
    expect(second.account).toMatchObject({ written: 0, unchanged: paths.length });
    expect(await Promise.all(paths.map(async (path) => (await stat(place(path))).mtimeMs))).toEqual(times);

    await rm(place(paths[0]));
    await writeFile(place(paths[1]), "somebody painted over it");
    const third = await deliver({ materials: [brick], destination });
    expect(third.account).toMatchObject({ written: 2, unchanged: paths.length - 2 });
    for (const { path, sha256: sum } of filesOf(third.account))
      expect(sha256(await readFile(place(path)))).toBe(sum);
  });

  test("that cannot be written to fails in words, and the zip has everything all the same", async () => {
    const blocked = (await studio.api("POST", "/destinations", { name: "Blocked", folder: "blocked" })).json
      .id;
    await mkdir(join(studio.folder, "destinations", "blocked"), { recursive: true });
    await writeFile(
      join(studio.folder, "destinations", "blocked", "gltf-2"),
      "a file where a folder belongs",
    );
    const failed = await deliver({ materials: [brick], destination: blocked, profiles: ["gltf-2"] });
    expect(failed.state).toBe("failed");
    expect(failed.failure).toContain("The destination “Blocked” has a file where a folder belongs");
    expect(failed.failure).not.toMatch(/ENOTDIR|EEXIST|\/tmp/);
    expect(failed.account).toMatchObject({ written: 0, unchanged: 0 });
    const inside = await unzip(failed.id);
    for (const { path, sha256: sum } of filesOf(failed.account)) expect(sha256(inside.get(path)!)).toBe(sum);
    // Once it is put right, the same again goes through.
    await rm(join(studio.folder, "destinations", "blocked", "gltf-2"));
    expect((await deliver({ materials: [brick], destination: blocked, profiles: ["gltf-2"] })).state).toBe(
      "done",
    );
  });

  test("has no links that are followed: neither folders nor files", async () => {
    const linked = (await studio.api("POST", "/destinations", { name: "Linked", folder: "linked" })).json.id;
    const root = join(studio.folder, "destinations", "linked");
    const outside = join(studio.folder, "outside");
    await mkdir(root, { recursive: true });
    await mkdir(outside);
    await symlink(outside, join(root, "gltf-2"));
    const failed = await deliver({ materials: [brick], destination: linked, profiles: ["gltf-2"] });
    expect(failed.failure).toContain("links are not followed");
    expect(await readdir(outside)).toEqual([]);
    await rm(join(root, "gltf-2"));
    const [file] = filesOf(failed.account);
    await mkdir(dirname(join(root, file.path)), { recursive: true });
    await writeFile(join(outside, "theirs"), "not ours");
    await symlink(join(outside, "theirs"), join(root, file.path));
    const done = await deliver({ materials: [brick], destination: linked, profiles: ["gltf-2"] });
    expect(done.state).toBe("done");
    expect(await readFile(join(outside, "theirs"), "utf8")).toBe("not ours");
    expect(sha256(await readFile(join(root, file.path)))).toBe(file.sha256);
    expect((await lstat(join(root, file.path))).isSymbolicLink()).toBe(false);
  });

  test("keeps its paths when the material is renamed", async () => {
    const before = await deliver({ materials: [brick], destination });
    await studio.api("PATCH", `/materials/${brick}`, { name: "Another name" });
    const after = await deliver({ materials: [brick], destination });
    expect(filesOf(after.account).map(({ path }) => path)).toEqual(
      filesOf(before.account).map(({ path }) => path),
    );
  });

  test("cannot lie outside the folder of destinations, nor twice in one", async () => {
    for (const folder of [
      "../elsewhere",
      "/etc",
      "a/b",
      ".hidden",
      "",
      "CON",
      "nul",
      "Lpt1",
      "ends in a space ",
      "a.",
    ])
      expect((await studio.api("POST", "/destinations", { name: `X ${folder}`, folder })).status).toBe(422);
    expect((await studio.api("POST", "/destinations", { name: "Other", folder: "share" })).status).toBe(409);
  });
});

describe("a request", () => {
  test.each([
    [{ materials: [] }, "/materials"],
    [{}, "/materials"],
    [{ project: "00000000-0000-4000-8000-000000000000" }, "/project"],
    [{ materials: ["00000000-0000-4000-8000-000000000000"] }, "/materials"],
    [{ materials: ["x"] }, "/materials/0"],
  ])("of %j is refused with the field", async (body, pointer) => {
    expect((await studio.api("POST", "/deliveries", { profiles: PROFILES, ...body })).json).toMatchObject({
      status: 422,
      pointer,
    });
  });

  test("names an unknown profile and destination", async () => {
    expect(
      (await studio.api("POST", "/deliveries", { materials: [brick], profiles: ["nope"] })).json.detail,
    ).toContain("“nope”");
    expect(
      (
        await studio.api("POST", "/deliveries", {
          materials: [brick],
          profiles: PROFILES,
          destination: "moon",
        })
      ).json.detail,
    ).toContain("“moon”");
    expect((await studio.api("POST", "/deliveries", { materials: [brick], profiles: [] })).status).toBe(422);
  });

  test("can be looked at as a plan before anything is made", async () => {
    const { json } = await studio.api("POST", "/deliveries/plan", { materials: [brick], profiles: PROFILES });
    expect(json.materials).toHaveLength(3);
    expect(json.materials[0].files[0]).toMatchObject({
      role: "base_color",
      operations: ["multiply ao 1"],
      encoding: "srgb",
    });
  });
});

test("a plan says what it takes: less of what was made before, by how quick this machine was", async () => {
  const request = { materials: [brick], profiles: ["gloss-path-tracer-cm"] };
  const { database } = await import("#server/db/database");
  const { planDelivery } = await import("#server/delivery/plan");
  const { secondsExpected } = await import("#server/delivery/timeExpected");
  const expected = async (maxPixels: number) =>
    secondsExpected(database(), (await planDelivery({ ...request, maxPixels })).materials);
  await deliver({ ...request, maxPixels: 24 });
  expect(await expected(24)).toBe(0);
  const fresh = await expected(20);
  expect(fresh).toBeGreaterThan(0);
  await database().query("UPDATE deliveries SET made_seconds = made_seconds * 4");
  expect((await expected(20)) / fresh).toBeCloseTo(4, 3);
  const { json } = await studio.api("POST", "/deliveries/plan", request);
  expect(json.expected).toMatchObject({ bytes: expect.any(Number), seconds: 0 });
});

test("and of thousands of images as much as of each, though one profile of three was delivered before", async () => {
  const { database } = await import("#server/db/database");
  const { planDelivery } = await import("#server/delivery/plan");
  const { secondsExpected } = await import("#server/delivery/timeExpected");
  const request = { materials: [brick], maxPixels: 18 };
  await deliver({ ...request, profiles: PROFILES.slice(0, 1) });
  const { materials } = await planDelivery({ ...request, profiles: PROFILES });
  const each = await secondsExpected(database(), materials);
  expect(each).toBeGreaterThan(0);
  // Counts at which every so many images would be those of one input.
  for (const copies of [150, 450, 500, 1000]) {
    const plans = Array.from({ length: copies }, () => materials).flat();
    const ratio = (await secondsExpected(database(), plans)) / (copies * each);
    expect(Math.abs(ratio - 1)).toBeLessThan(0.1);
  }
});

describe("cancelling", () => {
  test("one that waits ends at once, and its job then does nothing", async () => {
    const { json } = await studio.api("POST", "/deliveries", { materials: [brick], profiles: PROFILES });
    expect((await studio.api("POST", `/deliveries/${json.id}/cancel`)).json.state).toBe("cancelled");
    const { runDelivery } = await import("#server/delivery/run");
    await runDelivery(json.id);
    expect((await studio.api("GET", `/deliveries/${json.id}`)).json).toMatchObject({
      state: "cancelled",
      account: null,
    });
    expect((await studio.api("GET", `/deliveries/${json.id}/archive`)).status).toBe(409);
    expect((await studio.api("POST", `/deliveries/${json.id}/cancel`)).status).toBe(409);
  });

  test("one that runs stops before its next file", async () => {
    const { json } = await studio.api("POST", "/deliveries", {
      materials: [brick],
      profiles: PROFILES,
      maxPixels: 17,
    });
    const { database } = await import("#server/db/database");
    const { startDelivery } = await import("#server/delivery/writes");
    const { runDelivery } = await import("#server/delivery/run");
    await startDelivery(database(), json.id);
    await studio.api("POST", `/deliveries/${json.id}/cancel`);
    await runDelivery(json.id);
    expect((await studio.api("GET", `/deliveries/${json.id}`)).json.state).toBe("cancelled");
  });
});

test("a collection delivers what lies in it and in the collections inside it", async () => {
  const outer = (await studio.api("POST", "/collections", { name: "Outer" })).json.id;
  const inner = (await studio.api("POST", "/collections", { name: "Inner", parent: outer })).json.id;
  await studio.api("PUT", `/collections/${inner}/materials`, { add: [brick] });
  expect(
    (await deliver({ collection: outer, profiles: ["gltf-2"] })).account.materials.map(({ id }) => id),
  ).toEqual([brick]);
});

describe("a project", () => {
  test("delivers the revision that it took, until it is moved on", async () => {
    const project = (await studio.api("POST", "/projects", { name: "Ferry", number: "1" })).json.id;
    await studio.api("PUT", `/projects/${project}/materials`, { add: [brick], remove: [] });
    const taken = (await studio.api("GET", `/materials/${brick}`)).json.revision;
    await studio.api("PUT", `/materials/${brick}/repeat`, { method: "size", width: 450, height: 300 });
    const first = await deliver({ project });
    expect(first.account.materials[0]).toMatchObject({
      revision: taken,
      repeat: { width: 900, height: 600 },
    });
    const { moveProjectOn } = await import("#server/project/commands");
    await moveProjectOn(project, [brick]);
    expect((await deliver({ project })).account.materials[0]).toMatchObject({
      revision: taken + 1,
      repeat: { width: 450, height: 300 },
    });
  });
});

describe("a material file beside its images", () => {
  test.each([
    ["materialx-openpbr", "mtlx", "<open_pbr_surface"],
    ["openusd", "usda", "UsdPreviewSurface"],
    ["obj-mtl", "mtl", "map_Pr"],
    ["ifc-4", "ifc", "IFCSURFACESTYLEWITHTEXTURES"],
  ])("for %s names just the files that are delivered", async (profile, extension, word) => {
    const { id, account } = await deliver({ materials: [brick], profiles: [profile], maxPixels: 16 });
    const files = await unzip(id);
    const [path, bytes] = [...files].find(([name]) => name.endsWith(`.${extension}`))!;
    const text = bytes.toString("utf8");
    expect(text).toContain(word);
    const folder = path.replace(/[^/]*$/, "");
    const images = [...files.keys()].filter((name) => /\.(png|tif|jpg)$/.test(name));
    expect(images.length).toBeGreaterThanOrEqual(3);
    const named = images.map((name) => name.slice(folder.length)).filter((name) => text.includes(name));
    expect(named).toHaveLength(images.length);
    expect(
      filesOf(account)
        .map((file) => file.path)
        .toSorted(),
    ).toEqual([...files.keys()].filter((name) => name !== "account.json").toSorted());
    const sheet = JSON.parse(files.get(`${folder}settings.json`)!.toString("utf8"));
    expect(sheet.inputs).toBeUndefined();
  });
});
