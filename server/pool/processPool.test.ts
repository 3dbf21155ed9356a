import { fileURLToPath } from "node:url";
import { afterAll, describe, expect, test } from "@jest/globals";
import { processPool } from "#server/pool/processPool";

const pool = processPool(fileURLToPath(new URL("./testing/badTasks.ts", import.meta.url)), {
  most: 2,
  idleMs: 60_000,
});
afterAll(() => pool.close());

const LIMITS = { seconds: 30, mebibytes: 64 };
const run = (name: string, task: object = {}, limits: Partial<Parameters<typeof pool.run>[2]> = {}) =>
  pool.run(name, task, { ...LIMITS, ...limits });
const later = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

describe("the pool", () => {
  test("answers more tasks than it has processes, and passes on what they tell and refuse", async () => {
    const sums = await Promise.all([1, 2, 3, 4, 5].map((a) => run("add", { a, b: 10 })));
    expect(sums).toEqual([11, 12, 13, 14, 15]);
    const told: unknown[] = [];
    expect(await run("tell", { times: 3 }, { told: (value) => told.push(value) })).toBe("told");
    expect(told).toEqual([0, 1, 2]);
    await expect(run("refuse")).rejects.toMatchObject({ name: "Refusal", message: "It is no picture." });
  });

  test("ends a task that takes too long, and no other", async () => {
    const other = later(300).then(() => run("add", { a: 1, b: 1 }));
    await expect(run("spin", {}, { seconds: 1 })).rejects.toMatchObject({
      name: "LimitError",
      message: expect.stringContaining("longer than 1 s"),
    });
    expect(await other).toBe(2);
  });

  test.each(["hoard", "heap"])("ends a task that takes more memory than it may: %s", async (name) => {
    const other = run("add", { a: 2, b: 2 });
    await expect(run(name, { mebibytes: 8192 })).rejects.toMatchObject({
      name: "LimitError",
      message: expect.stringContaining("64 MiB"),
    });
    expect(await other).toBe(4);
    // The next one may have more.
    if (name === "hoard") expect(await run("hoard", { mebibytes: 512 }, { mebibytes: 1024 })).toBe(32);
  });

  test("outlives a task that ends its process, and what a task leaves behind", async () => {
    await expect(run("exit")).rejects.toMatchObject({ name: "LimitError" });
    expect(await run("late")).toBe("answered");
    await later(200);
    expect(await Promise.all([run("add", { a: 1, b: 2 }), run("add", { a: 3, b: 4 })])).toEqual([3, 7]);
  });

  test("ends a task whose signal says so, running or waiting, and takes the next ones", async () => {
    const stop = new AbortController();
    const ended = ["spin", "spin", "spin"].map((name) =>
      run(name, {}, { signal: stop.signal }).catch((error: Error) => error.message),
    );
    await later(700);
    stop.abort(new Error("Somebody stopped it."));
    expect(await Promise.all(ended)).toEqual(Array(3).fill("Somebody stopped it."));
    expect(await run("add", { a: 5, b: 5 })).toBe(10);
  });

  test("takes what somebody waits for before what waited longer, each kind in its order", async () => {
    const [first, second] = [new AbortController(), new AbortController()];
    const busy = [first, second].map(({ signal }) => run("spin", {}, { signal }).catch(() => undefined));
    const order: string[] = [];
    const asked = ["batch 1", "batch 2", "screen 1", "screen 2", "batch 3"].map((name) =>
      run("add", { a: 1, b: 1 }, { isUrgent: name.startsWith("screen") }).then(() => order.push(name)),
    );
    // The other process stays busy, so that one takes them all.
    first.abort();
    await Promise.all(asked);
    second.abort();
    await Promise.all(busy);
    expect(order).toEqual(["screen 1", "screen 2", "batch 1", "batch 2", "batch 3"]);
  });

  test("has no secrets of the process that started it", async () => {
    const { readFile } = await import("node:fs/promises");
    const pid = (await run("pid")) as number;
    const environment = await readFile(`/proc/${pid}/environ`, "latin1");
    expect(environment).not.toContain("DATABASE_URL");
    expect(environment).not.toContain("KALONOMY_SECRET");
  });
});
