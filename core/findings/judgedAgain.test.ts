import { expect, test } from "@jest/globals";
import { finding } from "#core/findings/finding";
import { judgedAgain } from "#core/findings/judgedAgain";

const codes = (all: { code: string }[]) => all.map(({ code }) => code);
const seam = (broken: number) =>
  finding("seam", { direction: "across", broken, role: "base_color", worstPx: 3 }, "a.png");
const licence = finding("licence-unconfirmed", { licence: "Own", sentence: "Do." });
const disagrees = finding("direction-disagrees", { named: "+Y", seen: "-Y", reasons: {} }, "a_n.png");

test("what the maps say is said anew, what they cannot tell stays, and only what is another thing came or went", () => {
  const bump = finding("bump-has-no-unit", {}, "a_b.png");
  const told = judgedAgain([seam(0.6), licence, bump], [seam(0.9), finding("single-picture", {})], []);
  expect(codes(told.findings)).toEqual(["seam", "single-picture", "licence-unconfirmed"]);
  expect(told.findings[0]).toEqual(seam(0.9));
  expect([codes(told.came), codes(told.went)]).toEqual([["single-picture"], ["bump-has-no-unit"]]);
});

test("by what a direction was told as the set came in stays said: it is known since", () => {
  const seen = finding("direction-from-pixels", { seen: "+Y", reasons: {} }, "a_n.png");
  expect(judgedAgain([seen], [], ["direction"])).toEqual({ findings: [seen], came: [], went: [] });
});

test("what is settled is not said, and a direction that was chosen against the pixels stays chosen", () => {
  const found = [finding("no-base-color", {}), disagrees];
  expect(judgedAgain([], found, ["base-color"]).findings).toEqual([]);
  expect(codes(judgedAgain([disagrees], found, ["base-color"]).findings)).toEqual(["direction-disagrees"]);
});
