import { describe, expect, test } from "@jest/globals";
import { finding } from "#core/findings/finding";
import type { FindingCode, ToldOf } from "#core/findings/kinds";
import { say } from "#core/findings/say";
import { stillOpen } from "#core/findings/stillOpen";

/** What each kind is told, as somebody might, and words that its sentence then has. */
const EXAMPLES: { [C in FindingCode]: [told: ToldOf<C>, words: string] } = {
  "extension-differs": [{ format: "jpeg" }, "oak_n.png is JPEG by its content"],
  damaged: [{}, "oak_n.png is damaged"],
  "several-pages": [{ pages: 3 }, "holds 3 images"],
  "broken-samples": [{ count: 12 }, "has 12 samples"],
  range: [{ min: -0.5, max: 12_000, treated: "millimetres" }, "-0.50 to 1.2e+4: it is spread"],
  "profile-converted": [{ profile: "Wide monitor" }, "“Wide monitor”; its colours"],
  "profile-ignored": [{ profile: "Wide monitor" }, "“Wide monitor”; it is data"],
  "profile-unreadable": [{}, "taken for sRGB"],
  "inks-without-profile": [{}, "made for printing"],
  "orientation-applied": [
    { orientation: 6, isNormal: true },
    "turned by 90°, and was set upright; its vectors",
  ],
  "alpha-dropped": [{}, "the same everywhere"],
  "alpha-may-be-height": [{}, "may hold the height"],
  "alpha-is-asked": [{}, "no plain cut-out"],
  "alpha-not-opacity": [{}, "no cut-out mask"],
  "bump-has-no-unit": [{}, "is a bump map"],
  "role-unknown": [
    { likely: ["height", "bump"], reason: { sign: "goes-with-slopes", share: 0.914 } },
    "may be height, bump: say which, or leave it out. Its pixels: it goes with the slopes of the normal map (91 %).",
  ],
  "answered-before": [
    { answer: "gloss", mark: "_kx", by: "Ines" },
    "is taken for gloss, as Ines has answered for files that end in “_kx”.",
  ],
  "name-and-pixels-disagree": [
    { role: "geometry_normal", reason: { sign: "few-unit-vectors", share: 0.0234 }, isSure: true },
    "is read as normal; its pixels say otherwise: only 2.3 % of them",
  ],
  "too-dark": [{ share: 0.42 }, "42 % of the area of oak_n.png"],
  "too-light": [{ share: 0.0612 }, "6.1 % of the area"],
  "eight-bits-in-sixteen": [{ isPrecise: false }, "holds only 8 bits"],
  "jpeg-blocks": [{ isPrecise: true, ratio: 1.44 }, "1.4 times the others"],
  flat: [{ value: 0.5 }, "(50 %)"],
  "wear-layer": [{}, "A wear layer"],
  "no-base-color": [{}, "No file is a base color map."],
  "single-picture": [{}, "One picture only"],
  incomplete: [{ lacks: ["roughness", "relief"] }, "The set has no roughness and no relief."],
  "sizes-differ": [{ sizes: ["512 × 512", "256 × 256"] }, "512 × 512, 256 × 256 px"],
  "proportions-differ": [{}, "proportions"],
  "direction-disagrees": [
    {
      named: "+Y",
      seen: "-Y",
      reasons: {
        slopes: { agrees: true, sure: 0.9 },
        height: { agrees: false, sure: 0.51, isFourthChannel: true },
      },
    },
    "is called +Y (green up) by its name, but its pixels are −Y (green down): the slopes fit together that way (90 % sure); they go against its fourth channel (51 %).",
  ],
  "direction-from-pixels": [{ seen: "-Y", reasons: {} }, "oak_n.png is −Y (green down) by its pixels."],
  "green-is-level": [{}, "makes no difference"],
  "normal-direction-assumed": [{ reasons: {} }, "do not tell; +Y (up) is assumed"],
  "height-does-not-fit": [{ normal: "b.png" }, "does not go with b.png"],
  "height-inverted": [{ normal: "b.png" }, "dark where b.png says"],
  "orientation-differs": [{ turns: 1, mirrored: true }, "lies mirrored and turned by 90° against"],
  "crop-differs": [{ acrossPx: 3, downPx: -4 }, "3 px across and -4 px down"],
  seam: [
    { direction: "down", broken: 0.93, role: "base_color", worstPx: 12 },
    "It does not continue from top to bottom (93 % sure, in its base color), worst 12 px from the left.",
  ],
  repetition: [{ lightness: -4.26, x: 0.5, y: 0.25 }, "a dark place at 50 % from the left and 25 % from"],
  "few-pixels": [
    { widthPx: 512, heightPx: 256, purpose: "near", densityPxPerM: null, holdsUpFromM: null },
    "512 × 256 px is little for looking from near",
  ],
  "same-file": [{ material: "Oak", isMadeFrom: false }, "in the library as “Oak”"],
  "same-picture": [
    {
      material: "Oak",
      isFirst: false,
      likeness: { alike: 0.97, turns: 1, mirrored: false, shiftX: 0, shiftY: 0, tint: [0, 0, 0] },
    },
    "much like “Oak” of the library (97 %, turned by 90°)",
  ],
  "more-alike": [{ count: 3 }, "3 more of the library"],
  "sheet-disagrees": [
    { across: 2, up: 9, stretchPercent: 4.44 },
    "2 × 9 modules fill the picture, which would stretch it by 4.4 %",
  ],
  "licence-unconfirmed": [{ licence: "CC0", sentence: "Do as you like." }, "(CC0: “Do as you like.”)"],
  derived: [
    { recipe: { kind: "occlusion-from-height", reachMm: 20 }, guesses: ["amplitude-assumed"] },
    "Ambient occlusion made from the height; the height's amplitude is assumed.",
  ],
  flattened: [
    { code: "M0001", name: "Wall", window: { width: 900, height: 450 }, widthPx: 800, heightPx: 400 },
    "Flattened from M0001 Wall: 900 × 450 mm in 800 × 400 px.",
  ],
};
const made = (code: FindingCode, file?: string) => finding(code, EXAMPLES[code][0] as never, file);
const CODES = Object.keys(EXAMPLES) as FindingCode[];

describe("each kind of finding", () => {
  test.each(CODES)("%s is said in a whole sentence", (code) => {
    const [said] = say([made(code, "tiles/oak_n.png#alpha")]);
    expect(said).toMatchObject({ code, file: "tiles/oak_n.png#alpha" });
    expect(said.message).toContain(EXAMPLES[code][1]);
    expect(said.message).toMatch(/^\S.*\.$/);
    expect(said.message).not.toMatch(/undefined|null|NaN|tiles\/|#alpha/);
  });

  test("survives being kept as JSON", () => {
    const kept = JSON.parse(JSON.stringify(CODES.map((code) => made(code))));
    expect(say(kept)).toEqual(say(CODES.map((code) => made(code))));
  });
});

test("how serious it is follows from what it is told", () => {
  expect(finding("seam", { direction: "across", broken: 0.8, role: "base_color", worstPx: 0 }).level).toBe(
    "look",
  );
  expect(made("seam").level).toBe("wrong");
  expect(finding("orientation-applied", { orientation: 6, isNormal: false }).level).toBe("note");
  expect(made("orientation-applied").level).toBe("look");
  const far = { ...EXAMPLES["few-pixels"][0], densityPxPerM: 500, holdsUpFromM: 1.5 };
  expect(finding("few-pixels", far).level).toBe("note");
});

test("what is settled is not carried further, and nothing else is lost", () => {
  const all = CODES.map((code) => made(code));
  const gone = (settled: Parameters<typeof stillOpen>[1]) => {
    const left = new Set(stillOpen(all, settled).map(({ code }) => code));
    return CODES.filter((code) => !left.has(code));
  };
  expect(gone([])).toEqual([]);
  expect(gone(["direction"])).toEqual(["normal-direction-assumed"]);
  expect(gone(["chosen-direction", "licence"])).toEqual(["direction-disagrees", "licence-unconfirmed"]);
  expect(gone(["complete-set"])).toEqual(["single-picture", "incomplete"]);
  expect(gone(["acceptance"])).toEqual([
    "alpha-may-be-height",
    "alpha-is-asked",
    "role-unknown",
    "answered-before",
    "same-file",
    "same-picture",
    "more-alike",
  ]);
});

test("findings of before and of other versions are said and kept", () => {
  const old = [
    { level: "look" as const, code: "too-dark", told: { sentence: "It is dark." }, file: "a.png" },
    { level: "note" as const, code: "of-tomorrow", told: { share: 1 } },
  ];
  expect(say(old).map(({ message }) => message)).toEqual([
    "It is dark.",
    "Noticed by another version of the program: of-tomorrow.",
  ]);
  expect(stillOpen(old, ["acceptance", "size"])).toEqual(old);
});

test("a name cannot put a second line or a turned text into a sentence", () => {
  const [{ message }] = say([finding("profile-converted", { profile: "a\nb\u202Ec" }, "x.png")]);
  expect(message).toContain("“a bc”");
});
