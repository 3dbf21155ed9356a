import { expect, test } from "@jest/globals";
import { groupImages } from "#core/candidates/groupImages";
import { answeredBefore, type KeptAnswer } from "#core/candidates/keptAnswers";
import { questionsOf, type AskedCandidate } from "#core/candidates/questions";
import { image } from "#core/candidates/testing";
import type { Role } from "#core/roles/roles";

type Maps = AskedCandidate["maps"];

const map = (file: string, role: Role | "unknown", more: Partial<Maps[number]> = {}): Maps[number] => ({
  ...{ file, role, sha256: file, channel: "color", likely: [] },
  ...more,
});

const set = (id: string, maps: Maps): AskedCandidate => ({
  ...{ id, name: id, maps },
  findings: maps
    .filter(({ role, normalDirection }) => role === "geometry_normal" && !normalDirection)
    .map(({ file }) => ({ code: "normal-direction-assumed", file })),
});

const wall = set("wall", [
  map("wall_col.png", "base_color"),
  map("wall_kx.png", "unknown", { likely: ["gloss", "height"] }),
  map("wall_nrm.png", "geometry_normal"),
]);
const floor = set("floor", [
  map("floor_col_2k.png", "base_color"),
  map("floor_kx_2k.png", "unknown", { likely: ["height", "gloss"] }),
  map("floor_nrm_2k.png", "geometry_normal", { normalDirection: "+Y" }),
]);
const roof = set("roof", [
  map("roof_col.png", "base_color"),
  map("roof_kx.png", "unknown", { likely: ["height"] }),
]);

test("what ends alike is asked once, with all its files, and what is likely for most of them first", () => {
  const [first, second, ...rest] = questionsOf([wall, floor, roof]);
  expect(rest).toEqual([]);
  expect(first).toMatchObject({
    ...{ asks: "role", mark: "_kx", companions: ["_col", "_nrm"], likely: ["height", "gloss"] },
    files: [{ candidate: "wall" }, { candidate: "floor", file: "floor_kx_2k.png" }, { candidate: "roof" }],
  });
  expect(second).toMatchObject({ asks: "direction", mark: "_nrm", files: [{ candidate: "wall" }] });
});

test("a fourth channel is another question than its file, and what ends in nothing is asked for itself", () => {
  const alpha = (id: string) =>
    map(`${id}_col.png#alpha`, "unknown", { channel: "alpha", likely: ["geometry_opacity"] });
  const questions = questionsOf([
    set("a", [map("a_col.png", "unknown"), alpha("a"), map("4031.png", "unknown")]),
    set("b", [map("b_col.png", "base_color"), alpha("b"), map("4032.png", "unknown")]),
  ]);
  expect(questions.map(({ channel, mark, files }) => [channel, mark, files.length])).toEqual([
    ["alpha", "_col", 2],
    ["color", "_col", 1],
    ["color", "", 1],
    ["color", "", 1],
  ]);
});

test("of single files whose names end in no word of others, fourth channels and green are asked about at once", () => {
  const alpha = (id: string, likely: Role[] = ["geometry_opacity"]) =>
    map(`${id}.png#alpha`, "unknown", { channel: "alpha", likely });
  const plant = (id: string, ...likely: [Role[]?]) =>
    set(id, [map(`${id}.png`, "base_color"), alpha(id, ...likely)]);
  const asked = (...of: AskedCandidate[]) =>
    questionsOf(of).map(({ asks, channel, mark, files }) => [asks, channel, mark, files.length]);
  expect(asked(plant("tree_oak"), plant("tree_fern"), plant("0417"))).toEqual([["role", "alpha", "", 3]]);
  // One alone can still be kept for later files, and what is likely to be something else is another question.
  expect(asked(plant("tree_oak"), plant("0417", ["height"]))).toEqual([
    ["role", "alpha", "_oak", 1],
    ["role", "alpha", "", 1],
  ]);
  expect(asked(plant("a_col"), plant("b_col"), plant("tree_oak"), plant("tree_fern"))).toEqual([
    ["role", "alpha", "_col", 2],
    ["role", "alpha", "", 2],
  ]);
  const normal = (file: string) => set(file, [map(file, "geometry_normal")]);
  expect(asked(normal("bark_oak.png"), normal("4031.png"))).toEqual([["direction", "color", "", 2]]);
  const [one, other] = [questionsOf([plant("x")]), questionsOf([plant("x"), plant("y")])];
  expect(one[0].key).not.toBe(other[0].key);
});

test("a file may be told apart where all that share its question have three channels; those are asked in their order", () => {
  const packed = { channels: 3, reading: { color: [], alpha: null, kinship: 0.1 } };
  const alike = { channels: 3, reading: { color: [], alpha: null, kinship: 0.9 } };
  const apart = (...of: Partial<Maps[number]>[]) =>
    questionsOf(of.map((more, at) => set(`s${at}`, [map(`s${at}_kx.png`, "unknown", more)])))[0].apart;
  expect(apart(packed, packed, alike)).toBe("likely");
  expect(apart(packed, alike)).toBe("possible");
  expect(apart(packed, packed, { channels: 1 })).toBe("no");
  expect(apart({ ...packed, channel: "alpha" })).toBe("no");
  const channel = (one: "red" | "green" | "blue") =>
    map(`a_kx.png#${one}`, "unknown", { channel: one, channels: 3 });
  const asked = questionsOf([set("a", [channel("blue"), channel("red"), channel("green")])]);
  expect(asked.map((one) => [one.channel, one.apart])).toEqual([
    ["red", "no"],
    ["green", "no"],
    ["blue", "no"],
  ]);
});

test("what was left out, or is known, is not asked", () => {
  expect(
    questionsOf([
      set("a", [
        map("a_kx.png", "unknown", { leftOut: true }),
        map("a_n.png", "geometry_normal", { normalDirection: "-Y" }),
      ]),
      // Green that is level needs no direction.
      { ...set("b", [map("b_n.png", "geometry_normal")]), findings: [] },
    ]),
  ).toEqual([]);
});

const kept = (answer: KeptAnswer["answer"], more: Partial<KeptAnswer> = {}): KeptAnswer => ({
  ...{ id: answer, asks: "role", channel: "color", mark: "_kx", companions: ["_col", "_nrm"], answer },
  by: "Ines",
  ...more,
});

test("an answer that was kept holds for files of the same source alone: what ends alike beside what ends alike", () => {
  const answers = (of: AskedCandidate, ...all: KeptAnswer[]) =>
    answeredBefore(of, all).map(({ file, answer }) => [file, answer.answer]);
  expect(answers(floor, kept("gloss"))).toEqual([["floor_kx_2k.png", "gloss"]]);
  expect(answers(floor, kept("height"), kept("gloss"))).toEqual([["floor_kx_2k.png", "height"]]);
  expect(answers(floor, kept("gloss", { companions: ["_COL", "_NRM"] }))).toEqual([]);
  expect(answers(floor, kept("gloss", { mark: "-kx" }))).toEqual([]);
  expect(answers(floor, kept("gloss", { companions: [] }))).toEqual([]);
  expect(answers(floor, kept("gloss", { channel: "alpha" }))).toEqual([]);
  expect(answers(wall, kept("-Y", { asks: "direction", mark: "_nrm", companions: ["_col", "_kx"] }))).toEqual(
    [["wall_nrm.png", "-Y"]],
  );
});

test("a role that the set has already is not given twice", () => {
  const twice = set("a", [
    map("a_col.png", "base_color"),
    map("a_gls.png", "gloss"),
    map("a_kx.png", "unknown"),
  ]);
  expect(answeredBefore(twice, [kept("gloss", { companions: ["_col", "_gls"] })])).toEqual([]);
  expect(answeredBefore(twice, [kept("leave-out", { companions: ["_col", "_gls"] })])).toHaveLength(1);
});

test("a word that was answered to be a mark joins its file to its set, which it would not by itself", () => {
  const files = [image("fir_col.png"), image("fir_weftmap.png")];
  const sets = (known?: Set<string>) => groupImages(files, known).map((group) => group.length);
  expect(sets()).toEqual([1, 1]);
  expect(sets(new Set(["weftmap"]))).toEqual([2]);
});
