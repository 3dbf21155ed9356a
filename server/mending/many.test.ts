import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { cropped, sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const material = async (id: string) => studio.ask("GET", `/materials/${id}`);

test("many are mended, looked at, kept in one act, and as they were when that is undone", async () => {
  const { base_color } = sampleSet("brick");
  const intake = await takeIn(studio, {
    "yard_basecolor.png": await encode(cropped(base_color, 13, 17, 229, 213), "png"),
    "lane_basecolor.png": await encode(cropped(base_color, 5, 11, 201, 230), "png"),
    "whole_basecolor.png": await encode(base_color, "png"),
  });
  const accepted = await studio.ask("POST", `/intakes/${intake.id}/accept`, {
    all: true,
    onClash: "keep-both",
  });
  const idOf = (name: string): string =>
    accepted.materials.find((one: { name: string }) => one.name.toLowerCase() === name).id;
  const ids = ["yard", "lane", "whole"].map(idOf);
  const plain = (await studio.ask("POST", "/materials", { name: "Flat", layout: "plain", color: "#888888" }))
    .id;

  const asked = { materials: [...ids, plain], kind: "seams" };
  const started = await studio.ask("POST", "/mends", asked);
  // What tiles is left alone, and what has no maps cannot be mended.
  expect(started).toEqual({
    ...{ started: 2, fine: 1 },
    refused: [{ id: plain, name: "Flat", reason: expect.stringContaining("no map") }],
  });
  // While they are under way, nobody begins a second one.
  const again = await studio.ask("POST", "/mends", asked);
  expect([again.started, again.refused.length]).toEqual([0, 3]);
  await runQueued();
  const { items } = await studio.ask("GET", "/mends");
  expect(items.map((one: { material: { name: string } }) => one.material.name.toLowerCase()).sort()).toEqual([
    "lane",
    "yard",
  ]);
  for (const { before, after } of items) expect(after.width).toBeLessThan(before.width);

  // Somebody saves one of them meanwhile: what was mended is not of that any more.
  const [yard, lane, whole] = ids;
  await studio.ask("PUT", `/materials/${lane}/repeat`, { method: "size", width: 700 });
  const change = await studio.ask("POST", "/changes", { kind: "mend", materials: ids });
  await runQueued();
  const done = await studio.ask("GET", `/changes/${change.id}`);
  const states = Object.fromEntries(
    done.items.map((one: { material: string; state: string }) => [one.material, one.state]),
  );
  expect(states).toEqual({ [yard]: "changed", [lane]: "refused", [whole]: "same" });
  expect((await material(yard)).revision).toBe(2);
  // It can be discarded alone.
  const [left, ...others] = (await studio.ask("GET", "/mends")).items;
  expect(others).toEqual([]);
  expect(left).toMatchObject({ fromRevision: 1, material: { id: lane, revision: 2 } });
  await studio.ask("DELETE", `/materials/${lane}/mends/${left.id}`);
  expect((await studio.ask("GET", "/mends")).items).toEqual([]);
  await studio.ask("POST", `/changes/${change.id}/undo`);
  await runQueued();
  const back = await material(yard);
  expect([back.revision, back.maps[0].width]).toEqual([3, 229]);
});
