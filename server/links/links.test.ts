import { copyFile, mkdir } from "node:fs/promises";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";
import type { CheckedLink } from "#server/links/checkLinks";

let studio: TestStudio;
let oak: string;
let file: string;
beforeAll(async () => {
  studio = await openTestStudio();
  const intake = await takeIn(studio, { "oak_color.png": await picture("#804020") });
  oak = (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
  const share = (await studio.api("POST", "/destinations", { name: "Share", folder: "share" })).json;
  const paths = [
    { system: "Windows", path: "S:\\Textures" },
    { system: "Macs", path: "/Volumes/textures" },
  ];
  const set = await studio.api("PATCH", `/destinations/${share.id}`, { paths });
  expect(set.json.paths).toEqual(paths);
  const { json } = await studio.api("POST", "/deliveries", {
    materials: [oak],
    profiles: ["gloss-path-tracer-cm"],
    destination: "Share",
  });
  const { runDelivery } = await import("#server/delivery/run");
  await runDelivery(json.id);
  const { account } = (await studio.api("GET", `/deliveries/${json.id}`)).json;
  expect(account.destination).toEqual({ name: "Share", folder: "share", paths });
  file = account.materials[0].files[0].path;
});
afterAll(() => studio.close());

const check = async (...paths: string[]): Promise<CheckedLink[]> =>
  (await studio.api("POST", "/links/check", { paths })).json.items;

describe("links", () => {
  test("lead where they say, on any machine; or elsewhere by their name; or are not known", async () => {
    const backward = file.replaceAll("/", "\\");
    const name = file.replace(/^.*\//, "");
    const found = await check(
      `S:\\Textures\\${backward}`,
      `/Volumes/textures/${file}`,
      `D:\\old\\${name}`,
      `/Users/joost/Downloads/${name.toUpperCase()}`,
      "S:\\Textures\\nothing.png",
      "",
    );
    expect(found.map(({ state }) => state)).toEqual([
      "there",
      "there",
      "moved",
      "moved",
      "unknown",
      "unknown",
    ]);
    expect(found.map(({ now }) => now)).toEqual([
      null,
      null,
      `S:\\Textures\\${backward}`,
      `/Volumes/textures/${file}`,
      null,
      null,
    ]);
    expect(found[0].destination).toBe("Share");
  });

  test("say that a material has a newer revision than lies there", async () => {
    await studio.api("PUT", `/materials/${oak}/repeat`, { method: "size", width: 900, height: 900 });
    expect((await check(`S:\\Textures\\${file.replaceAll("/", "\\")}`))[0].state).toBe("replaced");
  });

  test("are refused where there are none, or too many", async () => {
    expect((await studio.api("POST", "/links/check", { paths: [] })).status).toBe(422);
    const many = Array.from({ length: 20_001 }, () => "x");
    expect((await studio.api("POST", "/links/check", { paths: many })).status).toBe(422);
    const [{ path }] = await check("x".repeat(1000));
    expect(path).toHaveLength(1000);
  });
});

describe("a list of links", () => {
  const handIn = (name: string, text: string) =>
    studio.api("POST", `/links/lists?name=${encodeURIComponent(name)}`, Buffer.from(text));

  test("is looked for by the worker, and comes back as a table of old and new paths", async () => {
    const name = file.replace(/^.*\//, "");
    const own = { name: "=oak.png", inside: "copies/renamed.png" };
    const { settings } = await import("#server/settings");
    const root = join(settings().destinationsFolder, "share");
    await mkdir(join(root, "copies"), { recursive: true });
    await copyFile(join(root, file), join(root, own.inside));
    const asked = await handIn(
      "hall.csv",
      [
        `S:\\Textures\\${file}`,
        `D:\\old\\${name}`,
        `/Volumes/textures/${own.inside}`,
        own.name,
        `../${file}`,
      ].join("\n"),
    );
    expect(asked).toMatchObject({ status: 202, json: { state: "reading", name: "hall.csv" } });
    await (await import("#server/links/list")).runLinkList(asked.json.id);
    const { json } = await studio.api("GET", `/links/lists/${asked.json.id}`);
    expect(json).toMatchObject({ state: "done", found: 5, lookedAt: 5, leftOut: 0 });
    // A revision ago: the test before has changed the material.
    expect(json.counts).toEqual({ replaced: 2, moved: 2, unknown: 1 });
    const { fileStore } = await import("#server/store/store");
    const table = (await fileStore().read(json.result)).toString("utf8").split("\r\n");
    expect(table[0]).toBe("\uFEFFpath,state,destination,now");
    expect(table).toContain(`/Volumes/textures/${own.inside},moved,Share,/Volumes/textures/${file}`);
    expect(table).toContain("'=oak.png,unknown,,");
    expect(table).toContain(`../${file},replaced,Share,`);
    expect((await studio.api("GET", "/links/lists")).json.items[0].id).toBe(json.id);
  });

  test("that names nothing fails in words, and may be deleted", async () => {
    const { id } = (await handIn("empty.txt", "\n")).json;
    await runQueued();
    const { json } = await studio.api("GET", `/links/lists/${id}`);
    expect([json.state, json.failure]).toEqual([
      "failed",
      "The list cannot be checked: It names no files. A list has one path a line, or cells with paths in a table.",
    ]);
    expect((await studio.api("DELETE", `/links/lists/${id}`)).status).toBe(200);
    expect((await studio.api("GET", `/links/lists/${id}`)).status).toBe(404);
    expect((await studio.api("DELETE", `/links/lists/${id}`)).status).toBe(404);
  });

  test("is refused without a name or content, and counts against what one person may hand in a day", async () => {
    expect((await handIn("", "x")).status).toBe(422);
    expect((await handIn("a.txt", "")).status).toBe(400);
    const { bytesOfDay } = await import("#server/intake/receiving/sql");
    const { database } = await import("#server/db/database");
    const before = await bytesOfDay(database(), studio.person.id);
    await handIn("a.txt", "x".repeat(500));
    expect((await bytesOfDay(database(), studio.person.id)) - before).toBe(500);
  });
});

test("where a destination lies is refused where it is no path, or said twice for one kind of machine", async () => {
  const [{ id }] = (await studio.api("GET", "/destinations")).json.items;
  const set = (paths: unknown) => studio.api("PATCH", `/destinations/${id}`, { paths });
  expect((await set([{ system: "W", path: 'S:\\"x"' }])).json.detail).toMatch(/quotation marks/);
  const twice = await set([
    { system: "Windows", path: "S:" },
    { system: "windows", path: "T:" },
  ]);
  expect([twice.status, twice.json.detail]).toEqual([422, "“windows” is there twice."]);
  expect((await studio.api("GET", "/destinations")).json.items[0].paths).toHaveLength(2);
});
