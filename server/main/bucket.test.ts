import { once } from "node:events";
import { mkdtemp, readdir, rm } from "node:fs/promises";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import express from "express";
import sharp from "sharp";
import { sampleSet } from "#core/judge/testing";
import { openBucketServer } from "#server/testing/bucketServer";
import { archiveFiles, openTestStudio, takeIn, type TestStudio, zipOf } from "#server/testing/testStudio";

/** A studio whose files lie in a bucket, from an upload to a delivery and a back-up. */
let bucket: Awaited<ReturnType<typeof openBucketServer>>;
let studio: TestStudio;
beforeAll(async () => {
  bucket = await openBucketServer();
  Object.assign(process.env, {
    KALONOMY_S3_BUCKET: "studio",
    KALONOMY_S3_PREFIX: "tern/",
    KALONOMY_S3_ENDPOINT: bucket.endpoint,
    KALONOMY_S3_CHECKSUMS: "needed",
  });
  studio = await openTestStudio();
});
afterAll(async () => {
  await studio.close();
  await bucket.close();
});

let sha256: string;
let material: string;

test("takes a zip in, with its pictures, and keeps nothing of it outside of the bucket but copies", async () => {
  const { encode } = await import("#server/pixels/encode");
  const { base_color, geometry_normal, height } = sampleSet("brick");
  const zip = await zipOf({
    "brick_color.png": await encode(base_color, "png"),
    "brick_normal_gl.png": await encode(geometry_normal, "png"),
    "brick_height.png": await encode(height, "png"),
  });
  const intake = await takeIn(studio, { "brick.zip": zip });
  expect(intake.ignored).toEqual([]);
  expect(intake.candidates).toHaveLength(1);
  const accepted = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  material = accepted.json.materials[0].id;
  sha256 = (await studio.api("GET", `/materials/${material}`)).json.maps[0].sha256;
  expect((await readdir(studio.folder)).sort()).toEqual(["copies", "incoming"]);
  expect(await readdir(join(studio.folder, "incoming"))).toEqual([]);
});

test("shows pictures, and hands out originals whole and in parts", async () => {
  const { fileRoutes } = await import("#server/images/fileRoutes");
  const { token } = await studio.addPerson("look");
  const server = express().use(fileRoutes()).listen(0, "127.0.0.1");
  await once(server, "listening");
  const get = (path: string, range?: string) =>
    fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}${path}`, {
      headers: { Authorization: `Bearer ${token}`, ...(range !== undefined && { Range: range }) },
    });
  try {
    const picture = await get(`/previews/${sha256}/color/256`);
    expect(picture.headers.get("Content-Type")).toBe("image/webp");
    expect((await sharp(Buffer.from(await picture.arrayBuffer())).metadata()).width).toBe(256);
    const whole = Buffer.from(await (await get(`/files/${sha256}`)).arrayBuffer());
    const part = await get(`/files/${sha256}`, "bytes=8-15");
    expect(part.status).toBe(206);
    expect(part.headers.get("Content-Range")).toBe(`bytes 8-15/${whole.length}`);
    expect(Buffer.from(await part.arrayBuffer())).toEqual(whole.subarray(8, 16));
    expect((await get(`/files/${sha256}`, `bytes=${whole.length}-`)).status).toBe(416);
  } finally {
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
  }
});

test("mends, counts and delivers what lies there, also once the copies are gone", async () => {
  await rm(join(studio.folder, "copies"), { recursive: true });
  await studio.api("PUT", `/materials/${material}/repeat`, { method: "size", width: 900 });
  const asked = await studio.api("POST", `/materials/${material}/mends`, {
    kind: "occlusion-from-height",
    reachMm: 20,
  });
  const { runMend } = await import("#server/mending/run");
  await runMend(asked.json.id);
  const mends = (await studio.api("GET", `/materials/${material}/mends`)).json.items;
  expect(mends[0]).toMatchObject({ state: "done" });
  const { countModulesOf } = await import("#server/counting/commands");
  await countModulesOf(material);
  const delivery = await studio.api("POST", "/deliveries", {
    materials: [material],
    profiles: ["gloss-path-tracer-cm", "gltf-2"],
  });
  const { runDelivery } = await import("#server/delivery/run");
  await runDelivery(delivery.json.id);
  expect((await studio.api("GET", `/deliveries/${delivery.json.id}`)).json).toMatchObject({ state: "done" });
  const files = await archiveFiles(studio, delivery.json.id);
  expect([...files.keys()].filter((name) => name.endsWith(".glb"))).toHaveLength(1);
  expect(files.get("account.json")!.length).toBeGreaterThan(100);
});

test("is backed up, verified, swept, and made anew in a folder", async () => {
  const { backUp } = await import("#server/upkeep/backUp");
  const { verifyFiles } = await import("#server/upkeep/verifyFiles");
  const { findOrphans, LEAST_AGE_MS } = await import("#server/upkeep/findOrphans");
  const { database } = await import("#server/db/database");
  const { fileStore } = await import("#server/store/store");
  const { folderStore } = await import("#server/store/folderStore");
  const { knownHashes } = await import("#server/store/sql");
  const verified = await verifyFiles(database(), fileStore());
  expect(verified).toMatchObject({ missing: [], damaged: [] });
  const folder = await mkdtemp(join(tmpdir(), "kalonomy-backup-"));
  try {
    expect(await backUp(folder)).toEqual({ files: verified.files, copied: verified.files, missing: [] });
    expect(await verifyFiles(database(), folderStore(folder))).toMatchObject({
      files: verified.files,
      missing: [],
      damaged: [],
    });
  } finally {
    await rm(folder, { recursive: true });
  }
  await fileStore().keep(Readable.from([Buffer.from("nobody's")]));
  const later = Date.now() + 2 * LEAST_AGE_MS;
  const orphans = await findOrphans(fileStore(), (hashes) => knownHashes(database(), hashes), later);
  expect(orphans.map(({ bytes, why }) => ({ bytes, why }))).toEqual([{ bytes: 8, why: "unknown" }]);
});
