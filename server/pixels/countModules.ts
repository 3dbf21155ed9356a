import { countTogether } from "#core/gauge/countTogether";
import { SURE, type ModuleCount } from "#core/gauge/findModules";
import { findPitches, type Pitches } from "#core/gauge/pitch/findPitches";
import { grainOf, type Grain } from "#core/gauge/grain";
import { jointWidths, type JointWidths } from "#core/gauge/jointWidth";
import { layLattice, type Lattice } from "#core/gauge/layLattice";
import { lumaOf, resample, type Plane } from "#core/raster/plane";
import { decode } from "#server/pixels/decode";

export interface CountTask {
  files: { path: string; format: string; use: "color" | "data" }[];
  /** Whether the picture goes on at its other side: then it holds whole modules. */
  seamless: boolean;
}

export interface CountedModules {
  /** Where the picture is seamless. */
  count?: ModuleCount;
  lattice?: Lattice;
  /** Of its joints, where they can be told. */
  joints?: JointWidths;
  /** What the height map holds, where that is another number. */
  heightCount?: ModuleCount;
  /** Which way its grain runs. */
  grain?: Grain;
  /** The counting broke off; it is not tried again. */
  failed?: boolean;
  /** Where it is not: the pitch in pixels, as far as there is one. */
  pitch?: Pitches;
}

/** Looks for what repeats in the maps of one material, all of one size. */
export async function countModules({ files, seamless }: CountTask): Promise<CountedModules> {
  const planes: Plane[] = [];
  for (const { path, format, use } of files) planes.push(lumaOf(await decode(path, format, use)));
  const alike = planes.filter(
    ({ width, height }) => width === planes[0].width && height === planes[0].height,
  );
  const reduced = alike.map(withinEnough);
  return { ...countIn(alike, reduced, seamless), grain: grainOf(reduced[0]) };
}

/** Pixels along the longer side that are enough for all but the width of joints: the rest of a large picture is gone through once. */
const ENOUGH = 2048;

function withinEnough(plane: Plane): Plane {
  const by = Math.max(1, plane.width / ENOUGH, plane.height / ENOUGH);
  return resample(plane, Math.round(plane.width / by), Math.round(plane.height / by));
}

function countIn(alike: Plane[], reduced: Plane[], seamless: boolean): CountedModules {
  if (seamless) return counted(alike[0], reduced);
  const [{ width, height }] = alike;
  const pitch = findPitches(alike);
  // An edge that shows may still lie between whole modules: then they are counted all the same.
  const periods = [pitch.across && width / pitch.across, pitch.down && height / pitch.down].filter(
    (count) => count !== undefined,
  );
  if (periods.length > 0 && periods.every((count) => Math.abs(count - Math.round(count)) < WHOLE)) {
    const found = counted(alike[0], reduced);
    if (found.count && found.count.sure >= SURE) return found;
  }
  return { pitch };
}

/** So much of a pitch may be left over, and the picture still holds whole ones. */
const WHOLE = 0.02;

function counted(original: Plane, [base, height]: Plane[]): CountedModules {
  const { count, heightCount } = countTogether(base, height);
  const found = count.across !== undefined || count.down !== undefined;
  if (!found) return { count, ...(heightCount && { heightCount }) };
  const lattice = scaled(layLattice(base, count), original.width / base.width, original.height / base.height);
  return {
    count,
    ...(heightCount && { heightCount }),
    lattice,
    joints: jointWidths(original, lattice, count),
  };
}

function scaled({ left, top, width, height, ...lattice }: Lattice, across: number, down: number): Lattice {
  return { ...lattice, left: left * across, top: top * down, width: width * across, height: height * down };
}
