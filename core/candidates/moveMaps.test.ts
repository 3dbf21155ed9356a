import { expect, test } from "@jest/globals";
import type { CandidateMap, CandidateRole } from "#core/candidates/candidate";
import { movedMaps, nameOfFile } from "#core/candidates/moveMaps";

const map = (file: string, role: CandidateRole, more: Partial<CandidateMap> = {}) => ({
  ...{ file, role, channel: "color" as const, likely: [], confidence: 0.9, leftOut: false },
  ...more,
});

test("a role that the set has already is asked, the likeliest first; another one stays", () => {
  const moved = movedMaps(
    [map("a.png", "gloss", { likely: ["height", "gloss"] }), map("b.png", "height")],
    [map("c.png", "base_color"), map("d.png", "gloss")],
  );
  expect(moved).toMatchObject([
    { file: "a.png", role: "unknown", likely: ["gloss", "height"] },
    { file: "b.png", role: "height", confidence: 0.9 },
  ]);
  // Nor do two that are moved together share one.
  expect(
    movedMaps([map("a.png", "gloss"), map("b.png", "gloss")], [map("c.png", "base_color")]),
  ).toMatchObject([{ role: "gloss" }, { role: "unknown" }]);
});

test("alone, a picture that nothing is known of has the colours; what is known stays what it is", () => {
  expect(
    movedMaps([map("a.png#alpha", "unknown", { channel: "alpha" }), map("a.png", "unknown")], []),
  ).toMatchObject([{ role: "unknown" }, { role: "base_color", confidence: 0 }]);
  expect(movedMaps([map("a.png", "height")], [])).toMatchObject([{ role: "height" }]);
  expect(movedMaps([map("a.png", "unknown")], [map("b.png", "height")])).toMatchObject([{ role: "unknown" }]);
});

test("a file whose channels are maps of their own does not become the colours of a set", () => {
  const apart = [
    map("a.png", "unknown", { leftOut: true }),
    map("a.png#red", "ambient_occlusion", { channel: "red" }),
    map("a.png#green", "unknown", { channel: "green" }),
  ];
  expect(movedMaps(apart, [])).toEqual(apart);
});

test.each([
  ["zip/oak board_02.png", "Oak board 02"],
  ["____.png", "____"],
])("a set that begins with %s is called %s", (file, name) => expect(nameOfFile(file)).toBe(name));
