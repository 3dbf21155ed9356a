import { describe, expect, test } from "@jest/globals";
import { countShown, filterCandidates, isShown } from "./filterCandidates";
import { matchArrived } from "./matchArrived";
import { readAcceptOptions, readChoices } from "./readChoices";
import { titleOf } from "./titleOf";

const candidate = (name: string, more: Partial<Parameters<typeof countShown>[0][number]> = {}) => ({
  name,
  state: "waiting" as const,
  folder: "",
  findings: [],
  clashes: [],
  maps: [{ file: `${name}.png`, role: "base_color" as const }],
  ...more,
});

describe("which candidates are shown", () => {
  const all = [
    candidate("Oak", { folder: "Wood/Old" }),
    candidate("Elm", { findings: [{ level: "wrong", code: "seam", message: "" }] }),
    candidate("Ash", { state: "accepted", maps: [{ file: "ash.png", role: "unknown" }] }),
    candidate("Fir", {
      maps: [{ file: "fir_s.png", role: "unknown" }],
      clashes: [{ id: "1", name: "Fir", same: "name" }],
    }),
  ];
  test("by the words of the sentence and by what was typed", () => {
    const names = (...args: [Parameters<typeof filterCandidates>[1], string]) =>
      filterCandidates(all, ...args).map(({ name }) => name);
    expect(names("all", "")).toHaveLength(4);
    expect(names("asked", "")).toEqual(["Fir"]);
    expect(names("look", "")).toEqual(["Elm"]);
    expect(names("all", "wood OLD")).toEqual(["Oak"]);
    expect(names("waiting", "png f")).toEqual(["Elm", "Fir"].filter((name) => name === "Fir"));
    expect(countShown(all)).toMatchObject({ all: 4, waiting: 3, accepted: 1, clash: 1, wrong: 1 });
    expect(isShown("constructor")).toBe(false);
  });
});

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

test("an intake is called after its files", () => {
  expect(titleOf(["a.zip", "b.zip"])).toBe("a.zip, b.zip");
  expect(titleOf(["s/1", "s/2", "s/3", "s/4"])).toBe("s/ (4 files)");
  expect(titleOf(["1", "2", "3", "4"])).toBe("4 files");
});
