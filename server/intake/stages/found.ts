import type { GivenSet, IgnoredFile } from "#core/candidates/candidate";
import type { LicenceProposal } from "#core/maps/readLicence";
import type { ModelHint } from "#server/intake/queries";
import type { VariantSheet } from "#server/supplier/queries";

/** A file of an intake that may be an image: what it is called, where it came from, where it is kept. */
export interface Found {
  file: string;
  scope: string;
  sha256: string;
  bytes: number;
  given?: GivenSet;
}

/** What a licence text says, and for which files: those of its scope, in its folder or below. */
export interface FoundLicence {
  scope: string;
  folder: string;
  file: string;
  proposal: LicenceProposal;
}

export interface Unpacked {
  found: Found[];
  ignored: IgnoredFile[];
  licences: FoundLicence[];
  /** What models said beside their maps, by scope and set, with a line end between, which is in neither. */
  hints: Map<string, ModelHint>;
  /** What product sheets said, by set. */
  sheets: Map<string, VariantSheet>;
  /** Products without pictures. */
  plain: { scope: string; sheet: VariantSheet }[];
  /** All that came out of zips. */
  bytes: number;
}
