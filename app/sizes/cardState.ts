import type { ModuleCount } from "#core/gauge/findModules";
import type { Lattice } from "#core/gauge/layLattice";
import { MUCH_STRETCH } from "#core/gauge/repeat";
import type { LengthUnit } from "#core/length/parseLength";
import type { Unsized } from "#server/sizing/sheet";
import { choiceOf, isLaidAlike, sizeOf, type SizeChoice, type Sized } from "./sizeChoice";

/** What somebody has said about one material on the sheet; the rest is as it was proposed. */
export interface CardEdit {
  across?: string;
  down?: string;
  choice?: SizeChoice;
}

/** One material on the sheet, as it stands. */
export interface CardState {
  item: Unsized;
  across: string;
  down: string;
  count: ModuleCount | undefined;
  lattice: Lattice | undefined;
  choice: SizeChoice | undefined;
  size: Sized | undefined;
  /** Why there is no size yet. */
  trouble: string | undefined;
  /** Nobody has to look at it. */
  isSure: boolean;
  /** It would stretch the picture by more than nobody means. */
  isMuch: boolean;
}

export function cardState(item: Unsized, edit: CardEdit, unit: LengthUnit): CardState {
  const found = item.modules?.count;
  const across = edit.across ?? textOf(found?.across);
  const down = edit.down ?? textOf(found?.down);
  const isAsFound = across === textOf(found?.across) && down === textOf(found?.down);
  const count = isAsFound ? countOrNone(found) : typedCount(across, down, found);
  const [first] = item.proposals;
  const choice = edit.choice ?? (first && choiceOf(first, unit));
  const sized = choice && sizeOf(choice, item.image, count, isAsFound);
  const size = sized && "repeat" in sized ? sized : undefined;
  return {
    ...{ item, across, down, count, choice, size },
    trouble: sized && "trouble" in sized ? sized.trouble : undefined,
    lattice: isAsFound ? item.modules?.lattice : latticeOf(count, item),
    // What somebody has touched has been looked at, and is taken by its own button.
    isSure: size !== undefined && size.isSure && isAsFound && edit.choice === undefined,
    isMuch: size !== undefined && Math.abs(size.stretchPercent) > MUCH_STRETCH,
  };
}

const textOf = (count: number | undefined) => (count === undefined ? "" : String(count));

const countOrNone = (found: ModuleCount | undefined) =>
  found && (found.across !== undefined || found.down !== undefined) ? found : undefined;

/** As somebody has counted: in the bond that was found. */
function typedCount(across: string, down: string, found: ModuleCount | undefined): ModuleCount | undefined {
  const read = (text: string) => (/^\d{1,4}$/.test(text) && Number(text) > 0 ? Number(text) : undefined);
  const [columns, courses] = [read(across), read(down)];
  if (columns === undefined && courses === undefined) return undefined;
  return {
    ...{ bond: found?.bond ?? "stack", sure: 0 },
    ...(found?.upright && { upright: true }),
    ...(columns !== undefined && { across: columns }),
    ...(courses !== undefined && { down: courses }),
  };
}

/** The lattice that such a count would have, from where the one that was found begins. */
function latticeOf(count: ModuleCount | undefined, { image, modules }: Unsized): Lattice | undefined {
  if (!count) return undefined;
  const { left = 0, top = 0, shift = 0, upright } = modules?.lattice ?? {};
  const size = { width: image.width / (count.across ?? 1), height: image.height / (count.down ?? 1) };
  return { left, top, shift, ...size, ...(upright && { upright }) };
}

/**
 * Others that are laid as one is or show its pattern, and what its choice makes of each by its own count. What it would stretch more than the first is left
 * out; one that is not counted covers as much, if it has the same proportions.
 */
export function alikeOf(
  state: CardState,
  all: readonly CardState[],
): { state: CardState; method: Sized["method"] }[] {
  const { choice, size, item } = state;
  if (!choice || !size) return [];
  const sides = ({ count, item: { line, image } }: CardState) => ({ line, image, count });
  const most = Math.max(MUCH_STRETCH, Math.abs(size.stretchPercent) + 0.01);
  return all.flatMap((other) => {
    const { image } = other.item;
    const isAlike = item.alike.includes(other.item.id) || isLaidAlike(sides(state), sides(other));
    if (other.item.id === item.id || !isAlike) return [];
    const sized = sizeOf(choice, image, other.count, false);
    if ("method" in sized)
      return Math.abs(sized.stretchPercent) <= most ? [{ state: other, method: sized.method }] : [];
    const isOfSameShape =
      Math.abs(image.width / image.height / (item.image.width / item.image.height) - 1) < 0.01;
    const covers = { method: "same-as" as const, material: item.id, ...size.repeat };
    return other.count === undefined && isOfSameShape ? [{ state: other, method: covers }] : [];
  });
}
