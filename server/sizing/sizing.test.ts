import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { brick } from "#core/pattern/brick";
import { renderPattern } from "#core/pattern/patternSet";
import { runChange } from "#server/change/run";
import { database } from "#server/db/database";
import { encode } from "#server/pixels/encode";
import { findSureSizes } from "#server/sizing/sheet";
import { listSharers } from "#server/sizing/sharers";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

async function wall(seed: number): Promise<Buffer> {
  const { surface, repeat } = brick({
    ...{ seed, brick: { width: 215, height: 65 }, joint: 10, across: 3, courses: 8 },
    ...{ colors: ["#9c4a34", "#7d3f2f"], mortar: "#c4bbad", recess: 4, roughness: 0.4 },
  });
  const set = renderPattern(surface, { repeat, widthPx: 405, heightPx: 360 });
  return encode(set.base_color, "png");
}

async function accept(files: Record<string, Buffer>): Promise<string[]> {
  const intake = await takeIn(studio, files);
  const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  return json.materials.map(({ id }: { id: string }) => id);
}

const sheet = async (query = "") => (await studio.api("GET", `/sizes?${query}`)).json;

test("a sheet proposes sizes once it has counted, and what was taken is proposed to its kin", async () => {
  const [mill, other] = await accept({
    "mill_brick_215x65_basecolor.png": await wall(1),
    "weir_brick_basecolor.png": await wall(2),
  });
  await accept({ "render_basecolor.png": await picture("#cccccc", 64) });
  expect((await sheet()).total).toBe(3);
  await runQueued();
  type Item = { id: string; isCounting: boolean; proposals: { size: object; isSure: boolean }[] };
  const { items }: { items: (Item & { alike: string[] })[] } = await sheet();
  // Two walls of one brick, by their pictures; the render shows nothing.
  expect(items.map(({ alike }) => alike)).toEqual(
    items.map(({ id }) => (id === mill ? [other] : id === other ? [mill] : [])),
  );
  const of = (id: string) => items.find((item) => item.id === id)!;
  expect(of(mill).isCounting).toBe(false);
  const [first] = of(mill).proposals;
  expect(first).toMatchObject({
    ...{ size: { method: "modules", across: 3, up: 8 }, isSure: true },
    repeat: { width: 675, height: 600 },
  });
  expect(of(other).proposals.map(({ isSure }) => isSure)).not.toContain(true);

  // Of all pages, what nobody has to look at.
  expect(await findSureSizes(database(), {})).toMatchObject({
    ...{ takes: [{ material: mill, method: first.size }], looked: 3, total: 3, counting: 0 },
  });

  // Taken as it is proposed, word for word. The other one looks like it.
  const asked = { kind: "size", items: [{ material: mill, size: first.size }] };
  await runChange((await studio.api("POST", "/changes", asked)).json.id);
  const after = await sheet("family=brick");
  expect(after.items.map(({ id }: Item) => id)).toEqual([other]);
  expect(after.items[0].proposals[0]).toMatchObject({
    ...{ reason: { by: "alike" }, repeat: { width: 675, height: 600 } },
  });
  // Boards may look so, and are not made like that.
  await studio.api("PATCH", `/materials/${other}/facts`, { family: "timber" });
  const { items: boards } = await sheet("family=timber");
  expect(boards[0].proposals.map(({ reason }: { reason: { by: string } }) => reason.by)).not.toContain(
    "alike",
  );
});

test("the sheet of one intake shows what came with it", async () => {
  const [id] = await accept({ "alone_basecolor.png": await picture("#88aacc", 64) });
  const { source } = (await studio.api("GET", `/materials/${id}`)).json;
  expect(await sheet(`intake=${source.intake}`)).toMatchObject({ total: 1, items: [{ id }] });
  expect((await sheet("intake=nothing")).status ?? 422).toBe(422);
});

test("whoever took a size shares it: from the material, or in the same act; not who has another one since", async () => {
  const [one, taker, beside, moved] = await accept({
    "a_basecolor.png": await picture("#102030", 64),
    "b_basecolor.png": await picture("#302010", 64),
    "c_basecolor.png": await picture("#203010", 64),
    "d_basecolor.png": await picture("#501030", 64),
  });
  const size = { method: "modules", across: 2, up: 2, workSize: { width: 197, height: 197 }, joint: 3 };
  const items = [one, beside, moved].map((material) => ({ material, size }));
  await runChange((await studio.api("POST", "/changes", { kind: "size", items })).json.id);
  await studio.api("POST", `/materials/${one}/hand-on`, { materials: [taker] });
  await studio.api("PUT", `/materials/${moved}/repeat`, { method: "size", width: 900 });
  const sharers = await listSharers(database(), one);
  expect(sharers.map(({ id }) => id).sort()).toEqual([taker, beside].sort());
});

test("a format of the studio's own comes first, is proposed, and has a name of its own", async () => {
  const own = { name: "Long stock", kind: "brick", workSize: { width: 225, height: 75 }, joint: 0 };
  const { json: made } = await studio.api("POST", "/formats", own);
  expect((await studio.api("POST", "/formats", own)).json.pointer).toBe("/name");
  expect((await studio.api("GET", "/formats")).json.items[0]).toMatchObject(own);
  for (const wrong of [
    { ...own, name: "None", workSize: undefined },
    { ...own, name: "Both", coverSize: { width: 10 } },
    { ...own, name: "Thin", workSize: { width: 0 } },
    { ...own, name: "Empty", workSize: {} },
  ])
    expect((await studio.api("POST", "/formats", wrong)).status).toBe(422);
  expect((await studio.api("DELETE", `/formats/${made.id}`)).status).toBe(200);
  expect((await studio.api("DELETE", `/formats/${made.id}`)).status).toBe(404);
});
