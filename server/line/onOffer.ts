import { colorOrder } from "#core/library/colorTerms";
import { linearToLab } from "#core/raster/lab";
import { hexToLinear } from "#core/raster/srgb";
import { variantOf } from "#core/supply/catalogue";
import { heldVariant } from "#core/supply/heldVariant";
import type { LineMemberRow } from "#server/line/queries";
import { readCatalogue } from "#server/supplier/catalogue";

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

/** What the supplier offers of a line and the library has not. */
export interface OnOffer {
  /** The line in the supplier's catalogue. */
  line: string;
  products: OfferedVariant[];
  /** In what members differ as the catalogue says it, by their ids: a joint that nobody told is the product's first. */
  variants: Record<string, Record<string, string>>;
}

/** @returns undefined where no catalogue has the line */
export async function missingOnOffer(
  line: { name: string; supplier: string },
  members: readonly Pick<LineMemberRow, "id" | "productCode" | "variant">[],
): Promise<OnOffer | undefined> {
  const { catalogue } = await readCatalogue();
  const offered = catalogue?.lines.find(
    ({ name, supplier }) => name === line.name && supplier === line.supplier,
  );
  if (!offered) return undefined;
  const held = members.map(({ id, productCode, variant }) => ({ id, code: productCode ?? "", variant }));
  const found: OnOffer = { line: offered.id, products: [], variants: {} };
  for (const product of offered.products)
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
