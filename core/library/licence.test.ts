import { describe, expect, test } from "@jest/globals";
import { licenceNotes } from "#core/library/licence";

const licence = { name: "Bought", project: null, projectName: null, endsOn: null, credit: null };
const use = { project: "p1", today: "2026-05-10" };

describe("what is told of a licence", () => {
  test("nothing, where it is for all projects and for ever", () => {
    expect(licenceNotes(licence, use)).toEqual({ warnings: [], steps: [] });
  });

  test.each([
    ["2026-05-09", "The licence “Bought” ended on 2026-05-09."],
    ["2026-05-10", "The licence “Bought” ends on 2026-05-10."],
    ["2026-07-09", "The licence “Bought” ends on 2026-07-09."],
    ["2026-07-10", undefined],
  ])("its last day, %s, where that is past or near", (endsOn, said) => {
    expect(licenceNotes({ ...licence, endsOn }, use).warnings).toEqual(said === undefined ? [] : [said]);
  });

  test("that it is for one project, wherever else it is used", () => {
    const one = { ...licence, project: "p1", projectName: "Ferry landing" };
    expect(licenceNotes(one, use).warnings).toEqual([]);
    for (const project of ["p2", null])
      expect(licenceNotes(one, { ...use, project }).warnings).toEqual([
        "The licence “Bought” is for the project Ferry landing alone.",
      ]);
  });

  test("whom to name is something left to do", () => {
    expect(licenceNotes({ ...licence, credit: "Osterling Tile" }, use).steps).toEqual([
      "Name Osterling Tile where pictures with it are shown.",
    ]);
  });
});
