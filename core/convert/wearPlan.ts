import { bakeWear, tileRatio, type Bake, type Pixels } from "#core/convert/bakeWear";
import type { HeightScale } from "#core/convert/kernels/layWear";
import type { PlannedLayer } from "#core/convert/materialPlan";
import type { LaidLayer, Operation } from "#core/convert/operation";
import type { Profile } from "#core/convert/profile";
import { heightAmplitude } from "#core/finish/finish";
import type { MaterialMap, MaterialState, WornLayer } from "#core/finish/material";
import { turnedSize } from "#core/finish/marks";
import { isLaid, isRelief, wornHeightMm, type WearEffect } from "#core/finish/wear";
import { wearSize } from "#core/finish/wearSize";
import type { Repeat } from "#core/length/repeat";
import type { Role } from "#core/roles/roles";

/** What becomes of a material's wear for one renderer. */
export interface WearPlan {
  /** Those that it lays on by itself. */
  layered: WornLayer[];
  baked: WornLayer[];
  /** How the second are baked; nothing where there are none. */
  bake?: Bake;
  /** What is to be said of it, in words. */
  warnings: string[];
}

const ROLES_OF_EFFECT: Record<WearEffect, Role[]> = {
  rougher: ["specular_roughness", "gloss"],
  smoother: ["specular_roughness", "gloss"],
  tint: ["base_color"],
  "cut-in": ["geometry_normal", "height", "bump"],
  "stand-out": ["geometry_normal", "height", "bump"],
};

/** Whether a layer changes what a role says. */
const wears = ({ layer }: WornLayer, role: Role): boolean => ROLES_OF_EFFECT[layer.effect].includes(role);

/** What of a material says how its wear can be laid on. */
export type WornMaterial = Pick<MaterialState, "layout" | "repeat" | "maps" | "finish" | "wear">;

/** @returns nothing where the material has no wear that changes anything */
export function planWear(
  material: WornMaterial,
  profile: Pick<Profile, "layers">,
  limit: number,
): WearPlan | undefined {
  const laid = (material.wear ?? []).filter(({ layer }) => isLaid(layer));
  if (laid.length === 0) return undefined;
  const isLayered = ({ layer }: WornLayer) => profile.layers?.effects.includes(layer.effect) ?? false;
  const [layered, baked] = [laid.filter(isLayered), laid.filter((one) => !isLayered(one))];
  const warnings = laid
    .filter((one) => wearSize(one).isAssumed)
    .map((one) => `The size of the wear “${one.name}” is assumed: ${sizeWords(wearSize(one).size)}.`);
  if (baked.length === 0) return { layered, baked, warnings };
  const ground = groundOf(material, baked[0]);
  if (ground.isGuessed)
    warnings.push(
      `The size is unknown: wear is laid on as if the material began again after ${sizeWords(ground.repeat)}.`,
    );
  const layers = baked.map((one) => ({
    size: wearSize(one).size,
    turn: one.layer.turn,
    repeats: one.layout === "repeating",
  }));
  const bake = bakeWear(ground, layers, material.finish.wearFit ?? "balance", limit);
  return { layered, baked, bake, warnings: [...warnings, ...bakeWords(baked, bake)] };
}

interface Ground {
  repeat: Repeat;
  pixels: Pixels;
  repeats: boolean;
  isGuessed: boolean;
}

/** What wear is laid over: the material's repeat, or for a plain one that of its first layer. */
function groundOf({ layout, repeat, maps }: WornMaterial, first: WornLayer): Ground {
  const base =
    maps.find(({ role }) => role === "base_color") ??
    maps.toSorted((a, b) => b.width * b.height - a.width * a.height)[0];
  if (layout === "plain" || !base) {
    const { turn } = first.layer;
    return {
      repeat: turnedSize(wearSize(first).size, turn),
      pixels: turnedSize(first.mask, turn),
      repeats: true,
      isGuessed: false,
    };
  }
  return {
    repeat: repeat ?? { width: 1000, height: (1000 * base.height) / base.width },
    pixels: { width: base.width, height: base.height },
    repeats: layout === "repeating",
    isGuessed: !repeat,
  };
}

function bakeWords(baked: WornLayer[], { across, down, area, errors, sizes, density }: Bake): string[] {
  const words: string[] = [];
  if (across * down > 1)
    words.push(
      `Wear is baked over ${across} × ${down} repeats of the material: the images begin again after ${sizeWords(area)}.`,
    );
  if (density < 0.995)
    words.push(
      `That leaves ${Math.round(100 * density)} % of the pixels per metre, as the images may not be larger.`,
    );
  for (const [i, { name }] of baked.entries()) {
    const { width, height } = errors[i];
    if (Math.max(Math.abs(width), Math.abs(height)) >= 0.0005)
      words.push(
        `The wear “${name}” is laid on ${percent(width)} in width and ${percent(height)} in height, as ${sizeWords(sizes[i])}, so that it begins again where the images do.`,
      );
  }
  return words;
}

const percent = (error: number) =>
  Math.abs(error) < 0.0005
    ? "true to size"
    : `${Math.abs(100 * error).toFixed(1)} % too ${error > 0 ? "large" : "small"}`;

const sizeWords = ({ width, height }: Repeat) =>
  `${Number(width.toFixed(1))} × ${Number(height.toFixed(1))} mm`;

/** One repeat of an image in its place among several. */
export function tileSize(size: Pixels, { across, down }: Bake, limit: number): Pixels {
  const ratio = tileRatio(size, limit, across, down);
  return {
    width: Math.max(1, Math.round(size.width * ratio)),
    height: Math.max(1, Math.round(size.height * ratio)),
  };
}

/** The whole of it. */
export const bakedSize = (tile: Pixels, { across, down }: Bake): Pixels => ({
  width: tile.width * across,
  height: tile.height * down,
});

export const tiled = ({ across, down }: Bake): Operation[] =>
  across * down > 1 ? [{ op: "tile", across, down }] : [];

/** How a height that wear cuts into or stands out of is stored: no deeper and no higher than it gets. */
export function wornHeight(
  material: MaterialState,
  baked: readonly WornLayer[],
): { from: HeightScale; to: HeightScale } {
  const { mm } = heightAmplitude(material.finish, material.repeat);
  const from = { lowestMm: -material.finish.heightMiddle * mm, spanMm: mm };
  const changes = baked.map(({ layer }) => wornHeightMm(layer, layer.strength));
  const lower = changes.filter((change) => change < 0).reduce((sum, change) => sum + change, 0);
  const higher = changes.filter((change) => change > 0).reduce((sum, change) => sum + change, 0);
  return { from, to: { lowestMm: from.lowestMm + lower, spanMm: mm - lower + higher } };
}

/** What lays the marks on, for one role, and the masks that it reads; nothing where no layer changes that role. */
export function layingFor(
  role: Role,
  material: MaterialState,
  { baked, bake }: WearPlan,
  profile: Pick<Profile, "normalDirection">,
): { operation: Operation; masks: PlannedLayer[] } | undefined {
  const layers = baked
    .map((worn, at) => ({ worn, size: bake!.sizes[at] }))
    .filter(({ worn }) => wears(worn, role));
  if (layers.length === 0) return undefined;
  const laid = layers.map(({ worn: { code, layout, layer }, size }, mask): LaidLayer => {
    const { strength, polarity, effect, amountMm, tint, turn, start } = layer;
    return {
      of: code,
      mask,
      size,
      repeats: layout === "repeating",
      strength,
      polarity,
      effect,
      ...(isRelief(effect) && { amountMm }),
      ...(effect === "tint" && { tint }),
      ...(turn && { turn }),
      ...(start && { start }),
    };
  });
  return {
    operation: { op: "wear", image: imageOf(role, material, baked, profile), area: bake!.area, layers: laid },
    masks: layers.map(({ worn: { mask } }) => ({ source: mask, operations: maskOperations(mask) })),
  };
}

function imageOf(
  role: Role,
  material: MaterialState,
  baked: readonly WornLayer[],
  { normalDirection: green }: Pick<Profile, "normalDirection">,
): Extract<Operation, { op: "wear" }>["image"] {
  if (role === "base_color") return { on: "color" };
  if (role === "geometry_normal") return { on: "normal", green };
  if (role === "height" || role === "bump") return { on: "height", ...wornHeight(material, baked) };
  return { on: role === "gloss" ? "gloss" : "roughness" };
}

/** From the file of a layer to its values. */
export function maskOperations({ channel, channels }: MaterialMap): Operation[] {
  if (channel !== "color") return [{ op: "take-channel", channel }];
  return channels >= 3 ? [{ op: "to-grey" }] : channels === 2 ? [{ op: "drop-alpha" }] : [];
}
