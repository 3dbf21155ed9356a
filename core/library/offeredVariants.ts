import { colorOrder } from "#core/library/colorTerms";
import { linearToLab } from "#core/raster/lab";
import { hexToLinear } from "#core/raster/srgb";
import { variantOf, type Line } from "#core/supply/catalogue";
import { heldVariant } from "#core/supply/heldVariant";

/** One variant that is on offer. */
export interface OfferedVariant {
  code: string;
  name: string;
  joint: string | null;
  jointName: string | null;
  hex: string;
  /** In what it differs from the others of its line, and its place in a row of colours. */
  variant: Record<string, string>;
  colorOrder: number;
}

/** A material of the line that the library has. */
interface Member {
  id: string;
  productCode: string | null;
  variant: Record<string, string>;
}

export interface Offered {
  /** What the line has and the library has not. */
  products: OfferedVariant[];
  /** In what members differ as the catalogue says it, by their ids: a joint that nobody told is the product's first. */
  variants: Record<string, Record<string, string>>;
}

/** Holds a line of a catalogue against what the library has of it. */
export function offeredVariants({ products }: Pick<Line, "products">, members: readonly Member[]): Offered {
  const held = members.map(({ id, productCode, variant }) => ({ id, code: productCode ?? "", variant }));
  const found: Offered = { products: [], variants: {} };
  for (const product of products)
    for (const joint of product.joints.length === 0 ? [null] : product.joints) {
      const variant = variantOf(product, joint?.id ?? null);
      const member = heldVariant(held, product, joint?.id ?? null);
      if (member) found.variants[member.id] = { ...variant, ...member.variant };
      else
        found.products.push({
          ...{ code: product.code, name: product.name, hex: product.hex, variant },
          ...{ joint: joint?.id ?? null, jointName: joint?.name ?? null },
          colorOrder: colorOrder([{ lab: linearToLab(...hexToLinear(product.hex)), share: 1 }]),
        });
    }
  return found;
}
