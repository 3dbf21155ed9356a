import { blockWidths, slantedPeriod } from "#core/gauge/blockWidths";
import type { ModuleCount } from "#core/gauge/findModules";
import type { ModuleSize, PixelSize, RepeatMethod } from "#core/gauge/repeat";

/** What one module measures: without its joint and with the joints beside and above it, or by the part that shows. In mm. */
export interface Module {
  workSize?: ModuleSize;
  joint?: number;
  /** `joint` unless given. */
  jointVertical?: number;
  coverSize?: ModuleSize;
  /** As how many modules one piece shows. */
  looksLike?: { across: number; down: number };
}

type CountedModules = Extract<RepeatMethod, { method: "modules" }>;

/** The block of a herringbone may be longer or shorter than counted by so much, as a share. */
const SAME_LENGTH = 0.06;

/**
 * The size that a module gives to a picture in which modules were counted.
 * @param standing width and height exchanged
 * @returns undefined where such a module cannot lie so: boards have no length, and a herringbone is not of squares
 */
export function layModule(
  module: Module,
  count: ModuleCount,
  image: PixelSize,
  standing: boolean,
): CountedModules | undefined {
  const { across, down } = count;
  switch (count.bond) {
    case "herringbone":
    case "herringbone45":
      return standing ? undefined : herringbone(module, count, image);
    case "flemish":
      return standing ? undefined : flemish(module, count);
    case "basket":
      return standing ? undefined : basket(module, count);
    default: {
      const laid = standing ? turned(module) : module;
      const { width, height } = laid.coverSize ?? laid.workSize ?? {};
      const isAcross = across !== undefined && width !== undefined;
      const isUp = down !== undefined && height !== undefined;
      if (!isAcross && !isUp) return undefined;
      const size = { ...(isAcross && { width }), ...(isUp && { height }) };
      return {
        method: "modules",
        ...(isAcross && { across }),
        ...(isUp && { up: down }),
        ...(laid.coverSize ? { coverSize: size } : { workSize: size, joint: laid.joint ?? 0 }),
        ...(laid.jointVertical !== undefined && { jointVertical: laid.jointVertical }),
        ...(laid.looksLike && { looksLike: laid.looksLike }),
      };
    }
  }
}

/** The same module on its end. */
function turned({ workSize, coverSize, joint, jointVertical, looksLike }: Module): Module {
  const turn = ({ width, height }: ModuleSize): ModuleSize => ({
    ...(height !== undefined && { width: height }),
    ...(width !== undefined && { height: width }),
  });
  return {
    ...(workSize && { workSize: turn(workSize) }),
    ...(coverSize && { coverSize: turn(coverSize) }),
    ...(joint !== undefined && { joint: jointVertical ?? joint }),
    ...(jointVertical !== undefined && joint !== undefined && { jointVertical: joint }),
    ...(looksLike && { looksLike: { across: looksLike.down, down: looksLike.across } }),
  };
}

interface Block {
  long: number;
  short: number;
  joint: number;
}

/** A piece with two sides and a joint. */
function blockOf({ workSize, joint = 0 }: Module): Block | undefined {
  const { width, height } = workSize ?? {};
  if (width === undefined || height === undefined) return undefined;
  return { long: Math.max(width, height), short: Math.min(width, height), joint };
}

const isWhole = (count: ModuleCount): count is ModuleCount & { across: number; down: number } =>
  count.across !== undefined && count.down !== undefined;

/** Counted by the widths of its blocks; at 45° by the periods that follow from such a width. */
function herringbone(module: Module, count: ModuleCount, image: PixelSize): CountedModules | undefined {
  const block = blockOf(module);
  if (!block || !isWhole(count)) return undefined;
  const { long, short, joint } = block;
  if (Math.abs((long + joint) / (short + joint) / (count.blockLength ?? 2) - 1) > SAME_LENGTH)
    return undefined;
  const { across, down } = blockWidths(count);
  if (count.bond === "herringbone")
    return { method: "modules", across, up: down, workSize: { width: short, height: short }, joint };
  const cell = { width: image.width / count.across, height: image.height / count.down };
  return { method: "modules", across, up: down, workSize: slantedPeriod(short + joint, cell), joint: 0 };
}

/** Counted by its headers, which are half as long as a stretcher with their joints. */
function flemish(module: Module, count: ModuleCount): CountedModules | undefined {
  const block = blockOf(module);
  if (!block || !isWhole(count)) return undefined;
  const { long, short, joint } = block;
  const header: Module = { ...module, workSize: { width: (long + joint) / 2 - joint, height: short } };
  const laid = count.upright ? turned(header) : header;
  if ((long + joint) / 2 <= joint) return undefined;
  const { across, down } = blockWidths(count);
  return {
    ...{ method: "modules", across, up: down, workSize: laid.workSize, joint: laid.joint ?? 0 },
    ...(laid.jointVertical !== undefined && { jointVertical: laid.jointVertical }),
  };
}

/** Counted by its squares, each as wide as a block is long. */
function basket(module: Module, count: ModuleCount): CountedModules | undefined {
  const block = blockOf(module);
  if (!block || !isWhole(count)) return undefined;
  const { long, joint } = block;
  return {
    ...{ method: "modules", across: count.across, up: count.down },
    ...{ workSize: { width: long, height: long }, joint },
  };
}
