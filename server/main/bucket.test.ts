import { createHash, randomUUID } from "node:crypto";
import { once } from "node:events";
import { mkdtemp, readdir, rm } from "node:fs/promises";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { buffer } from "node:stream/consumers";
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
    KALONOMY_DESTINATIONS_BUCKET: "studio",
    KALONOMY_DESTINATIONS_PREFIX: "handed-on/",
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
    expect(picture.headers.get("Content-Type")).toBe("image/jpeg");
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

test("delivers into a bucket: what is there already is left alone, and what somebody else wrote is replaced", async () => {
  const { s3Bucket } = await import("#server/store/s3Bucket");
  const { settings } = await import("#server/settings");
  const there = s3Bucket(settings().destinationsBucket!);
  const { runDelivery } = await import("#server/delivery/run");
  const { json: destination } = await studio.api("POST", "/destinations", { name: "Share", folder: "share" });
  const deliver = async () => {
    const asked = { materials: [material], profiles: ["gltf-2"], destination: destination.id };
    const { json } = await studio.api("POST", "/deliveries", asked);
    await runDelivery(json.id);
    return (await studio.api("GET", `/deliveries/${json.id}`)).json;
  };
  const keys = async () => {
    const found: string[] = [];
    for await (const { path } of there.list("share/")) found.push(path);
    return found.sort();
  };
  const first = await deliver();
  const { files, settings: sheet } = first.account.materials[0];
  const paths = [...files, sheet].map(({ path }: { path: string }) => `share/${path}`).sort();
  expect(await keys()).toEqual(paths);
  expect(first.account).toMatchObject({ written: paths.length, unchanged: 0 });
  const [one] = paths;
  const content = await buffer((await there.get(one))!);
  expect((await deliver()).account).toMatchObject({ written: 0, unchanged: paths.length });

  await there.putBytes(one, Buffer.from("somebody wrote over it"));
  expect((await deliver()).account).toMatchObject({ written: 1, unchanged: paths.length - 1 });
  expect(await buffer((await there.get(one))!)).toEqual(content);
});

test("says of a bucket for destinations that is not there what to do, and has the zip all the same", async () => {
  const { bucketPlace } = await import("#server/destination/bucketPlace");
  const { s3Bucket } = await import("#server/store/s3Bucket");
  const { settings } = await import("#server/settings");
  const missing = s3Bucket({ ...settings().destinationsBucket!, name: "nowhere" });
  const place = bucketPlace(missing, "share");
  const trouble = await place.put("stone/one.json", sha256).catch((error: unknown) => error);
  expect(place.words(trouble)).toContain("has no bucket");
  const away = bucketPlace(
    s3Bucket({ ...settings().destinationsBucket!, endpoint: "http://127.0.0.1:9" }),
    "share",
  );
  const silence = await away.hashAt("stone/one.json").catch((error: unknown) => error);
  expect(away.words(silence)).toContain("is not reached");
  expect(away.words(new TypeError("a defect"))).toBeUndefined();
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

test("an upload that broke off on one machine goes on on another, and comes out whole", async () => {
  const { bucketUploads } = await import("#server/intake/receiving/bucketUploads");
  const { uploadId } = await import("#server/intake/receiving/uploadIds");
  const { bucketOfStudio, fileStore } = await import("#server/store/store");
  const { Upload } = await import("@tus/server");
  const machine = (name: string) => bucketUploads(bucketOfStudio()!, join(studio.folder, name));
  const [one, other] = [machine("one"), machine("other")];
  const bytes = Buffer.from(Array.from({ length: 30_000 }, (_, i) => (i * i) % 251));
  const part = (from: number, to: number) => Readable.from([bytes.subarray(from, to)]);
  const [id, whole] = [uploadId(randomUUID()), uploadId(randomUUID())];
  const metadata = { name: "größe.png", position: "0" };
  await one.protocol.create(new Upload({ id, size: bytes.length, offset: 0, metadata }));
  expect(await one.protocol.write(part(0, 9000), id, 0)).toBe(9000);
  expect(await other.protocol.getUpload(id)).toMatchObject({ offset: 9000, size: 30_000, metadata });
  await other.protocol.write(part(9000, 20_000), id, 9000);
  // What makes it whole is lost with its machine, and comes again.
  await one.protocol.write(part(20_000, 30_000), id, 20_000);
  const found = await other.protocol.getUpload(id);
  expect(found.offset).toBe(20_000);
  await expect(other.take(found)).rejects.toThrow();
  await other.protocol.write(part(20_000, 30_000), id, 20_000);
  const kept = await other.take(found);
  expect(kept).toEqual({ sha256: createHash("sha256").update(bytes).digest("hex"), bytes: 30_000 });
  expect(await fileStore().check(kept.sha256)).toBe(kept.sha256);

  await one.protocol.create(new Upload({ id: whole, size: bytes.length, offset: 0, metadata }));
  await one.protocol.write(part(0, 30_000), whole, 0);
  expect(await one.take(await one.protocol.getUpload(whole))).toEqual(kept);
  expect((await other.ids()).sort()).toEqual([id, whole].sort());
  for (const name of [id, whole]) await one.drop(name);
  expect(await other.ids()).toEqual([]);
  await expect(other.protocol.getUpload(id)).rejects.toMatchObject({ status_code: 404 });
  await rm(join(studio.folder, "one"), { recursive: true });
  await rm(join(studio.folder, "other"), { recursive: true });
});
