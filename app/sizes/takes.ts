import type { Sized } from "./sizeChoice";

/** A size that is taken for a material as it was seen. */
export interface Take {
  material: string;
  /** Its revision. */
  seen: number;
  method: Sized["method"];
}

/** As the server reads it. The size of another material is looked up, and not told. */
export const askedOf = (takes: readonly Take[]): string =>
  JSON.stringify({
    kind: "size",
    items: takes.map(({ material, seen, method }) => ({
      ...{ material, seen },
      size: method.method === "same-as" ? { method: method.method, material: method.material } : method,
    })),
  });
