import { mkdir, readFile, rename, rm, symlink, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { afterAll, beforeAll, beforeEach, describe, expect, test } from "@jest/globals";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let share: { id: string; folder: string };
let files: string[];
let root: string;
beforeAll(async () => {
  studio = await openTestStudio();
  const intake = await takeIn(studio, { "oak_color.png": await picture("#804020") });
  const oak = (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
  share = (await studio.api("POST", "/destinations", { name: "Share", folder: "share" })).json;
  const { settings } = await import("#server/settings");
  root = join(settings().destinationsFolder, share.folder);
  const { json } = await studio.api("POST", "/deliveries", {
    materials: [oak],
    profiles: ["gloss-path-tracer-cm", "gltf-2"],
    destination: "Share",
  });
  await runQueued();
  const { account } = (await studio.api("GET", `/deliveries/${json.id}`)).json;
  files = account.materials.flatMap((one: { files: { path: string }[]; settings: { path: string } }) => [
    ...one.files.map(({ path }) => path),
    one.settings.path,
  ]);
  expect(files.length).toBeGreaterThan(3);
});
afterAll(() => studio.close());

async function check(mends = false) {
  const asked = await studio.api("POST", `/destinations/${share.id}/check`, { mends });
  expect([asked.status, asked.json.state]).toEqual([202, "looking"]);
  await runQueued();
  return (await studio.api("GET", `/destinations/${share.id}/check`)).json;
}

describe("a look through a destination", () => {
  beforeEach(() => check(true));

  test("finds all as it was delivered", async () => {
    expect(await check()).toMatchObject({
      state: "done",
      failure: null,
      files: files.length,
      lookedAt: files.length,
      missing: 0,
      changed: 0,
      foreign: 0,
      findings: [],
    });
  });

  test("finds what is missing, changed, or somebody else's, and writes again what is ours alone", async () => {
    const [gone, other, link] = files;
    const before = await readFile(join(root, other));
    await rm(join(root, gone));
    await writeFile(join(root, other), "painted over");
    await rm(join(root, link));
    await writeFile(join(root, "..", "secret"), before);
    await symlink(join(root, "..", "secret"), join(root, link));
    await mkdir(join(root, "notes"), { recursive: true });
    await writeFile(join(root, "notes", "todo.txt"), "of a colleague");
    const found = await check();
    expect(found).toMatchObject({ missing: 1, changed: 2, foreign: 1, written: 0 });
    expect(
      found.findings.map(({ path, state }: { path: string; state: string }) => [state, path]).sort(),
    ).toEqual(
      [
        ["missing", gone],
        ["changed", other],
        ["changed", link],
        ["foreign", "notes/todo.txt"],
      ].sort(),
    );
    expect(found.findings.find((one: { path: string }) => one.path === gone).material.name).toMatch(/oak/i);

    const mended = await check(true);
    expect(mended).toMatchObject({ missing: 1, changed: 2, foreign: 1, written: 3 });
    expect(await readFile(join(root, other))).toEqual(before);
    expect(await check()).toMatchObject({ missing: 0, changed: 0, foreign: 1, written: 0 });
    expect(await readFile(join(root, "notes", "todo.txt"), "utf8")).toBe("of a colleague");
    await rm(join(root, "notes"), { recursive: true });
  });

  test("makes no folder, and says in words that a destination is not there", async () => {
    await rename(root, `${root}.away`);
    const found = await check();
    expect(found).toMatchObject({ state: "failed", missing: 0 });
    expect(found.failure).toMatch(/“Share” is not there any more.*check it again/);
    await expect(readFile(root)).rejects.toThrow(/ENOENT/);
    await rename(`${root}.away`, root);
    expect(await check()).toMatchObject({ state: "done", missing: 0 });
  });

  test("is one at a time, and begun anew after it was broken off", async () => {
    const asked = await studio.api("POST", `/destinations/${share.id}/check`, {});
    const again = await studio.api("POST", `/destinations/${share.id}/check`, {});
    expect([again.status, again.json.detail]).toEqual([
      409,
      "The destination “Share” is being looked through already.",
    ]);
    await rm(join(root, files[0]));
    const { runCheck } = await import("#server/destination/check");
    const { beginCheck, keepFindings } = await import("#server/destination/checkSql");
    const { database } = await import("#server/db/database");
    // As a crash would leave it.
    await beginCheck(database(), asked.json.id, 2);
    await keepFindings(database(), asked.json.id, {
      findings: [{ path: "left/over.png", state: "missing", isWritten: false }],
      lookedAt: 1,
      foreign: 3,
    });
    await runCheck(asked.json.id);
    await runQueued();
    const found = (await studio.api("GET", `/destinations/${share.id}/check`)).json;
    expect(found).toMatchObject({ missing: 1, foreign: 0, lookedAt: files.length });
  });

  test("is asked for by whoever may make, of what there is", async () => {
    const { token } = await studio.addPerson("look");
    expect((await studio.api("POST", `/destinations/${share.id}/check`, {}, { token })).status).toBe(403);
    const nowhere = "00000000-0000-4000-8000-000000000000";
    expect((await studio.api("POST", `/destinations/${nowhere}/check`, {})).status).toBe(404);
    const empty = (await studio.api("POST", "/destinations", { name: "Empty", folder: "empty" })).json;
    expect((await studio.api("GET", `/destinations/${empty.id}/check`)).status).toBe(404);
    await studio.api("POST", `/destinations/${empty.id}/check`, {});
    await runQueued();
    expect((await studio.api("GET", `/destinations/${empty.id}/check`)).json).toMatchObject({
      state: "done",
      files: 0,
    });
  });
});
