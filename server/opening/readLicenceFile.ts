import { open } from "node:fs/promises";
import { readLicence, type LicenceProposal } from "#core/maps/readLicence";
import { plainLine, plainText } from "#core/text/plainText";

/** A licence is shorter; a longer text is not read to its end. */
export const LARGEST_LICENCE = 256 * 1024;

/** What a text file says of a licence. */
export async function readLicenceFile({ path }: { path: string }): Promise<LicenceProposal | undefined> {
  const handle = await open(path);
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(LARGEST_LICENCE), 0, LARGEST_LICENCE, 0);
    const proposal = readLicence(plainText(buffer.toString("utf8", 0, bytesRead), LARGEST_LICENCE));
    if (!proposal) return undefined;
    const { credit, sentence } = proposal;
    return { ...proposal, credit: credit && plainLine(credit), sentence: plainLine(sentence) };
  } finally {
    await handle.close();
  }
}
