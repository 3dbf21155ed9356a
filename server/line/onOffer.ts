import { heldVariant } from "#core/supply/heldVariant";
import type { LineMemberRow } from "#server/line/queries";
import { readCatalogue } from "#server/supplier/catalogue";

/** What the supplier offers of a line and the library has not. */
export interface OnOffer {
  /** The line in the supplier's catalogue. */
  line: string;
  products: { code: string; name: string; joint: string | null; jointName: string | null; hex: string }[];
}

/** @returns undefined where no catalogue has the line */
export async function missingOnOffer(
  line: { name: string; supplier: string },
  members: readonly LineMemberRow[],
): Promise<OnOffer | undefined> {
  const { catalogue } = await readCatalogue();
  const offered = catalogue?.lines.find(
    ({ name, supplier }) => name === line.name && supplier === line.supplier,
  );
  if (!offered) return undefined;
  const held = members.map(({ productCode, variant }) => ({ code: productCode ?? "", variant }));
  return {
    line: offered.id,
    products: offered.products.flatMap((product) => {
      const joints = product.joints.length === 0 ? [null] : product.joints;
      return joints
        .filter((joint) => !heldVariant(held, product, joint?.id ?? null))
        .map((joint) => ({
          ...{ code: product.code, name: product.name, hex: product.hex },
          ...{ joint: joint?.id ?? null, jointName: joint?.name ?? null },
        }));
    }),
  };
}
