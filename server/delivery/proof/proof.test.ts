import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { writeFile } from "node:fs/promises";
import sharp from "sharp";
import { brick } from "#core/pattern/brick";
import { renderPattern, type PatternSet } from "#core/pattern/patternSet";
import { PROOF_SIZE } from "#core/proof/scenes";
import { encode } from "#server/pixels/encode";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, takeIn, type TestStudio } from "#server/testing/testStudio";
import type { Account } from "#server/delivery/account";

let studio: TestStudio;
let bricks: string;
let set: PatternSet;
beforeAll(async () => {
  studio = await openTestStudio();
  const { surface, repeat } = brick({
    seed: 8,
    brick: { width: 215, height: 65 },
    joint: 10,
    across: 4,
    courses: 8,
    colors: ["#8a4030", "#a05844"],
    mortar: "#b8b0a4",
    recess: 6,
    roughness: 0.4,
  });
  set = renderPattern(surface, { repeat, widthPx: 256, heightPx: 256 });
  const intake = await takeIn(studio, {
    "brick_color.png": await encode(set.base_color, "png"),
    "brick_roughness.png": await encode(set.specular_roughness, "png"),
    "brick_normal_gl.png": await encode(set.geometry_normal, "png"),
    "brick_height.png": await encode(set.height, "png"),
  });
  bricks = (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
  await studio.api("PUT", `/materials/${bricks}/repeat`, { method: "size", ...repeat });
  await studio.api("PATCH", `/materials/${bricks}`, {
    finish: { heightAmplitudeMm: set.heightAmplitudeMm, tint: "#ffe8d0", roughnessScale: 0.8 },
  });
}, 60_000);
afterAll(() => studio.close());

async function deliver(request: Record<string, unknown>): Promise<{ id: string; account: Account }> {
  const { json, status } = await studio.api("POST", "/deliveries", { materials: [bricks], ...request });
  if (status !== 202) throw new Error(JSON.stringify(json));
  await runQueued();
  return (await studio.api("GET", `/deliveries/${json.id}`)).json;
}

const proofOf = ({ account }: { account: Account }) => account.materials[0].proof!;
const rowsOf = async (id: string) => {
  const { listProofs } = await import("#server/delivery/proof/sql");
  const { database } = await import("#server/db/database");
  return listProofs(database(), id);
};

describe("a delivery is proved from its files", () => {
  test.each(["gloss-path-tracer-cm", "gltf-2"])(
    "for %s",
    async (profile) => {
      const done = await deliver({ profiles: [profile] });
      const proof = proofOf(done);
      // A viewer of glTF has no height: what it shows of the relief are its normals.
      if (profile === "gltf-2") expect(proof.causes).toEqual(["There is no height."]);
      else expect(proof).toMatchObject({ causes: [], isOverLimit: false });
      if (profile !== "gltf-2") expect(proof.meanDeltaE).toBeLessThan(0.5);
      const { fileStore } = await import("#server/store/store");
      const [row] = await rowsOf(done.id);
      const sheet = await sharp(await fileStore().read(row.sheet!)).metadata();
      // Bricks let no light through.
      expect(row.proof!.scenes.map(({ name }) => name)).toEqual([
        "Overcast studio, panel",
        "Overcast studio, block",
        "Grazing lamp, panel",
        "Grazing lamp, block",
      ]);
      expect([sheet.width, sheet.height]).toEqual([
        PROOF_SIZE.width * 3,
        PROOF_SIZE.height * row.proof!.scenes.length,
      ]);
    },
    60_000,
  );

  test.each(["materialx-openpbr", "openusd", "obj-mtl", "ifc-4"])(
    "as who opens its material file sees it: %s",
    async (profile) => {
      const { causes, meanDeltaE } = proofOf(await deliver({ profiles: [profile] }));
      // How deep a height is, only the first two say.
      expect(causes.filter((cause) => !/height/.test(cause))).toEqual([]);
      if (profile === "materialx-openpbr" || profile === "openusd") expect(meanDeltaE).toBeLessThan(0.5);
    },
    60_000,
  );

  test("also where its images lie inside a package", async () => {
    const own = (await studio.api("POST", "/profiles", { from: "openusd", name: "Packages" })).json;
    const { revision, shipped: _, retired: __, ...profile } = own;
    await studio.api("PUT", `/profiles/${own.id}`, { revision, profile: { ...profile, delivers: "usdz" } });
    const done = await deliver({ profiles: [own.id] });
    expect(done.account.materials[0].files.map(({ path }) => path)).toEqual([
      expect.stringMatching(/\.usdz$/),
    ]);
    expect(proofOf(done)).toMatchObject({ causes: [], isOverLimit: false });
  }, 60_000);

  test("and not drawn again where the same files were proved before", async () => {
    const [first] = await rowsOf((await deliver({ profiles: ["gloss-path-tracer-cm"] })).id);
    const { pool } = await import("#server/pool/pool");
    const { proveDelivery } = pool;
    pool.proveDelivery = () => Promise.reject(new Error("It is drawn again."));
    try {
      const [again] = await rowsOf((await deliver({ profiles: ["gloss-path-tracer-cm"] })).id);
      expect(again).toEqual(first);
    } finally {
      pool.proveDelivery = proveDelivery;
    }
  }, 60_000);

  test("and not at all where its profile says so", async () => {
    const own = (await studio.api("POST", "/profiles", { from: "gloss-path-tracer-cm", name: "Unproved" }))
      .json;
    const { revision, shipped: _, retired: __, ...profile } = own;
    await studio.api("PUT", `/profiles/${own.id}`, { revision, profile: { ...profile, isProved: false } });
    const done = await deliver({ profiles: [own.id] });
    expect(proofOf(done)).toBeUndefined();
    expect(await rowsOf(done.id)).toEqual([]);
  });

  test("and what was put in the place of a file afterwards is found", async () => {
    const { fileStore } = await import("#server/store/store");
    const { database } = await import("#server/db/database");
    const other = await encode(
      { ...set.specular_roughness, data: set.specular_roughness.data.map((value) => 255 - value) },
      "png",
    );
    const done = await deliver({ profiles: ["gloss-path-tracer-cm"], maxPixels: 128 });
    expect(proofOf(done).causes.filter((cause) => !/reduced/.test(cause))).toEqual([]);
    const { sha256 } = done.account.materials[0].files.find(({ path }) => path.includes("_gloss"))!;
    await fileStore().withLocal([sha256], (pathOf) => writeFile(pathOf(sha256), other));
    await database().query("UPDATE delivery_proofs SET state = 'waiting', proof = NULL, sheet = NULL");
    await database().query(
      "DELETE FROM derived_files WHERE sha256 IN (SELECT sha256 FROM files WHERE media_type = 'application/json')",
    );
    const { runProofs } = await import("#server/delivery/proof/run");
    await runProofs(done.id);
    const [{ proof }] = await rowsOf(done.id);
    expect(proof!.causes).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/^The file for “gloss” has 256 × 256 px in place of 128 × 128/),
      ]),
    );
  }, 60_000);

  test("and where an original is gone, it says so, and the files stay", async () => {
    const { fileStore } = await import("#server/store/store");
    const { database } = await import("#server/db/database");
    const done = await deliver({ profiles: ["packed-walkthrough-m"] });
    const map = (await studio.api("GET", `/materials/${bricks}`)).json.maps[0].sha256;
    const { has } = fileStore();
    fileStore().has = async (sha256: string) => sha256 !== map && has.call(fileStore(), sha256);
    try {
      await database().query("UPDATE delivery_proofs SET state = 'waiting', proof = NULL, sheet = NULL");
      await database().query(
        "DELETE FROM derived_files WHERE sha256 IN (SELECT sha256 FROM files WHERE media_type = 'application/json')",
      );
      const { runProofs } = await import("#server/delivery/proof/run");
      await runProofs(done.id);
    } finally {
      fileStore().has = has;
    }
    const [row] = await rowsOf(done.id);
    expect(row).toMatchObject({
      state: "failed",
      failure: expect.stringMatching(/is missing from the data folder/),
    });
    expect((await studio.api("GET", `/deliveries/${done.id}`)).json.state).toBe("done");
  }, 60_000);
});
