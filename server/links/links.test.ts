import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
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
