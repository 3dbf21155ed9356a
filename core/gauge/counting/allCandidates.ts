import { cut, statementOf, type Candidate } from "#core/gauge/counting/candidate";
import type { CopySigns } from "#core/gauge/counting/copies";
import { coursedCandidates } from "#core/gauge/counting/coursedCandidates";
import { beds, wavesIn } from "#core/gauge/counting/courses";
import type { Along, Evidence } from "#core/gauge/counting/evidence";
import { gridCandidates } from "#core/gauge/counting/gridCandidates";
import { latticeCandidates, type LatticeCandidate } from "#core/gauge/counting/latticeCandidates";
import { latticeJudge } from "#core/gauge/counting/verifyLattice";

const ALONG: readonly Along[] = ["down", "across"];

/** All that a picture may hold, with what speaks for each and how it compares with the others; that nothing repeats comes last. */
export function allCandidates(evidence: Evidence, copies: CopySigns): Candidate[] {
  const judge = latticeJudge(evidence);
  const combs = {
    down: beds(evidence, "down"),
    across: beds(evidence, "across"),
  };
  const lattices = latticeCandidates(evidence, combs, judge);
  const waves = ALONG.flatMap((along): Candidate[] => {
    const found = wavesIn(evidence, along);
    if (!found) return [];
    const { count, share, amplitude } = found;
    const counted = along === "down" ? { down: count } : { across: count };
    const signs = {
      waveShare: share,
      waveHeight: 2 * cut(amplitude, 0, 0.5),
      upright: along === "down" ? 0 : 1,
    };
    return [{ kind: "waves", ...counted, bond: "stack", signs }];
  });
  const found = [
    ...ALONG.flatMap((along) => coursedCandidates(evidence, along, combs[along], judge)),
    ...lattices.map(({ candidate }) => candidate),
    ...gridCandidates(evidence, combs, judge),
    ...waves,
  ];
  return inContext(found, lattices, evidence, copies);
}

const sign = ({ signs }: Candidate, name: string) => signs[name] ?? 0;
const ratio = (value: number, most: number) => (most > 0 ? cut(value / most, -1, 1) : 0);
/** How well the picture goes into itself everywhere. */
const likeness = (candidate: Candidate) => Math.min(sign(candidate, "like"), sign(candidate, "weakLike"));

/** Adds to each candidate's signs how it stands among the others. */
function inContext(
  candidates: Candidate[],
  lattices: LatticeCandidate[],
  { original }: Evidence,
  copies: CopySigns,
): Candidate[] {
  const most = (name: string, of: (candidate: Candidate) => boolean = () => true) =>
    Math.max(0, ...candidates.filter(of).map((one) => sign(one, name)));
  const bestBeds = [0, 1].map((upright) => most("bedPlain", (one) => sign(one, "upright") === upright));
  const best = {
    bed: Math.max(...bestBeds),
    both: most("both"),
    like: Math.max(0, ...candidates.map(likeness)),
    lift: most("lift"),
  };
  const around = {
    aroundBed: best.bed,
    aroundOtherBed: Math.min(...bestBeds),
    aroundBoth: best.both,
    aroundLike: best.like,
    aroundLift: best.lift,
    aroundWaves: Math.max(
      0,
      ...candidates.map((one) => sign(one, "waveShare") * Math.min(1, 12 * sign(one, "waveHeight"))),
    ),
    aroundCopies: copies.across * copies.down > 1 ? 1 : 0,
    aroundAlike: mostAlike(copies),
  };
  const said = candidates.map(statementOf);
  const told = candidates.map((candidate, i): Candidate => {
    const { kind, across, down, signs } = candidate;
    const isLattice = kind === "lattice";
    const agreeing = candidates.filter(
      (other, k) => said[k] === said[i] && (other.kind === "lattice") !== isLattice,
    );
    const own = sign(candidate, "bedPlain");
    return {
      ...candidate,
      signs: {
        ...signs,
        bedShare: ratio(own, best.bed),
        bedShareUp: ratio(own, bestBeds[sign(candidate, "upright")]),
        otherBed: isLattice ? 0 : bestBeds[1 - sign(candidate, "upright")],
        bothShare: ratio(sign(candidate, "both"), best.both),
        likeShare: ratio(likeness(candidate), best.like),
        liftShare: ratio(sign(candidate, "lift"), best.lift),
        agreed: agreeing.length > 0 ? 1 : 0,
        agreedLift: Math.max(0, ...agreeing.map((other) => sign(other, "lift"))),
        ...(kind === "stripes" || kind === "flanks" || isLattice
          ? { besideBoth: best.both, besideLike: best.like }
          : {}),
        ...(across !== undefined && down !== undefined && besideLattices(across, down, lattices)),
        ...shapeSigns(candidate, original),
        ...copySigns(candidate, copies),
      },
    };
  });
  return [...told, { kind: "nothing", bond: "stack", signs: around }];
}

/** How well the picture goes into itself by the best lattice that is finer, and by the best that is coarser. */
function besideLattices(across: number, down: number, lattices: LatticeCandidate[]) {
  let [finer, coarser] = [0, 0];
  for (const { model, candidate } of lattices) {
    if (model.steps > 1) continue;
    const cells = model.across * model.down;
    if (cells > across * down && model.across % across === 0 && model.down % down === 0)
      finer = Math.max(finer, likeness(candidate));
    if (cells < across * down && across % model.across === 0 && down % model.down === 0)
      coarser = Math.max(coarser, likeness(candidate));
  }
  return { finerLike: finer, coarserLike: coarser };
}

const isPowerOfTwo = (count: number) => (count & (count - 1)) === 0;

/** What modules of such a size and proportion are like. */
function shapeSigns(
  { across, down }: Candidate,
  { width, height }: { width: number; height: number },
): Record<string, number> {
  const size = (px: number) => Math.log2(px) / 3 - 1.5;
  if (across === undefined || down === undefined) {
    const count = across ?? down ?? 1;
    return {
      countAlone: Math.log2(count) / 3,
      pixelsAlone: size((across === undefined ? height : width) / count),
      roundAlone: isPowerOfTwo(count) ? 1 : 0,
    };
  }
  const [moduleWidth, moduleHeight] = [width / across, height / down];
  const proportion = cut(Math.log2(moduleWidth / moduleHeight), -3, 3);
  return {
    proportion,
    lengthened: Math.abs(proportion),
    cells: Math.log2(across * down) / 3,
    pixels: size(Math.min(moduleWidth, moduleHeight)),
    round: ((isPowerOfTwo(across) ? 1 : 0) + (isPowerOfTwo(down) ? 1 : 0)) / 2,
    single: across === 1 || down === 1 ? 1 : 0,
  };
}

/** Whether what repeats is the picture itself. */
function copySigns({ across = 1, down = 1 }: Candidate, copies: CopySigns) {
  const alike = (of: "across" | "down", count: number) => cut(copies.alike[of][count] ?? 0, -0.2, 1);
  const isLaid = copies.across * copies.down > 1;
  return {
    alikeAcross: alike("across", across),
    alikeDown: alike("down", down),
    copies: isLaid ? 1 : 0,
    copyFits: isLaid && across % copies.across === 0 && down % copies.down === 0 ? 1 : 0,
    copyItself: isLaid && across === copies.across && down === copies.down ? 1 : 0,
  };
}

const mostAlike = ({ alike }: CopySigns) =>
  cut(Math.max(0, ...[...alike.across, ...alike.down].filter((value) => value !== undefined)), 0, 1);
