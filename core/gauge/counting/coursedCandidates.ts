import { bondOf } from "#core/gauge/bond";
import { cut, type Candidate } from "#core/gauge/counting/candidate";
import { missingIn } from "#core/gauge/counting/missingEdges";
import { englishBond, flemishBond, type Mixed } from "#core/gauge/counting/mixedBond";
import { pieceTones } from "#core/gauge/counting/pieceTones";
import { bedClaim, bedPlainness, headClaim, plainness } from "#core/gauge/counting/plainness";
import type { Comb } from "#core/gauge/counting/combs";
import { areFlanks, courseProfiles, headsOf, meansOf, type Heads } from "#core/gauge/counting/courses";
import type { Along, Evidence } from "#core/gauge/counting/evidence";
import { toneOfPieces, weakestHeads } from "#core/gauge/counting/headSigns";
import { likeSigns } from "#core/gauge/counting/likeSigns";
import type { LatticeModel } from "#core/gauge/counting/lattice";
import { toneAlong } from "#core/gauge/counting/toneAlong";
import type { Verified } from "#core/gauge/counting/verifyLattice";

/** So many beds, and heads within each, are followed. */
const BEDS = 5;
const HEADS = 4;

type Judge = (model: LatticeModel) => Verified;

/** All that courses of one direction may be: with heads, and without. @param beds all combs of that direction */
export function coursedCandidates(evidence: Evidence, along: Along, beds: Comb[], judge: Judge): Candidate[] {
  const lightness = meansOf(evidence.courses[along].lightness);
  const best = beds
    .filter(({ count }) => count > 1)
    .sort((a, b) => bedClaim(b) - bedClaim(a))
    .slice(0, BEDS);
  return best.flatMap((bed, rank) => {
    const signs = {
      ...combSigns("bed", bed),
      bedRank: rank / BEDS,
      bedPlain: cut(bedPlainness(bed), -0.5, 2.5),
      upright: along === "down" ? 0 : 1,
      ...toneSigns("bed", toneAlong(lightness, lightness.length / bed.count)),
    };
    return candidatesOn(evidence, along, bed, signs, judge);
  });
}

/** Courses of one number, and what was found in them. */
interface Courses {
  evidence: Evidence;
  along: Along;
  bed: Comb;
  bedSigns: Record<string, number>;
  /** Of the heads in each course. */
  profiles: Float32Array[];
  every: Heads[];
  /** The plainest of them, the first one first. */
  heads: Heads[];
  /** The share of the beds' edges that is missing. */
  missing: number;
  judge: Judge;
}

function candidatesOn(
  evidence: Evidence,
  along: Along,
  bed: Comb,
  bedSigns: Record<string, number>,
  judge: Judge,
): Candidate[] {
  const profiles = courseProfiles(evidence, along, bed);
  const every = headsOf(profiles);
  const heads = every
    .filter(({ count, steps }) => count > 1 || steps === 2)
    .sort((a, b) => headClaim(b) - headClaim(a))
    .slice(0, HEADS);
  const missing = missingIn(evidence, along, bed, undefined).beds;
  const courses = { evidence, along, bed, bedSigns, profiles, every, heads, missing, judge };
  const light = courseProfiles(evidence, along, bed, "lightness");
  return [
    ...withoutHeads(courses),
    ...heads.flatMap((head, rank) => withHeads(courses, head, rank, light)),
    ...ofTwoKinds(courses),
  ];
}

const plain = (value: number) => cut(value, -0.5, 2.5);
const plainestHead = ({ heads }: Courses) => (heads.length > 0 ? plain(plainness(heads[0])) : 0);

/** Modules across and down. */
const countsOf = ({ along, bed }: Courses, pieces: number) =>
  along === "down" ? { across: pieces, down: bed.count } : { across: bed.count, down: pieces };

/** Courses alone, as of boards; and half as many, where both edges of each were found. */
function withoutHeads(courses: Courses): Candidate[] {
  const { evidence, along, bed, bedSigns, missing } = courses;
  const counted = (count: number) => (along === "down" ? { down: count } : { across: count });
  const flanks = areFlanks(evidence, along, bed.count);
  const signs = {
    ...bedSigns,
    missBeds: missing,
    tones: pieceTones(evidence.courses[along], bed),
    bestHead: plainestHead(courses),
    flanks: flanks ? 1 : 0,
  };
  const alone: Candidate = { kind: "stripes", ...counted(bed.count), bond: "stack", signs };
  return flanks ? [alone, { ...alone, kind: "flanks", ...counted(bed.count / 2) }] : [alone];
}

function withHeads(courses: Courses, head: Heads, rank: number, light: Float32Array[]): Candidate[] {
  const { evidence, along, bed, bedSigns, profiles, judge } = courses;
  const lost = missingIn(evidence, along, bed, head);
  const model = modelOf(along, bed.count, head);
  const headPlain = plain(plainness(head));
  const signs: Record<string, number> = {
    ...bedSigns,
    ...combSigns("head", head),
    headRank: rank / HEADS,
    headPlain,
    both: Math.min(bedSigns.bedPlain, headPlain),
    missBeds: lost.beds,
    missHeads: lost.heads,
    tones: pieceTones(evidence.courses[along], bed, head),
    weakHeads: cut(weakestHeads(profiles, head), -0.5, 1),
    stack: head.steps === 1 ? 1 : 0,
    half: head.steps === 2 ? 1 : 0,
    ...toneSigns("head", toneOfPieces(light, head)),
    ...(model && likeSigns(judge(model))),
  };
  const bond = bondOf(head.turns, head.steps);
  const isShifted = along === "across" && bond !== "stack";
  const bonded: Candidate = {
    kind: "bonded",
    ...countsOf(courses, head.count),
    bond,
    ...(isShifted && { upright: true }),
    signs,
  };
  const isEven = bed.count % 2 === 0 && head.count % 2 === 0;
  if (head.steps > 1 || !isEven || along === "across") return [bonded];
  // Squares of blocks that lie and stand in turn: the joints of a stack, and every second square alike.
  const squares = likeSigns(judge({ across: head.count / 2, down: bed.count, turns: 1, steps: 2 }));
  const stackLike = cut(signs.like ?? 0, -0.2, 1);
  return [bonded, { ...bonded, kind: "basket", bond: "basket", signs: { ...signs, ...squares, stackLike } }];
}

/** Stretchers and headers, from course to course or in each. */
function ofTwoKinds(courses: Courses): Candidate[] {
  const { along, bed, bedSigns, profiles, every, heads, missing, judge } = courses;
  const stretchers = heads.flatMap(({ count }) => (count % 2 === 0 ? [count, count / 2] : [count]));
  const found = [
    englishBond(
      profiles,
      [...new Set(stretchers)].filter((count) => count > 1),
    ),
    flemishBond(every),
  ];
  return found
    .filter((one) => one !== undefined)
    .map((one): Candidate => ({
      kind: "mixed",
      ...countsOf(courses, one.heads.count),
      bond: one.bond,
      ...(along === "across" && { upright: true }),
      signs: {
        ...bedSigns,
        ...combSigns("head", one.heads),
        plainFew: plain(one.plain.few),
        plainMany: plain(one.plain.many),
        both: plain(Math.min(bedSigns.bedPlain, one.plain.few, one.plain.many)),
        bestHead: plainestHead(courses),
        offThird: 10 * one.off,
        missBeds: missing,
        english: one.bond === "english" ? 1 : 0,
        ...(along === "down" && likeSigns(judge(mixedModel(one, bed.count)))),
      },
    }));
}

/** The translations of a bond of two kinds of pieces. */
const mixedModel = ({ bond, heads }: Mixed, courses: number): LatticeModel =>
  bond === "english"
    ? { across: heads.count, down: courses / 2, turns: 0, steps: 1 }
    : { across: heads.count, down: courses, turns: 1, steps: 2 };

/** The translations of courses with heads: a lattice's frequencies slant the other way than its courses are shifted. */
function modelOf(along: Along, courses: number, { count, turns, steps }: Heads): LatticeModel | undefined {
  if (along === "down") return { across: count, down: courses, turns: -turns, steps };
  if (steps === 1) return { across: courses, down: count, turns: 0, steps };
  if (courses % steps !== 0) return undefined;
  // Rows of the same lattice: the next one up is reached by as many columns as make up one part of the shift.
  const columns = Array.from({ length: steps }, (_, k) => k).find(
    (k) => (((k * turns) % steps) + steps) % steps === 1,
  )!;
  return {
    across: courses / steps,
    down: steps * count,
    turns: -columns,
    steps,
  };
}

function combSigns(of: "bed" | "head", comb: Comb): Record<string, number> {
  return {
    [`${of}Level`]: cut(comb.level, -1, 3),
    [`${of}Weakest`]: cut(comb.weakest, -1, 1.2),
    [`${of}Finer`]: cut(comb.finer, -1, 1),
    [`${of}Ground`]: cut(comb.ground, -1, 1),
    [`${of}Second`]: cut(comb.second.level, -1, 1),
    [`${of}SecondOff`]: 2 * Math.min(comb.second.offset, 1 - comb.second.offset),
    [`${of}Third`]: cut(comb.third, -1, 1),
    [`${of}Strength`]: cut(comb.strength, 0, 14) / 5,
  };
}

const toneSigns = (of: "bed" | "head", { once, twice }: { once: number; twice: number }) => ({
  [`${of}Once`]: once,
  [`${of}Twice`]: twice,
});
