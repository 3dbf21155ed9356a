/** A prim of an OpenUSD layer, however that is written. */
export interface UsdPrim {
  type: string;
  name: string;
  /** By name; of a value in brackets what stands in them. What an input is connected to is called after it: `inputs:st.connect`. */
  values: Map<string, UsdValue>;
  children: UsdPrim[];
}

export interface UsdValue {
  kind: "word" | "string" | "asset" | "path" | "mark" | "array";
  text: string;
}

export interface UsdLayer {
  prims: UsdPrim[];
  /** As it says; without that a unit is a centimetre. */
  metersPerUnit: number | undefined;
}

/** Prims within prims that are followed: deeper than anything real. */
export const DEEPEST_PRIM = 64;

export const newPrim = (type: string, name: string): UsdPrim => ({
  type,
  name,
  values: new Map(),
  children: [],
});
