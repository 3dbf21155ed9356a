import { Refusal } from "#core/text/refusal";
import { SHEET_NAME, type ProductSheet, type SheetFile } from "#core/supply/productSheet";
import type { IgnoredFile } from "#core/candidates/candidate";
import { database } from "#server/db/database";
import { listKept } from "#server/store/sql";
import type { VariantSheet } from "#server/supplier/queries";
import { fileStore } from "#server/store/store";
import type { KeptFiles } from "#server/intake/stages/keptFiles";
import type { Kept } from "#server/store/fileStore";
import type { Found } from "#server/intake/stages/found";
import { isOwnFault } from "#server/ownFault";
import { pool } from "#server/pool/pool";
import type { TaskLimits } from "#server/pool/processPool";
import { sentenceOf } from "#server/sentenceOf";

const LARGEST_SHEET = 16 * 2 ** 20;

export const isProductSheet = (file: string) => file.split("/").at(-1) === SHEET_NAME;

export interface OpenedSheets {
  found: Found[];
  ignored: IgnoredFile[];
  /** By set. */
  sheets: Map<string, VariantSheet>;
  /** Products without pictures. */
  plain: VariantSheet[];
  /** Files that a sheet accounts for, by scope and path. */
  used: Set<string>;
}

/**
 * Reads the product sheets among the files of one scope: each product with files becomes a set with the roles that the
 * sheet gives. A file that is not what its sheet promises is set aside; one that was left out because the library has it
 * is taken from there.
 */
export async function openSheets(
  scope: string,
  files: KeptFiles,
  limits: Partial<TaskLimits>,
): Promise<OpenedSheets> {
  const opened: OpenedSheets = { found: [], ignored: [], sheets: new Map(), plain: [], used: new Set() };
  for (const [path, kept] of files.list()) {
    if (!isProductSheet(path)) continue;
    const shown = scope === "" ? path : `${scope}/${path}`;
    try {
      if (kept.bytes > LARGEST_SHEET)
        throw new Refusal("The product sheet is larger than 16 MiB; it was not read.");
      const sheet = await fileStore().withLocal([kept.sha256], (pathOf) =>
        pool.readSheet({ path: pathOf(kept.sha256) }, limits),
      );
      const problems = await addProducts(opened, scope, path, sheet, files);
      opened.ignored.push({
        file: shown,
        kind: "text",
        reason: [
          `The product sheet of ${sheet.supplier.name}, ${sheet.line.name}: ${count(sheet.products.length, "variant")}.`,
          ...problems.slice(0, 6),
          ...(problems.length > 6 ? [`And ${problems.length - 6} more of this kind.`] : []),
        ].join(" "),
      });
    } catch (error) {
      if (isOwnFault(error) || limits.signal?.aborted) throw error;
      const reason = sentenceOf(error, "The product sheet is damaged; it was not read.");
      opened.ignored.push({ file: shown, kind: "set-aside", reason });
    }
  }
  return opened;
}

const count = (n: number, what: string) => `${n} ${what}${n === 1 ? "" : "s"}`;

async function addProducts(
  opened: OpenedSheets,
  scope: string,
  path: string,
  sheet: ProductSheet,
  files: KeptFiles,
): Promise<string[]> {
  const folder = path.slice(0, -SHEET_NAME.length);
  const promised = sheet.products.flatMap((product) => product.files.map(({ sha256 }) => sha256));
  const inLibrary = new Map(
    (await listKept(database(), promised)).map((file): [string, Kept] => [file.sha256, file]),
  );
  const problems: string[] = [];
  for (const [at, { files: listed, ...product }] of sheet.products.entries()) {
    const variant: VariantSheet = { supplier: sheet.supplier, line: sheet.line, ...product };
    if (listed.length === 0) {
      if (product.color) opened.plain.push(variant);
      else problems.push(`${product.name} has neither pictures nor a colour.`);
      continue;
    }
    const set = `${path}\n${at}`;
    const there = listed.flatMap((file): Found[] => {
      const came = files.find(folder + file.path);
      if (came) opened.used.add(`${scope}\n${(folder + file.path).toLowerCase()}`);
      if (came && came.sha256 !== file.sha256) {
        opened.ignored.push({
          file: scope === "" ? folder + file.path : `${scope}/${folder}${file.path}`,
          kind: "set-aside",
          reason: "It is not the file that the product sheet promises: damaged on the way, or exchanged.",
        });
        return [];
      }
      const kept = came ?? inLibrary.get(file.sha256);
      if (!kept) {
        problems.push(`${file.path} is on the sheet, but did not come.`);
        return [];
      }
      return [{ ...givenFile(file, product.name, set), file: folder + file.path, scope, ...kept }];
    });
    opened.found.push(...there);
    if (there.length > 0) opened.sheets.set(set, variant);
  }
  return problems;
}

function givenFile({ role, normalDirection }: SheetFile, name: string, set: string) {
  const roles = [{ role, channel: "color" as const, ...(normalDirection && { normalDirection }) }];
  return { given: { set, name, roles } };
}
