import { describe, expect, test } from "@jest/globals";
import { FORMATS } from "#core/gauge/formats";
import { kindsOf, proposeSizes } from "#core/gauge/proposeSizes";
import type { Unsized } from "#server/sizing/sheet";
import { alikeOf, cardState } from "./cardState";
import { byKind, choiceOf, choicesFor, choicesTyped, choiceOfFormat, reasonWords } from "./sizeChoice";

const image = { sha256: "a", width: 1350, height: 1200 };
const count = { across: 3, down: 8, bond: "half" as const, sure: 0.97 };
const lattice = { left: 5, top: 7, width: 450, height: 150, shift: 0.5 };

function unsized(
  id: string,
  words: string,
  { line = null as string | null, isCounted = true } = {},
): Unsized {
  const evidence = { image, family: "brick" as const, words: [words], used: [], formats: FORMATS };
  return {
    ...{ id, code: id, name: words, revision: 1, family: "brick", line, image },
    modules: isCounted ? { count, lattice } : undefined,
    proposals: proposeSizes({ ...evidence, ...(isCounted && { count }) }),
    alike: [],
  };
}

describe("a card on the sheet", () => {
  test("begins with what is proposed first, sure where that is", () => {
    expect(cardState(unsized("a", "Mill 215x65"), {}, "mm")).toMatchObject({
      ...{ across: "3", down: "8", isSure: true, isMuch: false, lattice },
      size: { repeat: { width: 675, height: 600 } },
    });
    expect(cardState(unsized("a", "Mill"), {}, "mm").isSure).toBe(false);
  });

  test("says by what a format was found: its proportions, or of a board, of which a width is known, that it is usual", () => {
    const why = (family: "brick" | "timber", across: number) => {
      const evidence = { image, family, words: [], used: [], formats: FORMATS };
      const found = proposeSizes({ ...evidence, count: { ...count, across } });
      return found.map((proposal) => reasonWords(choiceOf(proposal, "mm")));
    };
    expect(new Set(why("brick", 3))).toEqual(new Set(["has its proportions"]));
    expect(why("timber", 12)[0]).toBe("a width that is usual");
  });

  test("formats of what it may be come first, the likeliest kind before the others", () => {
    const { ofKind, others } = byKind(FORMATS, kindsOf({ family: "timber", words: ["Oak panel"] }));
    expect(ofKind.map(({ kind }) => kind).filter((kind, i, all) => kind !== all[i - 1])).toEqual([
      "panel",
      "board",
    ]);
    expect(others.some(({ kind }) => kind === "brick")).toBe(true);
    expect(ofKind.length + others.length).toBe(FORMATS.length);
  });

  test("what is typed leads first to what is rather meant: a format by its number, a length by its unit", () => {
    const evidence = { image, family: "timber" as const, words: [], used: [], formats: FORMATS };
    const proposals = proposeSizes({ ...evidence, count: { ...count, across: 12 } });
    const offered = { proposals, formats: FORMATS, kinds: kindsOf({ family: "timber", words: [] }) };
    const first = (text: string, isCounted = true) => choicesFor(offered, text, "mm", isCounted)[0].words;
    expect(first("")).toBe(choiceOf(proposals[0], "mm").words);
    expect(first("120")).toMatch(/^Decking 120/);
    expect(first("12")).toMatch(/^Decking 120/);
    expect(first("2 m")).toBe("all of it 2000 mm wide");
    expect(first("1.2 m")).toBe("all of it 1200 mm wide");
    expect(first("137 mm")).toBe("a module of 137 mm wide");
    expect(first("600", false)).toBe("all of it 600 mm wide");
    expect(first("215 x 65")).toMatch(/^a module of 215 × 65 mm/);
  });

  test("another count lays the same module anew, moves the lattice, and is never sure", () => {
    const state = cardState(unsized("a", "Mill 215x65"), { down: "4" }, "mm");
    expect(state.size!.repeat).toEqual({ width: 675, height: 300 });
    expect(state).toMatchObject({ isSure: false, isMuch: true, lattice: { top: 7, height: 300 } });
  });

  test("a count that is none says what is wanted", () => {
    const state = cardState(unsized("a", "Mill 215x65"), { across: "", down: "x" }, "mm");
    expect(state.size).toBeUndefined();
    expect(state.trouble).toMatch(/how many/i);
  });

  test("what is typed may be a module or the whole; what is not counted has only the whole", () => {
    const [module, whole] = choicesTyped("240 x 71 joint 10 / 12.33", "mm", true);
    expect(whole).toBeUndefined();
    expect(cardState(unsized("a", "Mill"), { choice: module }, "mm").size!.repeat.width).toBeCloseTo(750, 6);
    const [all] = choicesTyped("1.2 m", "mm", false);
    const state = cardState(unsized("a", "Render", { isCounted: false }), { choice: all }, "mm");
    expect(state.size!.repeat.width).toBeCloseTo(1200, 6);
    expect(state.size!.repeat.height).toBeCloseTo((1200 * 1200) / 1350, 6);
  });

  test("those alike take the module by their own count, or cover as much where they have none", () => {
    const states = [
      unsized("a", "Mill", { line: "Mill" }),
      unsized("b", "Other"),
      unsized("c", "Mill dark", { line: "Mill", isCounted: false }),
      { ...unsized("d", "Small"), image: { ...image, width: 900 } },
    ].map((item) => cardState(item, { choice: choiceOfFormat(FORMATS[0], "mm") }, "mm"));
    const alike = alikeOf(states[0], states);
    expect(alike.map(({ state }) => state.item.id)).toEqual(["b", "c"]);
    expect(alike[0].method).toMatchObject({ method: "modules", across: 3, up: 8 });
    expect(alike[1].method).toMatchObject({ method: "same-as", material: "a" });

    // One that is not counted, and of no line, but shows the same pattern.
    const [one, other] = ["g", "h"].map((id) => unsized(id, "Weave", { isCounted: false }));
    const [known, unknown] = [{ ...one, alike: ["h"] }, other].map((item) =>
      cardState(item, { choice: { words: "60 cm", whole: { width: 600 } } }, "mm"),
    );
    expect(alikeOf(known, [known, unknown]).map(({ state }) => state.item.id)).toEqual(["h"]);
    expect(alikeOf(unknown, [known, unknown])).toEqual([]);

    // Of its line, but cut otherwise: it would be stretched, so that it is left to be looked at.
    const cut = { ...unsized("e", "Mill wide", { line: "Mill" }), image: { ...image, width: 2700 } };
    const bare = { ...unsized("f", "Mill bare", { line: "Mill", isCounted: false }), image: cut.image };
    const others = [states[0], ...[cut, bare].map((one) => cardState(one, {}, "mm"))];
    expect(alikeOf(others[0], others)).toEqual([]);
  });
});
