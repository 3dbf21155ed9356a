import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { cropped, sampleSet } from "#core/judge/testing";
import type { Raster } from "#core/raster/raster";
import { encode } from "#server/images/encode";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const part = (map: Raster) => encode(cropped(map, 13, 17, 229, 213), "png");

async function takeCropped(name: string): Promise<string> {
  const set = sampleSet("brick");
  const intake = await takeIn(studio, {
    [`${name}_basecolor.png`]: await part(set.base_color),
    [`${name}_normal_gl.png`]: await part(set.geometry_normal),
    [`${name}_height.png`]: await part(set.height),
  });
  const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  return json.materials[0].id;
}

async function mended(id: string, recipe: unknown) {
  const { json, status } = await studio.api("POST", `/materials/${id}/mends`, recipe);
  expect(status).toBe(202);
  const { runMend } = await import("#server/library/mend");
  await runMend(json.id);
  return { id: json.id as string, mend: (await studio.api("GET", `/materials/${id}/mends`)).json.items[0] };
}

describe("a mend", () => {
  test("makes a new revision with a shorter repeat at the same density; the one before keeps its maps", async () => {
    const id = await takeCropped("yard");
    await studio.api("PUT", `/materials/${id}/repeat`, { method: "size", width: 1000 });
    const before = (await studio.api("GET", `/materials/${id}`)).json;
    const { mend } = await mended(id, { kind: "seams" });
    expect(mend).toMatchObject({ state: "done", fromRevision: 2, toRevision: 3 });
    expect(mend.figures.after.seam).toBeLessThan(mend.figures.before.seam);
    const after = (await studio.api("GET", `/materials/${id}`)).json;
    expect(after.revision).toBe(3);
    const base = after.maps.find(({ role }: { role: string }) => role === "base_color");
    expect(base.width).toBe(229 - mend.figures.overlap.across);
    expect(base.width / after.repeat.width).toBeCloseTo(229 / before.repeat.width, 6);
    expect(
      new Set(after.maps.map(({ width, height }: { width: number; height: number }) => `${width} ${height}`))
        .size,
    ).toBe(1);
    const height = after.maps.find(({ role }: { role: string }) => role === "height");
    expect(height.bitDepth).toBe(
      before.maps.find(({ role }: { role: string }) => role === "height").bitDepth,
    );
    const old = (await studio.api("GET", `/materials/${id}?revision=2`)).json;
    expect(old.maps).toEqual(before.maps);
  });

  test("run twice, as after a crash, is done once", async () => {
    const id = await takeCropped("court");
    const { id: mend } = await mended(id, { kind: "even-out" });
    const { runMend } = await import("#server/library/mend");
    await runMend(mend);
    expect((await studio.api("GET", `/materials/${id}`)).json.revision).toBe(2);
  });

  test("of a material that somebody saved meanwhile is not forced on it", async () => {
    const id = await takeCropped("lane");
    const { json } = await studio.api("POST", `/materials/${id}/mends`, { kind: "seams", down: false });
    expect((await studio.api("POST", `/materials/${id}/mends`, { kind: "even-out" })).status).toBe(409);
    await studio.api("PATCH", `/materials/${id}`, { finish: { roughness: 0.3 } });
    const { runMend } = await import("#server/library/mend");
    await runMend(json.id);
    const [mend] = (await studio.api("GET", `/materials/${id}/mends`)).json.items;
    expect(mend).toMatchObject({ state: "failed", failure: expect.stringContaining("in the meantime") });
    expect((await studio.api("GET", `/materials/${id}`)).json.finish.roughness).toBe(0.3);
  });

  test("is refused in words where there is nothing to mend or nothing was chosen", async () => {
    const plain = (
      await studio.api("POST", "/materials", { name: "Chalk", layout: "plain", color: "#eeeeee" })
    ).json;
    expect(
      (await studio.api("POST", `/materials/${plain.id}/mends`, { kind: "seams" })).json.detail,
    ).toContain("no map");
    const id = await takeCropped("path");
    expect(
      (await studio.api("POST", `/materials/${id}/mends`, { kind: "seams", across: false, down: false }))
        .status,
    ).toBe(422);
    const looker = await studio.addPerson("look");
    expect(
      (await studio.api("POST", `/materials/${id}/mends`, { kind: "seams" }, { token: looker.token })).status,
    ).toBe(403);
  });

  test("of maps that differ in size fails with the reason, in the worker's way", async () => {
    const set = sampleSet("brick");
    const intake = await takeIn(studio, {
      "odd_basecolor.png": await encode(set.base_color, "png"),
      "odd_ao.png": await picture("#cccccc", 64),
    });
    const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
    const { id } = (await studio.api("POST", `/materials/${json.materials[0].id}/mends`, { kind: "seams" }))
      .json;
    const { runMend, failMend } = await import("#server/library/mend");
    await expect(runMend(id)).rejects.toThrow("differ in size");
    await failMend(id, "The maps differ in size.");
    expect((await studio.api("GET", `/materials/${json.materials[0].id}/mends`)).json.items[0].state).toBe(
      "failed",
    );
  });
});
