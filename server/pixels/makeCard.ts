import { writeFile } from "node:fs/promises";
import { zipSync } from "fflate";
import { cardFileName, cardPage } from "#core/card/cardPage";
import { CARD_FILES } from "#core/card/layout";
import { paintCard } from "#core/card/paintCard";
import { encode } from "#server/pixels/encode";

export interface MakeCardTask {
  number: number;
  /** Path of the zip to write. */
  to: string;
}

/** A time that a zip can hold, so that a card is the same file whenever it is made. */
const MADE = new Date(2000, 0, 1);

/** Paints a test card as a zip: its images, and the page that says where each goes. */
export async function makeCard({ number, to }: MakeCardTask): Promise<void> {
  const files: Record<string, Uint8Array> = { "read-me.txt": Buffer.from(cardPage(number)) };
  for (const file of CARD_FILES)
    files[cardFileName(number, file)] = await encode(paintCard(file, number), "png");
  // Images are compressed already.
  await writeFile(to, zipSync(files, { level: 0, mtime: MADE }));
}
