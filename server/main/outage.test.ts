import { spawn, type ChildProcess } from "node:child_process";
import { setTimeout as wait } from "node:timers/promises";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { databaseProxy } from "#server/testing/databaseProxy";
import { openTestStudio, picture, type TestStudio } from "#server/testing/testStudio";

/** The worker process while its database comes and goes. */
let studio: TestStudio;
let proxy: Awaited<ReturnType<typeof databaseProxy>>;
let worker: ChildProcess | undefined;
beforeAll(async () => {
  studio = await openTestStudio();
  proxy = await databaseProxy(process.env.DATABASE_URL!);
});
afterAll(async () => {
  worker?.kill("SIGKILL");
  await proxy.close();
  await studio.close();
});

/** Of each intake. */
const FILES = 4;
const OUTAGE_MS = Number(process.env.OUTAGE_SECONDS ?? 4) * 1000;

test(
  "the database goes away under running jobs: the worker waits, lives, and ends them once it is back",
  async () => {
    // It begins while the database is away.
    proxy.cut();
    let said = "";
    worker = spawn(process.execPath, ["build/test/worker.js"], {
      env: { ...process.env, NODE_OPTIONS: "", KALONOMY_LOG: "info", DATABASE_URL: proxy.url },
      stdio: ["ignore", "pipe", "inherit"],
    });
    worker.stdout!.on("data", (chunk: Buffer) => (said += chunk.toString()));
    const hasSaid = async (words: string, seconds: number) => {
      for (const end = Date.now() + seconds * 1000; Date.now() < end; await wait(50))
        if (said.includes(words)) return true;
      return false;
    };
    expect(await hasSaid("it is waited for", 20)).toBe(true);
    proxy.open();
    expect(await hasSaid("The worker is ready", 20)).toBe(true);

    const intakes: string[] = [];
    for (let n = 0; n < 2; n++) {
      const form = new FormData();
      for (let k = 0; k < FILES; k++)
        form.append(
          "files",
          new Blob([new Uint8Array(await picture(`#${n}0${k}070`, 700))]),
          `wall${n}${k}_basecolor.png`,
        );
      intakes.push((await studio.api("POST", "/intakes", form)).json.id);
    }
    const { database } = await import("#server/db/database");
    const held = async () =>
      (await database().query("SELECT 1 FROM graphile_worker._private_jobs WHERE locked_by IS NOT NULL"))
        .rowCount;
    while ((await held()) === 0) await wait(10);
    await wait(300);
    proxy.cut();
    await wait(OUTAGE_MS);
    expect(worker.exitCode).toBeNull();
    proxy.open();

    for (const id of intakes)
      for (const end = Date.now() + 90_000; ; await wait(200)) {
        const { state, failure, candidates } = (await studio.api("GET", `/intakes/${id}`)).json;
        if (state === "review") {
          expect(candidates).toHaveLength(FILES);
          break;
        }
        expect({ id, state, failure, late: Date.now() > end }).toEqual({
          id,
          state: "reading",
          failure: null,
          late: false,
        });
      }
    expect(worker.exitCode).toBeNull();
    // No job is left behind, held or failed.
    for (const end = Date.now() + 60_000; Date.now() < end; await wait(300)) {
      const { rowCount } = await database().query("SELECT 1 FROM graphile_worker._private_jobs");
      if (rowCount === 0) return;
    }
    const { rows } = await database().query("SELECT * FROM graphile_worker.jobs");
    expect(rows).toEqual([]);
  },
  240_000 + OUTAGE_MS,
);
