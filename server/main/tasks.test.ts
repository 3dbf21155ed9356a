import { readdir } from "node:fs/promises";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, jest, test } from "@jest/globals";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, picture, type TestStudio } from "#server/testing/testStudio";
import { folderStore } from "#server/store/folderStore";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const fullDisk = () => Object.assign(new Error("no space left on device"), { code: "ENOSPC" });
const helpers = (attempts: number) => ({ job: { id: "0", attempts, max_attempts: 4 } }) as never;

async function handIn(name: string, content: Buffer): Promise<string> {
  const form = new FormData();
  form.append("files", new Blob([new Uint8Array(content)]), name);
  return (await studio.api("POST", "/intakes", form)).json.id;
}

/** Reads an intake to its end: on a busy machine one turn may not be enough. */
async function readWhole(id: string, attempts: number): Promise<void> {
  const { tasks } = await import("#server/main/tasks");
  do await tasks["read-intake"]({ intake: id }, helpers(attempts));
  while ((await studio.api("GET", `/intakes/${id}`)).json.state === "reading");
}

describe("a disk that is full", () => {
  test("ends an intake with what to do; nothing is half-written, and it can be read once there is room", async () => {
    const { fileStore } = await import("#server/store/store");
    const id = await handIn("wall_basecolor.png", await picture("#aa8866", 64));
    const write = jest.spyOn(fileStore(), "writeDerived").mockRejectedValue(fullDisk());
    // At the first attempt: trying again at once does not help.
    await readWhole(id, 1);
    const failed = (await studio.api("GET", `/intakes/${id}`)).json;
    expect(failed).toMatchObject({ state: "failed", candidates: [], ignored: [] });
    expect(failed.failure).toContain("The disk is full. Make room");
    expect(await readdir(join(studio.folder, "incoming"))).toEqual([]);

    write.mockRestore();
    expect((await studio.api("POST", `/intakes/${id}/hold`, { wish: "read-again" })).json.state).toBe(
      "reading",
    );
    await readWhole(id, 1);
    expect((await studio.api("GET", `/intakes/${id}`)).json).toMatchObject({
      state: "review",
      candidates: [{ name: "Wall" }],
    });
    expect((await studio.api("POST", `/intakes/${id}/hold`, { wish: "read-again" })).status).toBe(409);
  });

  test("while files come in: the upload is refused, and leaves no intake", async () => {
    const { fileStore } = await import("#server/store/store");
    const keep = jest.spyOn(fileStore(), "keep").mockImplementation(async (stream) => {
      stream.resume();
      throw fullDisk();
    });
    const before = (await studio.api("GET", "/materials")).json.total;
    const form = new FormData();
    form.append("files", new Blob([new Uint8Array(await picture("#123456"))]), "late.png");
    const { status, json } = await studio.api("POST", "/intakes", form);
    keep.mockRestore();
    expect(status).toBe(507);
    expect(json.detail).toContain("The disk is full");
    expect((await studio.api("GET", "/materials")).json.total).toBe(before);
  });
});

describe("a job that cannot be done", () => {
  test("is tried again, and only the last try says that it failed", async () => {
    const { fileStore } = await import("#server/store/store");
    const id = await handIn("gone.png", await picture("#556677", 32));
    const path = jest
      .spyOn(fileStore(), "writeDerived")
      .mockRejectedValue(Object.assign(new Error("too many open files"), { code: "EMFILE" }));
    await expect(readWhole(id, 1)).rejects.toThrow("too many open files");
    expect((await studio.api("GET", `/intakes/${id}`)).json.state).toBe("reading");
    await expect(readWhole(id, 4)).rejects.toThrow("too many open files");
    path.mockRestore();
    expect((await studio.api("GET", `/intakes/${id}`)).json).toMatchObject({
      state: "failed",
      failure: expect.stringMatching(
        /^The reading failed: something went wrong in the worker, which is logged/,
      ),
    });
  });
});

test("of several lanes that were broken off too often one gives their intake up, and it may be asked for again", async () => {
  const { tasks } = await import("#server/main/tasks");
  const { database } = await import("#server/db/database");
  const { addJob } = await import("#server/jobs/queue");
  const { listen } = await import("#server/events/events");
  const intake = await handIn("cursed_basecolor.png", await picture("#445566", 64));
  for (const lane of [0, 1, 2]) await addJob(database(), "read-intake", { intake, lane });
  const { rows } = await database().query<{ id: string }>(
    "INSERT INTO job_breaks SELECT id, 8 FROM graphile_worker.jobs WHERE starts_with(key, $1) RETURNING job::text AS id",
    [`read-intake:${intake}`],
  );
  const ends: (string | undefined)[] = [];
  const off = await listen({
    heard: ({ id, state }) => id === intake && ends.push(state),
    follows: () => false,
    missed: () => undefined,
  });
  const run = (lane: number) =>
    tasks["read-intake"]({ intake, lane }, {
      job: { id: rows[lane].id, attempts: 1, max_attempts: 4 },
    } as never);
  await Promise.all([0, 1, 2].map(run));
  await new Promise((resolve) => setTimeout(resolve, 300));
  off();
  expect(ends).toEqual(["failed"]);
  expect((await studio.api("GET", `/intakes/${intake}`)).json.failure).toContain("again and again");
  await studio.api("POST", `/intakes/${intake}/hold`, { wish: "read-again" });
  await run(1);
  // On a busy machine one turn may not be enough.
  await runQueued();
  expect((await studio.api("GET", `/intakes/${intake}`)).json.state).toBe("review");
});

test("a picture that was lost is made again once somebody asks for it", async () => {
  const { tasks } = await import("#server/main/tasks");
  const { previewName } = await import("#server/pixels/previews");
  const { rm, stat } = await import("node:fs/promises");
  const id = await handIn("lost_basecolor.png", await picture("#99aabb", 64));
  await readWhole(id, 1);
  const [{ maps }] = (await studio.api("GET", `/intakes/${id}`)).json.candidates;
  const sha256: string =
    maps[0].sha256 ?? (await studio.api("GET", `/intakes/${id}/uploads`)).json.items[0].sha256;
  const path = folderStore(studio.folder).derivedPath(previewName(sha256, "color", "256"));
  await rm(path);
  await tasks["heal-previews"]({ sha256, channel: "color" }, helpers(1));
  expect((await stat(path)).size).toBeGreaterThan(0);
  // So is what was read before seams were measured as they are now.
  const { database } = await import("#server/db/database");
  const { findImage } = await import("#server/images/queries");
  await database().query("UPDATE images SET reading = reading - 'seams' WHERE sha256 = $1", [sha256]);
  expect((await findImage(database(), sha256))?.reading?.seams).toBeUndefined();
  await tasks["heal-previews"]({ sha256, channel: "color" }, helpers(1));
  expect((await findImage(database(), sha256))?.reading?.seams).toMatchObject({ across: { broken: 0 } });
  // Of what nobody knows nothing is made.
  await tasks["heal-previews"]({ sha256: "0".repeat(64), channel: "color" }, helpers(1));
});
