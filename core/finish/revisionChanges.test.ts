import { expect, test } from "@jest/globals";
import { finishSchema } from "#core/finish/finish";
import { revisionChanges, type RevisionState } from "#core/finish/revisionChanges";

const map = (role: "base_color" | "height" | "geometry_normal", sha256: string) => ({
  role,
  sha256,
  channel: "color" as const,
  width: 64,
  height: 64,
  normalDirection: role === "geometry_normal" ? ("+Y" as const) : null,
  fileName: `${role}.png`,
});
const state = (changed: Partial<RevisionState> = {}): RevisionState => ({
  finish: finishSchema.parse({ roughnessScale: 0.8 }),
  corrections: {},
  repeat: { width: 900, height: 780 },
  sizeState: "known",
  maps: [map("base_color", "a"), map("geometry_normal", "n")],
  ...changed,
});

test("a revision does not differ from itself", () => {
  expect(revisionChanges(state(), state())).toEqual({ values: [], maps: [] });
});

test("sizes, values, wear and corrections that differ are said in words", () => {
  const layer = {
    material: "8c8f1d2e-0000-4000-8000-000000000001",
    revision: 2,
    effect: "rougher" as const,
    strength: 0.25,
    polarity: "light" as const,
    on: false,
  };
  const { values } = revisionChanges(
    state({ repeat: null, sizeState: "unknown" }),
    state({
      finish: finishSchema.parse({ tint: "#ffeecc", wear: [layer] }),
      corrections: { "gltf-2": { roughnessScale: 0.7, tint: null } },
    }),
  );
  expect(values).toEqual([
    { name: "size", before: null, after: "900 × 780 mm, known" },
    { name: "tint", before: null, after: "#ffeecc" },
    { name: "roughness, scaled", before: "× 0.8", after: null },
    { name: "wear", before: null, after: "rougher 0.25, off, revision 2" },
    { name: "corrected for gltf-2", before: null, after: "roughness, scaled × 0.7, tint none" },
  ]);
});

test("maps differ that came, went, have other pixels, or are read otherwise", () => {
  const down = { ...map("geometry_normal", "n"), normalDirection: "-Y" as const };
  const { maps } = revisionChanges(
    state({ maps: [map("base_color", "a"), map("geometry_normal", "n"), map("height", "h")] }),
    state({ maps: [map("base_color", "b"), down] }),
  );
  expect(maps.map(({ role, before, after }) => [role, before?.sha256, after?.sha256])).toEqual([
    ["base_color", "a", "b"],
    ["geometry_normal", "n", "n"],
    ["height", "h", undefined],
  ]);
});
