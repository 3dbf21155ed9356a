import { spawnSync } from "node:child_process";
import { createHash, randomBytes } from "node:crypto";
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { GetObjectCommand, HeadObjectCommand, PutObjectCommand } from "@aws-sdk/client-s3";
import { objectStore } from "#server/store/objectStore";
import { s3Bucket } from "#server/store/s3Bucket";
import { GATEWAY_KEY, openObjectGateway } from "./objectGateway";

/** The file store on a real object gateway: its tests, whether checksums and encryption hold there, and its speed against the SDK alone. */
const FILES = 24;
const BYTES = 8 * 2 ** 20;

const gateway = await openObjectGateway();
const settings = () => ({
  name: "studio",
  prefix: "bench/",
  endpoint: gateway.endpoint,
  region: "us-east-1",
  checksums: "WHEN_SUPPORTED" as const,
  links: false,
});
const folder = await mkdtemp(join(tmpdir(), "kalonomy-store-"));
try {
  const tests = spawnSync(
    process.execPath,
    ["--experimental-vm-modules", "--no-warnings", "node_modules/jest/bin/jest.js", "server/store"],
    {
      stdio: "inherit",
      env: { ...process.env, KALONOMY_TEST_S3: gateway.endpoint },
    },
  );
  if (tests.status !== 0) throw new Error("The store's tests fail there.");
  await lookAtChecksums();
  await lookAtEncryption();
  await time();
} finally {
  await rm(folder, { recursive: true, force: true });
  await gateway.close();
}

/** Which sums that do not belong to their bytes are refused: older gateways know the oldest alone. */
async function lookAtChecksums(): Promise<void> {
  const other = (algorithm: string) => createHash(algorithm).update("other bytes").digest("base64");
  const wrong = { "SHA-256": { ChecksumSHA256: other("sha256") }, MD5: { ContentMD5: other("md5") } };
  for (const [name, sum] of Object.entries(wrong)) {
    const object = { Bucket: "studio", Key: "wrong", Body: "some bytes", ...sum };
    const refused = await gateway.client.send(new PutObjectCommand(object)).then(
      () => false,
      () => true,
    );
    console.log(`checksums: a wrong ${name} is ${refused ? "refused" : "taken"} there`);
  }
}

async function lookAtEncryption(): Promise<void> {
  const secret = {
    ...settings(),
    prefix: "secret/",
    encryption: "aws:kms" as const,
    encryptionKey: GATEWAY_KEY,
  };
  const store = objectStore(s3Bucket(secret), join(folder, "secret"));
  const { sha256 } = await store.keep(Readable.from([Buffer.from("a drawing")]));
  const Key = `secret/files/${sha256.slice(0, 2)}/${sha256.slice(2, 4)}/${sha256}`;
  const head = await gateway.client.send(new HeadObjectCommand({ Bucket: "studio", Key }));
  if (head.ServerSideEncryption !== "aws:kms") throw new Error("It lies there in the clear.");
  if ((await store.check(sha256)) !== sha256) throw new Error("It does not come back as it was.");
  console.log(
    `encryption: ${head.ServerSideEncryption} with the key ${head.SSEKMSKeyId}, and it comes back as it was`,
  );
}

async function time(): Promise<void> {
  const contents = Array.from({ length: FILES }, () => randomBytes(BYTES));
  const bare = await seconds(async () => {
    for (const [n, Body] of contents.entries())
      await gateway.client.send(new PutObjectCommand({ Bucket: "studio", Key: `bare/${n}`, Body }));
  });
  const store = objectStore(s3Bucket(settings()), join(folder, "ours"));
  const hashes: string[] = [];
  const kept = await seconds(async () => {
    for (const content of contents) hashes.push((await store.keep(Readable.from([content]))).sha256);
  });
  const bareRead = await seconds(async () => {
    for (const n of contents.keys()) {
      const { Body } = await gateway.client.send(
        new GetObjectCommand({ Bucket: "studio", Key: `bare/${n}` }),
      );
      await Body!.transformToByteArray();
    }
  });
  const read = await seconds(async () => {
    for (const sha256 of hashes) await store.read(sha256);
  });
  // As on another machine: nothing is here yet, and it is compared with its hash.
  const elsewhere = objectStore(s3Bucket(settings()), join(folder, "elsewhere"));
  const worked = await seconds(async () => {
    for (const sha256 of hashes) await elsewhere.withLocal([sha256], () => Promise.resolve());
  });
  const line = (what: string, ours: number, theirs: number) =>
    console.log(
      `${what}: ${(ours / theirs).toFixed(2)} (${ours.toFixed(2)} s against ${theirs.toFixed(2)} s)`,
    );
  line(`keeping ${FILES} files of 8 MiB, hashed, with a copy here`, kept, bare);
  line("reading them", read, bareRead);
  line("fetching them to work on them, compared with their hashes", worked, bareRead);
}

async function seconds(work: () => Promise<void>): Promise<number> {
  const start = performance.now();
  await work();
  return (performance.now() - start) / 1000;
}
