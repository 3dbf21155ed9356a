import { readFile } from "node:fs/promises";
import { readProductSheet, type ProductSheet } from "#core/supply/productSheet";

/** Reads a product sheet. @throws {Refusal} with what is wrong in it */
export async function readSheet({ path }: { path: string }): Promise<ProductSheet> {
  return readProductSheet(await readFile(path, "utf8"));
}
