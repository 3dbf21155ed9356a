import { execFile, spawn, type ChildProcess } from "node:child_process";
import { promisify } from "node:util";
import { freePort } from "../bin/parts/freePort.mjs";
import type { TestStudio } from "#server/testing/testStudio";

/** A worker as it was bundled last. @param core holds it on one core, as if it were alone on a machine with one */
export function startWorker(core?: number): Promise<ChildProcess> {
  const command = [process.execPath, "build/worker/worker.js"];
  const held = core === undefined ? command : ["taskset", "-c", String(core), ...command];
  const child = spawn(held[0], held.slice(1), {
    env: {
      ...process.env,
      KALONOMY_LOG: "info",
      NODE_ENV: "production",
      ...(core !== undefined && { KALONOMY_THREADS: "1" }),
    },
    stdio: ["ignore", "pipe", "inherit"],
  });
  return new Promise((resolve, reject) => {
    child.once("exit", () => reject(new Error("The worker ended at once.")));
    child.stdout!.on("data", (chunk: Buffer) => chunk.toString().includes("ready") && resolve(child));
  });
}

/**
 * The real web processes on a port of their own, as they were built last.
 * @param databaseUrl another than the studio's @throws where they do not answer within ten seconds
 */
export async function startWeb(
  databaseUrl = process.env.DATABASE_URL,
): Promise<{ address: string; web: ChildProcess }> {
  const port = await freePort();
  const web = spawn(process.execPath, ["server/main/start.mjs"], {
    env: {
      ...process.env,
      ...{ DATABASE_URL: databaseUrl, NODE_ENV: "production", KALONOMY_LOG: "fatal", PORT: String(port) },
    },
    stdio: ["ignore", "ignore", "inherit"],
  });
  const address = `http://127.0.0.1:${port}`;
  for (let tries = 0; !(await fetch(`${address}/healthz`).catch(() => undefined))?.ok; tries++) {
    if (tries > 100) {
      web.kill();
      throw new Error("The web process did not start.");
    }
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return { address, web };
}

/** One request by a process of its own, as a browser is. @returns what came */
async function curl(studio: TestStudio, path: string, ...options: string[]): Promise<string> {
  const token = `Authorization: Bearer ${studio.token}`;
  const args = ["-sS", "--fail", "-H", token, ...options, studio.address + path];
  return (await promisify(execFile)("curl", args)).stdout;
}

/** Hands files in over HTTP. @returns the intake */
export async function handIn(studio: TestStudio, paths: string[]): Promise<string> {
  const files = paths.flatMap((path) => ["-F", `files=@${path}`]);
  return (JSON.parse(await curl(studio, "/intakes", ...files)) as { id: string }).id;
}

/** Reads something to its last byte, and forgets it. */
export async function readAll(studio: TestStudio, path: string): Promise<void> {
  await curl(studio, path, "-o", "/dev/null");
}

/** Waits until an intake can be reviewed. @returns the intake */
export async function reviewed(studio: TestStudio, id: string): Promise<string> {
  for (;;) {
    const { state } = (await studio.api("GET", `/intakes/${id}`)).json;
    if (state === "review") return id;
    if (state !== "reading") throw new Error(`The intake is ${state}.`);
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}
