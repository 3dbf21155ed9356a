import { describe, expect, test } from "@jest/globals";
import { closeUpNotes } from "#core/convert/closeUp";
import { planConversion } from "#core/convert/plan";
import { summedPlans } from "#core/convert/planSummary";
import { glossPathTracer } from "#core/convert/profiles/glossPathTracer";
import { packedWalkthrough } from "#core/convert/profiles/packedWalkthrough";
import { finishSchema, type Finish } from "#core/finish/finish";
import type { MaterialState } from "#core/finish/material";
import type { Role } from "#core/roles/roles";

function material(n: number, side: number, finish: Partial<Finish> = {}, sized = true): MaterialState {
  const roles: Role[] = ["base_color", "specular_roughness", "geometry_normal"];
  return {
    id: String(n),
    code: `M${n}`,
    name: `Slate ${n}`,
    fileName: `slate-${n}`,
    revision: 1,
    layout: "repeating",
    repeat: sized ? { width: 900 + n, height: 600 } : null,
    sizeState: sized ? "known" : "unknown",
    finish: finishSchema.parse(finish),
    maps: roles.map((role) => ({
      role,
      sha256: `${role}-${n}`,
      channel: "color",
      fileName: `${role}.png`,
      normalDirection: role === "geometry_normal" ? "+Y" : null,
      width: side,
      height: side,
      bitDepth: 8,
      channels: 3,
    })),
  };
}
const plansOf = (materials: MaterialState[]) =>
  materials.flatMap((one) =>
    [glossPathTracer, packedWalkthrough].map((profile) => planConversion(one, profile)),
  );

describe("what is to be known before a delivery", () => {
  const five = [1, 2, 3, 4, 5].map((n) => material(n, 512, n === 3 ? { fuzzWeight: 0.5 } : {}, n !== 5));
  const { materials, files, look, notCarried, groups } = summedPlans(plansOf([...five, material(6, 1024)]));

  test("counts materials and files, and puts together what becomes of alike ones", () => {
    expect([materials, files]).toEqual([6, 36]);
    expect(groups.map(({ profile, count }) => [profile, count])).toEqual([
      [glossPathTracer.id, 5],
      [packedWalkthrough.id, 5],
      [glossPathTracer.id, 1],
      [packedWalkthrough.id, 1],
    ]);
    expect(groups[0].files.map(({ slot }) => slot)).toEqual(["base colour", "gloss", "normal"]);
    expect(groups[0].members.map(({ name, picture }) => [name, picture])).toEqual(
      five.map(({ name }, at) => [name, { sha256: `base_color-${at + 1}`, channel: "color" }]),
    );
  });

  test("says each note once, with the materials that it is about", () => {
    const unknown = look.find(({ text }) => text.startsWith("The size is unknown"))!;
    expect([unknown.count, unknown.of]).toEqual([1, ["Slate 5"]]);
    const all = look.find(({ text }) => text.includes("came with 8 bits"))!;
    expect([all.count, all.of]).toEqual([6, ["Slate 1", "Slate 2", "Slate 3", "Slate 4"]]);
    expect(look[0].count).toBe(6);
    expect(notCarried).toEqual([
      expect.objectContaining({ text: expect.stringMatching(/^fuzz 0.5/), count: 1, of: ["Slate 3"] }),
    ]);
  });

  test("joins notes that differ in a number or a file's name alone, and keeps one that stands by itself whole", () => {
    const coated = (n: number) => material(n, 512, { fuzzWeight: n / 10 });
    const [joined] = summedPlans(plansOf([coated(1), coated(2), coated(3)])).notCarried;
    expect(joined).toMatchObject({ text: "fuzz …: this renderer has no input for it.", count: 3 });
    const [single] = summedPlans(plansOf([coated(4)])).notCarried;
    expect(single.text).toBe("fuzz 0.4: this renderer has no input for it.");
  });

  test("guesses the bytes from the pixels", () => {
    const bytes = (side: number) => summedPlans(plansOf([material(1, side)])).bytes;
    expect(bytes(1024) / bytes(512)).toBeCloseTo(4, 4);
    expect(bytes(512)).toBeGreaterThan(512 * 512);
  });

  test("of two thousand materials stays small enough to be sent", () => {
    const many = Array.from({ length: 2000 }, (_, n) => material(n, 512, {}, n % 7 !== 0));
    const summary = summedPlans(plansOf(many));
    expect(summary.groups.map(({ count }) => count)).toEqual([2000, 2000]);
    expect(JSON.stringify(summary).length).toBeLessThan(60_000);
  });
});

describe("close to the project's camera", () => {
  const camera = { widthPx: 3840, angleDegrees: 60 };
  const noteOf = (one: MaterialState, maxPixels?: number) =>
    closeUpNotes(planConversion(one, glossPathTracer, { maxPixels }), camera);

  test("what is delivered is said to be coarse from nearer than where it has a pixel for each", () => {
    // 0.9 m across 4096 px are 4,551 px a metre; the camera has 3,326 of them at a metre.
    expect(noteOf(material(0, 4096))).toEqual([]);
    // Reduced to 1024 px, 1,138 a metre: from 2.9 m on.
    expect(noteOf(material(0, 4096), 1024)).toEqual([
      "With 1024 × 1024 px it is sharp from 2.9 m on in the project's pictures (3840 px at 60°); nearer it is coarser than they are.",
    ]);
    expect(noteOf(material(0, 256, {}, false))).toEqual([]);
  });
});
