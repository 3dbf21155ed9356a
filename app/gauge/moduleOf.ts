import { blockWidths } from "#core/gauge/blockWidths";
import type { ModuleCount } from "#core/gauge/findModules";
import type { Lattice } from "#core/gauge/layLattice";
import type { RepeatMethod } from "#core/gauge/repeat";
import type { Repeat } from "#core/length/repeat";

/** A module as it lies on a surface, mm: from one to the next, and the joint in between. */
export interface ModuleOnSurface {
  across?: { coordinating: number; joint: number };
  up?: { coordinating: number; joint: number };
}

/** What was counted when the size was found, with the joints between; also where it was fitted to a surface since. */
export function countedOf(gauge: Record<string, unknown> | null) {
  const method = gauge as RepeatMethod | null;
  if (method?.method === "fitted") return method.counted;
  if (method?.method !== "modules") return undefined;
  const { across, up, coverSize, joint = 0, jointVertical = joint } = method;
  return {
    ...(across !== undefined && { across }),
    ...(up !== undefined && { up }),
    joint: coverSize ? 0 : joint,
    jointVertical: coverSize ? 0 : jointVertical,
  };
}

/**
 * The module of a material: the one by which its size was found; else what the program counted, whose joints nobody knows.
 */
export function moduleOf(
  repeat: Repeat,
  gauge: Record<string, unknown> | null,
  count: ModuleCount | undefined,
): ModuleOnSurface {
  const { across, down } = count ? blockWidths(count) : {};
  const said = countedOf(gauge) ?? { joint: 0, jointVertical: 0 };
  // A direction that was left out, as the length of boards, is still what the program counted, if they agree on the other.
  const agreed =
    (said.across === undefined || said.across === across) && (said.up === undefined || said.up === down);
  const { joint, jointVertical, ...counted } = { ...(agreed && { across, up: down }), ...said };
  return {
    ...(counted.across !== undefined && { across: { coordinating: repeat.width / counted.across, joint } }),
    ...(counted.up !== undefined && {
      up: { coordinating: repeat.height / counted.up, joint: jointVertical },
    }),
  };
}

/**
 * By how much the maps have to be moved, in shares of their width and height, so that a whole module begins so far from
 * the left edge and from the bottom edge of the image, as it lies on a surface from its lower left corner.
 * @param origin mm from the left, and from the bottom
 */
export function startFor(
  lattice: Lattice,
  image: { width: number; height: number },
  repeat: Repeat,
  origin: { left: number; bottom: number },
): { right: number; down: number } {
  const right = origin.left / repeat.width - lattice.left / image.width;
  // The bed over the lowest course lies at the bottom edge; the lattice counts from the top.
  const lowest = Math.round((image.height - lattice.top) / lattice.height) * lattice.height + lattice.top;
  const down = (image.height - lowest) / image.height - origin.bottom / repeat.height;
  return { right: within(right), down: within(down) };
}

/** The same place in a repeating image, −½ to ½. */
const within = (share: number) => share - Math.round(share);
