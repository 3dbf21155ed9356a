import { spawn, type ChildProcess } from "node:child_process";
import { createHash } from "node:crypto";
import { afterAll, afterEach, beforeAll, describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import { sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";
import { archiveFiles, openTestStudio, picture, type TestStudio } from "#server/testing/testStudio";
import { folderStore } from "#server/store/folderStore";

/** The real worker process against the queue: it is started, killed and started again. */
let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const running: ChildProcess[] = [];
afterEach(async () => {
  for (const child of running.splice(0)) await end(child, "SIGKILL");
  // What one test leaves under way is no work for the workers of the next.
  const { database } = await import("#server/db/database");
  await database().query("DELETE FROM graphile_worker._private_jobs");
});

async function startWorker(): Promise<ChildProcess> {
  const child = spawn(process.execPath, ["build/test/worker.js"], {
    env: { ...process.env, NODE_OPTIONS: "", KALONOMY_LOG: "info" },
    stdio: ["ignore", "pipe", "inherit"],
  });
  running.push(child);
  await new Promise<void>((resolve, reject) => {
    child.once("exit", () => reject(new Error("The worker ended at once.")));
    child.stdout!.on("data", (chunk: Buffer) => {
      if (chunk.toString().includes("ready")) resolve();
    });
  });
  return child;
}

function end(child: ChildProcess, signal: NodeJS.Signals): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    child.once("exit", () => resolve());
    child.kill(signal);
  });
}

async function handIn(files: Record<string, Buffer>): Promise<string> {
  const form = new FormData();
  for (const [name, content] of Object.entries(files))
    form.append("files", new Blob([new Uint8Array(content)]), name);
  return (await studio.api("POST", "/intakes", form)).json.id;
}

async function until(
  path: string,
  states: string[],
): Promise<{ state: string; candidates: unknown[]; account: { written: number } | null }> {
  for (let tries = 0; tries < 1500; tries++) {
    const { json } = await studio.api("GET", path);
    if (states.includes(json.state)) return json;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(`${path} never became ${states.join(" or ")}.`);
}

describe("the worker", () => {
  test("reads what was handed in before and after it started, and delivers", async () => {
    const early = await handIn({ "early.png": await picture("#101010") });
    await startWorker();
    expect((await until(`/intakes/${early}`, ["review"])).candidates).toHaveLength(1);
    const late = await handIn({ "late.png": await picture("#202020") });
    await until(`/intakes/${late}`, ["review"]);
    const { materials } = (await studio.api("POST", `/intakes/${late}/accept`, { all: true })).json;
    const delivery = (
      await studio.api("POST", "/deliveries", { materials: [materials[0].id], profiles: ["gltf-2"] })
    ).json.id;
    expect((await until(`/deliveries/${delivery}`, ["done", "failed"])).account?.written).toBeGreaterThan(0);
  }, 240_000);

  test("told to stop, it ends by itself and leaves no trace among the living", async () => {
    const { database } = await import("#server/db/database");
    await database().query("DELETE FROM workers");
    const { listWorkers } = await import("#server/jobs/queries");
    const living = async () => (await listWorkers(database())).length;
    const child = await startWorker();
    expect(await living()).toBe(1);
    await end(child, "SIGTERM");
    expect(child.exitCode).toBe(0);
    expect(await living()).toBe(0);
  }, 240_000);

  test("killed in the middle of a job, another one takes the job over and ends it", async () => {
    const files: Record<string, Buffer> = {};
    for (let n = 0; n < 7; n++) files[`stone${n}.png`] = await picture(`#5050${(16 + n).toString(16)}`, 600);
    const first = await startWorker();
    const id = await handIn(files);
    const { database } = await import("#server/db/database");
    const locked = async () =>
      (await database().query("SELECT 1 FROM graphile_worker.jobs WHERE locked_by IS NOT NULL")).rowCount;
    while ((await locked()) === 0) await new Promise((resolve) => setTimeout(resolve, 10));
    await end(first, "SIGKILL");
    expect((await studio.api("GET", `/intakes/${id}`)).json.state).toBe("reading");
    expect(await locked()).toBeGreaterThan(0);
    // Even at the last attempt: that its worker was killed is not the job's fault.
    await database().query("UPDATE graphile_worker._private_jobs SET attempts = max_attempts");
    // Its silence counts as death only after a while; the test does not wait for that.
    await database().query("UPDATE workers SET seen_at = now() - interval '1 hour'");
    await startWorker();
    expect((await until(`/intakes/${id}`, ["review", "failed"])).candidates).toHaveLength(7);
  }, 240_000);

  test("a small intake is read while a large one is, which two workers share", async () => {
    await startWorker();
    await startWorker();
    const files: Record<string, Buffer> = {};
    for (let n = 0; n < 12; n++)
      files[`gneiss${n}.png`] = await picture(`#70${(16 + n).toString(16)}40`, 400);
    const large = await handIn(files);
    await until(`/intakes/${large}`, ["reading"]);
    const small = await handIn({ "small.png": await picture("#204060", 64) });
    await until(`/intakes/${small}`, ["review"]);
    expect((await studio.api("GET", `/intakes/${large}`)).json.state).toBe("reading");
    expect((await until(`/intakes/${large}`, ["review", "failed"])).candidates).toHaveLength(12);
  }, 240_000);

  test("what somebody waits for is done while batches are read", async () => {
    await startWorker();
    const { base_color } = sampleSet("brick");
    const wall = await handIn({ "wall_basecolor.png": Buffer.from(await encode(base_color, "png")) });
    await until(`/intakes/${wall}`, ["review"]);
    const { materials } = (await studio.api("POST", `/intakes/${wall}/accept`, { all: true })).json;
    const batches: string[] = [];
    for (let batch = 0; batch < 3; batch++) {
      const files: Record<string, Buffer> = {};
      for (let n = 0; n < 7; n++)
        files[`slate${batch}_${n}.png`] = await picture(`#${30 + batch}50${16 + n}`, 500);
      batches.push(await handIn(files));
    }
    const { database } = await import("#server/db/database");
    const held = async () =>
      (await database().query("SELECT 1 FROM graphile_worker.jobs WHERE locked_by IS NOT NULL")).rowCount!;
    while ((await held()) < 2) await new Promise((resolve) => setTimeout(resolve, 20));
    await studio.api("POST", `/materials/${materials[0].id}/mends`, { kind: "even-out" });
    for (;;) {
      const [mend] = (await studio.api("GET", `/materials/${materials[0].id}/mends`)).json.items;
      if (mend.state !== "running") {
        expect(mend.state).toBe("done");
        break;
      }
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    const states = await Promise.all(
      batches.map(async (id) => (await studio.api("GET", `/intakes/${id}`)).json.state),
    );
    expect(states.filter((state) => state === "reading").length).toBeGreaterThanOrEqual(2);
  }, 240_000);

  test("killed in the middle of a conversion, the next one ends it, and the archive is whole", async () => {
    const first = await startWorker();
    const { base_color, height } = sampleSet("brick");
    const large = async (raster: typeof height) =>
      sharp(Buffer.from(await encode(raster, "png")))
        .resize(512)
        .png()
        .toBuffer();
    const id = await handIn({
      "kerb_basecolor.png": await large(base_color),
      "kerb_height.png": await large(height),
      "kerb_roughness.png": await large(height),
    });
    await until(`/intakes/${id}`, ["review"]);
    const { materials } = (await studio.api("POST", `/intakes/${id}/accept`, { all: true })).json;
    const profiles = (await studio.api("GET", "/profiles")).json.items
      .map((one: { id: string }) => one.id)
      .slice(0, 2);
    const delivery = (await studio.api("POST", "/deliveries", { materials: [materials[0].id], profiles }))
      .json.id;
    const now = async () => (await studio.api("GET", `/deliveries/${delivery}`)).json;
    while ((await now()).progress.done === 0) await new Promise((resolve) => setTimeout(resolve, 10));
    await end(first, "SIGKILL");
    expect(await now()).toMatchObject({ state: "running", account: null });
    expect((await studio.api("GET", `/deliveries/${delivery}/archive`)).status).toBe(409);

    const { database } = await import("#server/db/database");
    await database().query("UPDATE workers SET seen_at = now() - interval '1 hour'");
    await startWorker();
    await until(`/deliveries/${delivery}`, ["done", "failed", "cancelled"]);
    const { account } = await now();
    const written = account.materials.flatMap((one: { files: object[]; settings: object }) => [
      ...one.files,
      one.settings,
    ]);
    const inside = await archiveFiles(studio, delivery);
    expect([...inside.keys()].sort()).toEqual(
      [...written.map(({ path }: { path: string }) => path), "account.json"].sort(),
    );
    for (const { path, sha256 } of written)
      expect(createHash("sha256").update(inside.get(path)!).digest("hex")).toBe(sha256);
  }, 240_000);

  test("what kills its worker at every attempt is given up, and says so", async () => {
    const files: Record<string, Buffer> = {};
    for (let n = 0; n < 7; n++) files[`slab${n}.png`] = await picture(`#60${(16 + n).toString(16)}60`, 600);
    const first = await startWorker();
    const id = await handIn(files);
    const { database } = await import("#server/db/database");
    const held = "FROM graphile_worker.jobs WHERE locked_by IS NOT NULL AND starts_with(key, $1)";
    const lanes = [`read-intake:${id}`];
    while ((await database().query(`SELECT 1 ${held}`, lanes)).rowCount === 0)
      await new Promise((resolve) => setTimeout(resolve, 10));
    await end(first, "SIGKILL");
    // What it held when it died was broken off seven times before.
    await database().query(`INSERT INTO job_breaks SELECT id, 7 ${held}`, lanes);
    await database().query("UPDATE workers SET seen_at = now() - interval '1 hour'");
    await startWorker();
    await until(`/intakes/${id}`, ["failed"]);
    expect((await studio.api("GET", `/intakes/${id}`)).json.failure).toContain("broken off again and again");
    // It can be asked for again, by somebody who means it.
    expect((await studio.api("POST", `/intakes/${id}/hold`, { wish: "read-again" })).status).toBe(200);
    await until(`/intakes/${id}`, ["review"]);
  }, 240_000);

  test("a delivery that cannot succeed ends as failed and says why", async () => {
    await startWorker();
    const id = await handIn({ "lost.png": await picture("#303030") });
    await until(`/intakes/${id}`, ["review"]);
    const { materials } = (await studio.api("POST", `/intakes/${id}/accept`, { all: true })).json;
    const map = (await studio.api("GET", `/materials/${materials[0].id}`)).json.maps[0];
    const { rm } = await import("node:fs/promises");
    await rm(folderStore(studio.folder).path(map.sha256));
    const delivery = (
      await studio.api("POST", "/deliveries", { materials: [materials[0].id], profiles: ["gltf-2"] })
    ).json.id;
    const { database } = await import("#server/db/database");
    // Each attempt waits longer than the one before; the test does not wait for that.
    const hurry = setInterval(
      () =>
        void database().query("UPDATE graphile_worker._private_jobs SET run_at = now() WHERE run_at > now()"),
      200,
    );
    try {
      await until(`/deliveries/${delivery}`, ["failed"]);
    } finally {
      clearInterval(hurry);
    }
    expect((await studio.api("GET", `/deliveries/${delivery}`)).json).toMatchObject({
      account: null,
      failure: expect.stringContaining("lost.png is missing"),
    });
  }, 240_000);
});
