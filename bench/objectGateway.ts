import { execFile, spawn, type ChildProcess } from "node:child_process";
import { randomBytes, randomUUID } from "node:crypto";
import { mkdir, mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as wait } from "node:timers/promises";
import { promisify } from "node:util";
import { freePort } from "../bin/parts/freePort.mjs";

const run = promisify(execFile);
const PACKAGES = ["radosgw", "ceph-mon", "ceph-osd", "ceph-base", "ceph-common"];
/** Names the one key that objects are encrypted with. */
export const GATEWAY_KEY = "studio-key";

/**
 * A real object store on loopback from Debian's packages, that checks checksums and encrypts: one monitor, one store in memory and one
 * gateway with a bucket “studio”. Takes about 20 s to start. Puts the keys into the environment, where the SDK looks for them.
 * @throws where the packages are missing, with the command that installs them
 */
export async function openObjectGateway() {
  await run("radosgw", ["--version"]).catch(() => {
    throw new Error(`Run “apt-get install -y --no-install-recommends ${PACKAGES.join(" ")}” first.`);
  });
  const folder = await mkdtemp(join(tmpdir(), "kalonomy-gateway-"));
  for (const part of ["mon", "osd", "rgw"]) await mkdir(join(folder, part));
  const [port, v2, v1] = [await freePort(), await freePort(), await freePort()];
  const cluster = randomUUID();
  await writeFile(
    join(folder, "ceph.conf"),
    `[global]
fsid = ${cluster}
mon host = [v2:127.0.0.1:${v2},v1:127.0.0.1:${v1}]
mon initial members = a
auth allow insecure global id reclaim = false
public addr = 127.0.0.1
cluster addr = 127.0.0.1
ms bind ipv6 = false
osd pool default size = 1
osd pool default min size = 1
osd pool default pg num = 4
osd pool default pg autoscale mode = off
osd crush chooseleaf type = 0
mon allow pool size one = true
mon max pg per osd = 1000
osd objectstore = memstore
memstore device bytes = 2147483648
keyring = ${folder}/keyring
run dir = ${folder}
admin socket = ${folder}/$name.asok
log file = ${folder}/$name.log
pid file = ${folder}/$name.pid
setuser match path =
[mon.a]
mon data = ${folder}/mon
[osd.0]
osd data = ${folder}/osd
[client.rgw.a]
rgw frontends = beast endpoint=127.0.0.1:${port}
rgw data = ${folder}/rgw
rgw run sync thread = false
rgw crypt require ssl = false
rgw crypt s3 kms backend = testing
rgw crypt s3 kms encryption keys = ${GATEWAY_KEY}=${randomBytes(32).toString("base64")}
`,
  );
  const env = { ...process.env, CEPH_CONF: join(folder, "ceph.conf") };
  const ceph = (program: string, ...args: string[]) => run(program, args, { env, timeout: 60_000 });
  const servers: ChildProcess[] = [];
  const serve = (program: string, ...args: string[]) =>
    servers.push(spawn(program, ["-f", ...args], { env, stdio: "ignore" }));

  const keyring = join(folder, "keyring");
  await ceph(
    "ceph-authtool",
    "--create-keyring",
    keyring,
    "--gen-key",
    "-n",
    "mon.",
    "--cap",
    "mon",
    "allow *",
  );
  const all = ["mon", "osd", "mgr"].flatMap((service) => ["--cap", service, "allow *"]);
  for (const name of ["client.admin", "osd.0", "client.rgw.a"])
    await ceph("ceph-authtool", keyring, "--gen-key", "-n", name, ...all);
  const map = join(folder, "monmap");
  const address = `[v2:127.0.0.1:${v2},v1:127.0.0.1:${v1}]`;
  await ceph("monmaptool", "--create", "--addv", "a", address, "--fsid", cluster, map);
  await ceph("ceph-mon", "--mkfs", "-i", "a", "--monmap", map, "--keyring", keyring);
  serve("ceph-mon", "-i", "a");
  const osd = randomUUID();
  await ceph("ceph", "osd", "new", osd);
  await ceph("ceph", "auth", "import", "-i", keyring);
  await ceph("ceph-osd", "-i", "0", "--mkfs", "--osd-uuid", osd);
  serve("ceph-osd", "-i", "0");
  await until(async () => (await ceph("ceph", "osd", "stat")).stdout.includes("1 up"));
  serve("radosgw", "-n", "client.rgw.a");
  const endpoint = `http://127.0.0.1:${port}`;
  await until(async () => (await fetch(endpoint)).status < 500);
  const [key, secret] = [randomBytes(12).toString("hex"), randomBytes(20).toString("hex")];
  await ceph(
    "radosgw-admin",
    ...[
      "user",
      "create",
      "--uid=studio",
      "--display-name=studio",
      `--access-key=${key}`,
      `--secret-key=${secret}`,
    ],
  );
  Object.assign(process.env, { AWS_ACCESS_KEY_ID: key, AWS_SECRET_ACCESS_KEY: secret });
  const { CreateBucketCommand, S3Client } = await import("@aws-sdk/client-s3");
  const client = new S3Client({ endpoint, region: "us-east-1", forcePathStyle: true });
  await client.send(new CreateBucketCommand({ Bucket: "studio" }));
  return {
    endpoint,
    client,
    async close() {
      // The gateway first and the monitor last: a store that outlives its monitor hangs.
      for (const server of servers.reverse()) {
        const ended = new Promise((resolve) => server.once("exit", resolve));
        server.kill();
        if ((await Promise.race([ended, wait(10_000, "late")])) === "late") server.kill("SIGKILL");
      }
      await rm(folder, { recursive: true, force: true });
    },
  };
}

async function until(holds: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; !(await holds().catch(() => false)); tries++) {
    if (tries > 120) throw new Error("The object gateway did not start.");
    await wait(500);
  }
}
