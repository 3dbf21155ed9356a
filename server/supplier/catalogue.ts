import type { Catalogue } from "#core/supply/catalogue";
import { ownSupplierClient, SupplierError } from "#server/supplier/client";

/** How long what was read counts as fresh, and for how long a service at fault is not asked again. */
const FRESH_MS = 60_000;
const FAULT_MS = 10_000;

export interface CatalogueReading {
  catalogue: Catalogue | null;
  fault: string | null;
}

let kept: { until: number; reading: CatalogueReading } | undefined;

/**
 * What is on offer, read again after a minute. Where the service does not answer, what was read last is shown, with the
 * fault in words; it is asked again a little later, and not by everybody at once.
 */
export async function readCatalogue(): Promise<CatalogueReading> {
  const client = ownSupplierClient();
  if (!client) return { catalogue: null, fault: null };
  if (kept && Date.now() < kept.until) return kept.reading;
  try {
    const catalogue = await client.catalogue();
    kept = { until: Date.now() + FRESH_MS, reading: { catalogue, fault: null } };
  } catch (error) {
    if (!(error instanceof SupplierError)) throw error;
    const catalogue = kept?.reading.catalogue ?? null;
    kept = { until: Date.now() + FAULT_MS, reading: { catalogue, fault: error.message } };
  }
  return kept.reading;
}
