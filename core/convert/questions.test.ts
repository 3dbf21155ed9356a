import { isDeepStrictEqual } from "node:util";
import { describe, expect, test } from "@jest/globals";
import { profileSchema, type Profile } from "#core/convert/profile";
import { profileChanges } from "#core/convert/profileChanges";
import { drawingBoard } from "#core/convert/profiles/drawingBoard";
import { glossPathTracer } from "#core/convert/profiles/glossPathTracer";
import { gltf } from "#core/convert/profiles/gltf";
import { packedWalkthrough } from "#core/convert/profiles/packedWalkthrough";
import { MORE_MAPS, QUESTIONS, takesMap, withOrWithoutMap } from "#core/convert/questions";
import { seededRandom } from "#core/pattern/random";

const SHIPPED = [glossPathTracer, packedWalkthrough, drawingBoard, gltf];
/** The order of inputs makes no difference to what is delivered. */
const sorted = (profile: Profile) => ({
  ...profile,
  outputs: profile.outputs.toSorted((a, b) => a.suffix.localeCompare(b.suffix)),
});
const question = (id: string) => QUESTIONS.find((one) => one.id === id)!;

/** Whether a profile may be kept; an answer may take the last input away, or ask for what a material file does not hold, which is said. */
const problemsOf = (profile: Profile) =>
  (profileSchema.safeParse(profile).error?.issues ?? []).filter(
    ({ path }) => path.join() !== "outputs" && path.at(-1) !== "format",
  );

describe("the questions", () => {
  test.each(SHIPPED.flatMap((profile) => QUESTIONS.map((one) => [one.id, profile.id, profile] as const)))(
    "%s: every answer is one that %s says afterwards, and can be kept",
    (id, _, profile) => {
      const { options, read, answer, applies } = question(id);
      if (applies?.(profile) === false) return expect(options.length).toBeGreaterThan(1);
      expect([...options.map(({ value }) => value), "other"]).toContain(read(profile));
      for (const { value } of options) {
        const answered = answer(profile, value);
        expect(read(answered)).toBe(value);
        expect(problemsOf(answered)).toEqual([]);
        expect(answer(answered, value)).toEqual(answered);
      }
    },
  );

  test("any answers, one after the other, leave a profile that can be kept and has no role twice", () => {
    const random = seededRandom(1511);
    for (let run = 0; run < 60; run++) {
      let profile: Profile = SHIPPED[run % SHIPPED.length];
      for (let step = 0; step < 25; step++) {
        const asked = QUESTIONS[Math.floor(random() * QUESTIONS.length)];
        if (asked.applies?.(profile) === false) continue;
        const { value } = asked.options[Math.floor(random() * asked.options.length)];
        profile = asked.answer(profile, value);
        expect(asked.read(profile)).toBe(value);
        const more = MORE_MAPS[Math.floor(random() * MORE_MAPS.length)];
        if (random() < 0.3) profile = withOrWithoutMap(profile, more, random() < 0.5);
      }
      expect(problemsOf(profile)).toEqual([]);
      const roles = profile.outputs.flatMap((output) =>
        output.kind === "map" ? [output.role] : output.channels,
      );
      expect(new Set(roles).size).toBe(roles.length);
    }
  });

  test("an answer changes what it is about, and leaves the other answers", () => {
    const answers = (profile: Profile) =>
      Object.fromEntries(QUESTIONS.map(({ id, read }) => [id, read(profile)]));
    const before = answers(glossPathTracer);
    for (const [id, value] of [
      ["shine", "roughness"],
      ["normals", "up"],
      ["opacity", "transparency"],
      ["largest", "2048"],
      ["unit", "in"],
      ["tag", "icc"],
      ["occlusion", "own"],
    ])
      expect(answers(question(id).answer(glossPathTracer, value))).toEqual({ ...before, [id]: value });
  });

  test("what lay in the channels of one image gets inputs of its own where that image is given up", () => {
    const apart = question("packing").answer(packedWalkthrough, "none");
    const alone = (profile: Profile) => ({
      shine: question("shine").read(profile),
      occlusion: question("occlusion").read(profile),
      metal: question("metal").read(profile),
    });
    expect(alone(apart)).toEqual({ shine: "roughness", occlusion: "own", metal: "own" });
    expect(takesMap(apart, "specular_roughness")).toBe(true);
  });
});

describe("a profile that cannot be", () => {
  const problem = (change: (profile: Record<string, unknown>) => void): string => {
    const profile = JSON.parse(JSON.stringify(glossPathTracer)) as Record<string, unknown>;
    change(profile);
    const { error } = profileSchema.safeParse(profile);
    const [{ path, message }] = error!.issues;
    return `${path.join("/")}: ${message}`;
  };
  const outputs = (profile: Record<string, unknown>) => profile.outputs as Record<string, unknown>[];

  test.each<[string, (profile: Record<string, unknown>) => void, RegExp]>([
    [
      "two files of one name",
      (p) => (outputs(p)[1].suffix = "color"),
      /outputs\/1\/suffix: .*“color” is there twice/,
    ],
    ["two inputs of one name", (p) => (outputs(p)[1].slot = "BASE colour"), /outputs\/1\/slot: .*twice/],
    ["a value whose input is an image's", (p) => (p.values = { ior: "gloss" }), /values\/ior: .*twice/],
    ["no largest size", (p) => (p.maxPixels = 0), /maxPixels/],
    ["an endless name", (p) => (p.name = "x".repeat(10_000)), /name/],
    ["an unknown role", (p) => (outputs(p)[0].role = "mood"), /outputs\/0\/role/],
    [
      "a packed image of four channels",
      (p) =>
        outputs(p).push({
          kind: "packed",
          slot: "four",
          suffix: "four",
          format: "png",
          channels: ["a", "b", "c", "d"],
        }),
      /outputs\/8\/channels/,
    ],
    [
      "16 bits in a JPEG",
      (p) => (outputs(p)[0] = { ...outputs(p)[0], format: "jpeg", bitDepth: 16 }),
      /bitDepth/,
    ],
    [
      "files that all have one name",
      (p) => (p.names = { folder: "{material}", file: "{material}" }),
      /\{suffix\}/,
    ],
    ["materials that all have one name", (p) => (p.names = { folder: "", file: "{suffix}" }), /\{material\}/],
    [
      "a folder that climbs out",
      (p) => (p.names = { folder: "../{material}", file: "{suffix}" }),
      /names\/folder/,
    ],
    ["TIFF in a GLB", (p) => (p.delivers = "glb"), /holds PNG, JPEG, WEBP, and no TIFF/],
    ["no inputs", (p) => (p.outputs = []), /outputs/],
    ["a field of another program", (p) => (p.gamma = 2.2), /gamma/],
  ])("%s", (_, change, expected) => {
    expect(problem(change)).toMatch(expected);
  });
});

describe("what a profile says otherwise", () => {
  test("is nothing where it says the same", () => {
    for (const profile of SHIPPED) expect(profileChanges(profile, profile)).toEqual([]);
  });

  test("is said for each answer that makes a difference", () => {
    for (const profile of SHIPPED)
      for (const { options, answer } of QUESTIONS.filter(({ applies }) => applies?.(profile) !== false))
        for (const { value } of options) {
          const answered = answer(profile, value);
          const isOther = !isDeepStrictEqual(sorted(answered), sorted(profile));
          expect(profileChanges(profile, answered).length > 0).toBe(isOther);
        }
  });

  test("in words", () => {
    const now = question("unit").answer(question("shine").answer(glossPathTracer, "roughness"), "mm");
    expect(profileChanges(glossPathTracer, now)).toEqual([
      "Sizes: mm in place of cm.",
      "New input: roughness, “roughness”, _roughness, 8-bit PNG.",
      "No input any more for gloss.",
    ]);
    expect(profileChanges(glossPathTracer, { ...glossPathTracer, description: "Otherwise." })).toEqual([
      `In a sentence: “Otherwise.” in place of “${glossPathTracer.description}”.`,
    ]);
  });
});
