import { countTogether } from "#core/gauge/countTogether";
import { SURE, type ModuleCount } from "#core/gauge/findModules";
import { findPitch } from "#core/gauge/findPitch";
import { grainOf, type Grain } from "#core/gauge/grain";
import { jointWidths, type JointWidths } from "#core/gauge/jointWidth";
import { layLattice, type Lattice } from "#core/gauge/layLattice";
import { lumaOf, type Plane } from "#core/raster/plane";
import { decode } from "#server/images/decode";

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
  pitch?: { across?: number; down?: number };
}

/** Looks for what repeats in the maps of one material, all of one size. */
export async function countModules({ files, seamless }: CountTask): Promise<CountedModules> {
  const planes: Plane[] = [];
  for (const { path, format, use } of files) planes.push(lumaOf(await decode(path, format, use)));
  const alike = planes.filter(
    ({ width, height }) => width === planes[0].width && height === planes[0].height,
  );
  return { ...countIn(alike, seamless), grain: grainOf(alike[0]) };
}

function countIn(alike: Plane[], seamless: boolean): CountedModules {
  if (seamless) return counted(alike);
  const [{ width, height }] = alike;
  const pitch = { across: findPitch(alike, "across")?.pixels, down: findPitch(alike, "down")?.pixels };
  // An edge that shows may still lie between whole modules: then they are counted all the same.
  const periods = [pitch.across && width / pitch.across, pitch.down && height / pitch.down].filter(
    (count) => count !== undefined,
  );
  if (periods.length > 0 && periods.every((count) => Math.abs(count - Math.round(count)) < WHOLE)) {
    const found = counted(alike);
    if (found.count && found.count.sure >= SURE) return found;
  }
  return { pitch };
}

/** So much of a pitch may be left over, and the picture still holds whole ones. */
const WHOLE = 0.02;

function counted([base, height]: Plane[]): CountedModules {
  const { count, heightCount } = countTogether(base, height);
  const found = count.across !== undefined || count.down !== undefined;
  if (!found) return { count, ...(heightCount && { heightCount }) };
  const lattice = layLattice(base, count);
  return { count, ...(heightCount && { heightCount }), lattice, joints: jointWidths(base, lattice, count) };
}
