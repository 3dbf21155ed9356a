import type { Repeat } from "#core/length/repeat";
import type { Corrections, Finish } from "#core/finish/finish";
import type { WearLayer } from "#core/finish/wear";
import type { MapChannel } from "#core/roles/channel";
import type { NormalDirection, Role } from "#core/roles/roles";

export const MATERIAL_KINDS = ["material", "wear", "environment"] as const;
export type MaterialKind = (typeof MATERIAL_KINDS)[number];

export const LAYOUTS = ["repeating", "placed", "cut-outs", "plain"] as const;
export type Layout = (typeof LAYOUTS)[number];

export const SIZE_STATES = ["known", "assumed", "unknown"] as const;
/** "known": from a product dimension or a measurement; "assumed": a guess; "unknown": nothing. */
export type SizeState = (typeof SIZE_STATES)[number];

/** One image in one role, as a revision of a material keeps it. */
export interface MaterialMap {
  role: Role;
  sha256: string;
  channel: MapChannel;
  /** Name the file came with. */
  fileName: string;
  normalDirection: NormalDirection | null;
  width: number;
  height: number;
  bitDepth: number;
  channels: number;
}

/** A wear layer with what it refers to. */
export interface WornLayer {
  layer: WearLayer;
  code: string;
  name: string;
  layout: Layout;
  repeat: Repeat | null;
  sizeState: SizeState;
  mask: MaterialMap;
}

/** What is known of the product that a material is. */
export interface MaterialFacts {
  supplier: string | null;
  product: string | null;
  productCode: string | null;
  page: string | null;
  thicknessMm: number | null;
  /** Classes, as their standards name them. */
  frost: string | null;
  slip: string | null;
  fire: string | null;
}

/** One revision of a material, as far as looking at it and converting it need. */
export interface MaterialState {
  id: string;
  code: string;
  name: string;
  /** Stable name for folders and files; never changes, unlike `name`. */
  fileName: string;
  revision: number;
  layout: Layout;
  repeat: Repeat | null;
  sizeState: SizeState;
  finish: Finish;
  corrections?: Corrections;
  maps: MaterialMap[];
  /** What the wear layers of the finish refer to, in their order. */
  wear?: WornLayer[];
  facts?: MaterialFacts;
}

/** What a material still lacks before it can be used at its real size, in words; empty when it is ready. */
export function missingOf(
  material: Pick<MaterialState, "layout" | "sizeState"> & {
    kind: MaterialKind;
    maps: Pick<MaterialMap, "role">[];
  },
): string[] {
  if (material.layout === "plain" || material.kind === "environment") return [];
  const missing: string[] = [];
  if (material.sizeState === "unknown") missing.push("size");
  const roles = new Set(material.maps.map((map) => map.role));
  const isWear = material.kind === "wear";
  if (!roles.has(isWear ? "wear_mask" : "base_color")) missing.push(isWear ? "wear marks" : "base color");
  return missing;
}
