import { describe, expect, test } from "@jest/globals";
import { matchArrived } from "./matchArrived";
import { readAcceptOptions, readChoices } from "./readChoices";
import { titleOf } from "./titleOf";

describe("what was set in the review", () => {
  const ids = ["0b7cf7a4-9a1b-4d3e-8a55-1f6a3f1f0a01", "0b7cf7a4-9a1b-4d3e-8a55-1f6a3f1f0a02"];
  test("one row, the rows shown, or all that wait", () => {
    const form = new FormData();
    form.append("candidate", ids[0]);
    form.set(`${ids[0]}/role/dir/a.png`, "roughness");
    form.set(`${ids[0]}/name`, "Oak");
    form.set(`${ids[0]}/name-read`, "Oak");
    form.set(`${ids[0]}/licence`, "on");
    form.set(`${ids[0]}/clash`, "skip");
    expect(readChoices(form, ids)).toEqual([
      { id: ids[0], roles: { "dir/a.png": "specular_roughness" }, onClash: "skip", licence: true },
    ]);
    form.set("what", "all");
    expect(readChoices(form, ids)).toHaveLength(2);
    form.set("only", ids[1]);
    expect(readChoices(form, ids)).toEqual([{ id: ids[1], roles: {} }]);
  });

  test("collections and a name rule only where they are switched on", () => {
    const form = new FormData();
    form.set("nameRule", "Name 01");
    form.set("level", "2");
    form.set("thin", "3");
    expect(readAcceptOptions(form)).toEqual({});
    form.set("into", " Yard ");
    expect(readAcceptOptions(form)).toEqual({ into: "Yard" });
    form.set("into", "x".repeat(201));
    expect(() => readAcceptOptions(form)).toThrow("200 characters");
    form.set("into", "");
    form.set("useRule", "on");
    form.set("useFolders", "on");
    expect(readAcceptOptions(form)).toEqual({
      nameRule: "Name 01",
      keepRule: false,
      collections: { level: 2, thin: 3 },
    });
  });
});

test("files picked again find their places, and new ones come after", () => {
  const files = [
    { name: "c", bytes: 3 },
    { name: "a", bytes: 1 },
    { name: "b", bytes: 2 },
  ];
  const { ordered, missing } = matchArrived(files, [
    { position: 0, name: "a", bytes: 1 },
    { position: 2, name: "gone", bytes: 9 },
  ]);
  expect(ordered.map((file) => file?.name)).toEqual(["a", "c", undefined, "b"]);
  expect(missing).toBe(1);
});

test.each([
  [{ files: 2, firstFiles: ["a.zip", "b.zip"], root: null }, "a.zip, b.zip"],
  [{ files: 4, firstFiles: ["s/1", "s/2", "s/3"], root: "s" }, "s/ (4 files)"],
  [{ files: 4, firstFiles: ["1", "2", "3"], root: null }, "4 files"],
  [{ files: 2, firstFiles: ["s/1", "t/2"], root: null }, "s/1, t/2"],
  [{ files: 1, firstFiles: ["s/1"], root: "s" }, "s/1"],
])("an intake of %j is called %s", (intake, title) => {
  expect(titleOf(intake)).toBe(title);
});
