import { z } from "zod";
import type { Role } from "#core/roles/roles";

const edges = {
  /** In which directions; the other stays as it is. */
  across: z.boolean().default(true),
  down: z.boolean().default(true),
};
const someEdge = ({ across, down }: { across: boolean; down: boolean }) => across || down;
const NO_EDGE = "Choose at least one direction.";
const share = z.number().min(0).max(1);
const step = z.number().int().min(-12).max(12);

/** How maps are derived from others; kept with the material, so that it can be told and done again. */
export const mendRecipeSchema = z.discriminatedUnion("kind", [
  z
    .object({ kind: z.literal("seams"), ...edges })
    .strict()
    .refine(someEdge, NO_EDGE),
  z
    .object({ kind: z.literal("crop"), ...edges })
    .strict()
    .refine(someEdge, NO_EDGE),
  /** A picture that holds itself several times beside itself, cut to one of them. */
  z
    .object({
      kind: z.literal("one-copy"),
      across: z.number().int().min(1).max(64),
      down: z.number().int().min(1).max(64),
    })
    .strict()
    .refine(({ across, down }) => across * down > 1, "It holds itself once: there is nothing to cut."),
  z
    .object({
      kind: z.literal("even-out"),
      /** What counts as slow light and dark, as a share of the image. */
      size: z.number().min(0.05).max(0.5).default(0.25),
      strength: share.default(1),
    })
    .strict(),
  /** Begins elsewhere: moved by shares of the width and the height. */
  z
    .object({ kind: z.literal("start"), right: z.number().min(-1).max(1), down: z.number().min(-1).max(1) })
    .strict(),
  /** See core/mend/turn. */
  z
    .object({ kind: z.literal("turn"), right: step, down: step, left: step, below: step })
    .strict()
    .refine(({ right, down, left, below }) => right * below + down * left > 0, "This is no turn."),
  z.object({ kind: z.literal("height-from-normal") }).strict(),
  z.object({ kind: z.literal("normal-from-height") }).strict(),
  z
    .object({
      kind: z.literal("occlusion-from-height"),
      /** How far what stands higher takes light away. */
      reachMm: z.number().min(0.1).max(2000).default(40),
    })
    .strict(),
  z
    .object({
      kind: z.literal("height-from-color"),
      /** Real difference between the deepest and the highest. */
      depthMm: z.number().min(0.01).max(500).default(3),
      darkIsDeep: z.boolean().default(true),
      /** 0: only coarse relief, 1: all of the grain. */
      fine: share.default(0.3),
    })
    .strict(),
  z
    .object({
      kind: z.literal("roughness-from-color"),
      level: share.default(0.7),
      /** Roughness between what is dark and what is light. */
      variation: share.default(0.15),
      darkIsRough: z.boolean().default(true),
    })
    .strict(),
]);
export type MendRecipe = z.infer<typeof mendRecipeSchema>;
export type MendKind = MendRecipe["kind"];

interface Making {
  /** The map that is made, and the first of these that is there serves as its source. */
  makes: Role;
  from: Role[];
  /** A guess from the picture, and not a conversion of what is known. */
  estimate: boolean;
}

/** Recipes that make a map that was missing. */
export const MAKINGS = {
  "height-from-normal": { makes: "height", from: ["geometry_normal"], estimate: false },
  "normal-from-height": { makes: "geometry_normal", from: ["height", "bump"], estimate: false },
  "occlusion-from-height": { makes: "ambient_occlusion", from: ["height", "bump"], estimate: false },
  "height-from-color": { makes: "height", from: ["base_color"], estimate: true },
  "roughness-from-color": { makes: "specular_roughness", from: ["base_color"], estimate: true },
} as const satisfies Partial<Record<MendKind, Making>>;
export type MakingKind = keyof typeof MAKINGS;
export type MakingRecipe = Extract<MendRecipe, { kind: MakingKind }>;

export const isMaking = (recipe: MendRecipe): recipe is MakingRecipe => recipe.kind in MAKINGS;

/** A turn that moves samples and changes none, and needs no repeat. */
export const isQuarterTurn = (recipe: MendRecipe) =>
  recipe.kind === "turn" && (recipe.right === 0 || recipe.down === 0);

/** Other roles that say the same, so that nothing is missing where one of them is there. */
const STANDS_FOR: Partial<Record<Role, Role[]>> = {
  height: ["height", "bump"],
  specular_roughness: ["specular_roughness", "gloss"],
};

/** What can be made for a material that has these roles, and from which of them. */
export function possibleMakings(roles: Role[]): { kind: MakingKind; from: Role }[] {
  return (Object.keys(MAKINGS) as MakingKind[]).flatMap((kind) => {
    const making: Making = MAKINGS[kind];
    const there = (STANDS_FOR[making.makes] ?? [making.makes]).some((role) => roles.includes(role));
    const from = making.from.find((role) => roles.includes(role));
    return from && !there ? [{ kind, from }] : [];
  });
}

const WORDS: Record<MendKind, string> = {
  seams: "Seams mended",
  crop: "Cropped to whole modules",
  "one-copy": "Cut to one copy of itself",
  "even-out": "Slow light and dark evened out",
  start: "Start moved",
  turn: "Turned",
  "height-from-normal": "Height made from the normal map",
  "normal-from-height": "Normal map made from the height",
  "occlusion-from-height": "Ambient occlusion made from the height",
  "height-from-color": "Height estimated from the colours",
  "roughness-from-color": "Roughness estimated from the colours",
};

/** The recipe in a few words, for the note of a revision. */
export function mendWords(recipe: MendRecipe): string {
  const words = WORDS[recipe.kind];
  if (recipe.kind === "turn") {
    const angle = Math.atan2(recipe.down, recipe.right);
    const isQuarter = recipe.right === 0 || recipe.down === 0;
    return isQuarter
      ? `${words} by ${(360 + Math.round((angle * 180) / Math.PI)) % 360}° to the left`
      : words;
  }
  if (recipe.kind !== "seams" && recipe.kind !== "crop") return words;
  if (recipe.across && recipe.down) return words;
  return `${words} ${recipe.across ? "left to right" : "top to bottom"}`;
}

/** How a map was derived, in a word for its label. */
export const derivedWords = (kinds: MendKind[]): string =>
  kinds.map((kind) => WORDS[kind].charAt(0).toLowerCase() + WORDS[kind].slice(1)).join(", ");
