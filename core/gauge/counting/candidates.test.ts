import { describe, expect, test } from "@jest/globals";
import { allCandidates } from "#core/gauge/counting/allCandidates";
import { statementOf, type Candidate } from "#core/gauge/counting/candidate";
import { copiesIn } from "#core/gauge/counting/copies";
import { evidenceOf } from "#core/gauge/counting/evidence";
import { readPicture } from "#core/gauge/counting/readPicture";
import { toneAlong } from "#core/gauge/counting/toneAlong";
import type { Weights } from "#core/gauge/counting/network";
import { choose, weighedSigns } from "#core/gauge/counting/weigh";
import { noise, painted } from "#core/gauge/testing";
import { seededRandom } from "#core/pattern/random";
import type { Plane } from "#core/raster/plane";

/** Courses of 32 px over 256 px, with heads as the course has them. */
const wall = (heads: (course: number) => { pitch: number; shift: number }[]) => {
  const grain = noise(3, 0.05);
  return painted((x, y) => {
    const isHead = heads(Math.floor(y / 32)).some(({ pitch, shift }) => (x + shift + 8 * pitch) % pitch < 2);
    return (y % 32 < 2 || isHead ? 0.2 : 0.8) + grain();
  });
};
const candidatesIn = (plane: Plane) => allCandidates(evidenceOf([plane]), copiesIn(plane));
const saying = (candidates: Candidate[], what: string) =>
  candidates.filter((candidate) => statementOf(candidate) === what);

describe("what a picture may hold", () => {
  const half = candidatesIn(wall((course) => [{ pitch: 64, shift: 32 * (course % 2) }]));

  test("of half bond: the true reading by its courses and by its translations, parts of it, and that nothing repeats", () => {
    expect(saying(half, "4 8 ").map(({ kind }) => kind)).toEqual(
      expect.arrayContaining(["bonded", "lattice"]),
    );
    expect(saying(half, "- 8 ").map(({ kind }) => kind)).toContain("stripes");
    expect(half.at(-1)!.kind).toBe("nothing");
    // Readings that say the same know of each other.
    const [lattice] = saying(half, "4 8 ").filter(({ kind }) => kind === "lattice");
    expect(lattice.signs.agreed).toBe(1);
  });

  test("of bond by a third, shifted either way: its translations are those of its heads", () => {
    for (const turns of [1, -1]) {
      const third = candidatesIn(
        painted((x, y) => {
          const shift = (turns * 64 * Math.floor((y * 9) / 256)) / 3;
          return (y * 9) % 256 < 18 || (((x - shift) % 64) + 64) % 64 < 2 ? 0.2 : 0.8;
        }),
      );
      const [bonded] = saying(third, "4 9 ").filter(
        ({ kind, bond }) => kind === "bonded" && bond === "third",
      );
      expect(bonded.signs.holds).toBeGreaterThan(0.7);
    }
  });

  test("of English bond, a reading of headers alone has heads that are missing in every second course", () => {
    const english = candidatesIn(
      wall((course) => [course % 2 === 0 ? { pitch: 64, shift: 0 } : { pitch: 32, shift: 16 }]),
    );
    expect(saying(english, "4 8 english")).not.toHaveLength(0);
    const weakest = (of: Candidate[]) =>
      Math.min(...of.filter(({ kind }) => kind === "bonded").map(({ signs }) => signs.weakHeads));
    expect(weakest(saying(english, "8 8 "))).toBeLessThan(0.5);
    expect(weakest(saying(half, "4 8 ").filter(({ bond }) => bond === "half"))).toBeGreaterThan(0.7);
  });

  test("that lies beside itself is read once and multiplied, besides as it is", () => {
    const random = seededRandom(8);
    const grain = Float32Array.from({ length: 128 * 256 }, () => 0.2 * random());
    const laid = painted((x, y) => (y % 64 < 2 ? 0.2 : 0.8) + grain[y * 128 + (x % 128)]);
    const { candidates, copies } = readPicture([laid]);
    expect(copies).toMatchObject({ across: 2, down: 1 });
    expect(saying(candidates, "- 4 ").map(({ signs }) => signs.within ?? 0)).toEqual(
      expect.arrayContaining([0, 1]),
    );
  });
});

describe("lightness along a profile", () => {
  const profile = (of: (x: number) => number) => Float32Array.from({ length: 240 }, (_, x) => of(x));

  test("goes on from joint to joint, and changes the other way where lines come in pairs", () => {
    const joints = profile((x) => (x % 24 < 3 ? 0 : 1));
    expect(toneAlong(joints, 24).once).toBeGreaterThan(0.95);
    const slats = profile((x) => (x % 48 < 24 ? 0 : 1));
    const { once, twice } = toneAlong(slats, 24);
    expect(once).toBeLessThan(-0.8);
    expect(twice).toBeGreaterThan(0.95);
  });

  test("says nothing on a flat one", () => {
    expect(
      toneAlong(
        profile(() => 0.4),
        24,
      ),
    ).toEqual({ once: 0, twice: 0 });
  });
});

describe("choosing", () => {
  const one = (across: number | undefined, good: number, bond: Candidate["bond"] = "stack"): Candidate => ({
    kind: "bonded",
    ...(across !== undefined && { across, down: across }),
    bond,
    signs: { good },
  });
  const nothing: Candidate = {
    kind: "nothing",
    bond: "stack",
    signs: { around: 1 },
  };
  const weights: Weights = {
    signs: ["good", "is nothing", "unknown around"],
    networks: [
      {
        straight: [1, 0, 0],
        units: [{ weights: [0, 0, 1], offset: 0, out: Math.log(2) / Math.tanh(1) }],
      },
    ],
  };

  test("adds up those that say the same, and leaves room for none being right", () => {
    // Two, one, one to nothing and two to unknown: of six, three say four by four, and the power takes that for a little more.
    const { candidate, sure } = choose(
      [one(4, Math.log(2), "half"), one(4, 0, "third"), one(5, -20), nothing],
      weights,
    );
    expect(candidate).toMatchObject({ across: 4, bond: "half" });
    expect(sure).toBeCloseTo(3 ** 1.2 / (3 ** 1.2 + 1 + 2 ** 1.2), 6);
  });

  test("takes herringbone and a stack of one count for two statements, and one module for none", () => {
    expect(statementOf(one(4, 0, "herringbone"))).not.toBe(statementOf(one(4, 0)));
    expect(statementOf(one(4, 0, "half"))).toBe(statementOf(one(4, 0)));
    expect(statementOf(one(1, 0))).toBe(statementOf(nothing));
  });

  test("weighs each with its kind, and none of them by what is around", () => {
    expect(weighedSigns([one(4, 0.5), nothing])).toEqual([
      { good: 0.5, "is bonded": 1 },
      { around: 1, "is nothing": 1 },
      { "unknown around": 1, "is unknown": 1 },
    ]);
  });
});
