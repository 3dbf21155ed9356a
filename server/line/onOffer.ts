import { offeredVariants, type Offered } from "#core/library/offeredVariants";
import type { LineMemberRow } from "#server/line/queries";
import { readCatalogue } from "#server/supplier/catalogue";

/** What the supplier offers of a line and the library has not. */
export interface OnOffer extends Offered {
  /** The line in the supplier's catalogue. */
  line: string;
}

/** @returns undefined where no catalogue has the line */
export async function missingOnOffer(
  line: { name: string; supplier: string | null },
  members: readonly LineMemberRow[],
): Promise<OnOffer | undefined> {
  const { catalogue } = await readCatalogue();
  const offered = catalogue?.lines.find(
    ({ name, supplier }) => name === line.name && supplier === line.supplier,
  );
  return offered && { line: offered.id, ...offeredVariants(offered, members) };
}
