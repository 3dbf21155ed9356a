import { createHash, randomUUID } from "node:crypto";
import { createWriteStream } from "node:fs";
import { mkdir, rm } from "node:fs/promises";
import { join } from "node:path";
import { Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import yazl from "yazl";
import { variantOf, type Line, type Order } from "#core/supply/catalogue";
import { SHEET_NAME, type ProductSheet } from "#core/supply/productSheet";
import type { Drawings, DrawnVariant } from "./drawn";
import { CATALOGUE } from "./offer";

/** What an order comes to: its sheet, and where its files lie. */
export interface Prepared {
  sheet: ProductSheet;
  /** Path on this machine by path in the package. */
  paths: Map<string, string>;
}

/** Draws what is not drawn yet, and writes the product sheet. */
export async function prepare(order: Order, line: Line, drawings: Drawings): Promise<Prepared> {
  const paths = new Map<string, string>();
  const products: ProductSheet["products"] = [];
  for (const { code, joint } of order.products) {
    const product = line.products.find((one) => one.code === code)!;
    const plain = line.layout === "plain";
    const drawn: DrawnVariant | undefined = plain
      ? undefined
      : await drawings.variant({ line: line.id, code, joint, pixels: order.pixels, type: order.type });
    const files = (drawn?.files ?? []).filter(({ file }) => order.roles.includes(file.role));
    for (const { file, path } of files) paths.set(file.path, path);
    const variant = variantOf(product, joint);
    products.push({
      code,
      name: variant.joint ? `${product.name}, ${variant.joint} joint` : product.name,
      variant,
      color: plain ? product.hex : null,
      sheen: product.sheen,
      heightAmplitudeMm: drawn?.heightAmplitudeMm ?? null,
      files: files.map(({ file }) => file),
    });
  }
  const { name, family, text, page, layout, licence, properties } = line;
  const { workSize, jointMm, coverSize, picture } = line;
  const supplier = CATALOGUE.suppliers.find((one) => one.name === line.supplier)!;
  return {
    paths,
    sheet: {
      sheet: 1,
      supplier: { name: supplier.name, page: supplier.page },
      line: {
        name,
        family,
        text,
        page,
        layout,
        licence,
        properties,
        workSize,
        jointMm,
        coverSize,
        picture,
      },
      products,
    },
  };
}

/** Writes the zip of an order without the files that the asker has. The caller removes it. */
export async function writePackage({ sheet, paths }: Prepared, without: Set<string>, folder: string) {
  const zip = new yazl.ZipFile();
  zip.addBuffer(Buffer.from(JSON.stringify(sheet, null, 2)), SHEET_NAME);
  const sent = new Set<string>();
  for (const { path, sha256 } of sheet.products.flatMap(({ files }) => files)) {
    if (without.has(sha256) || sent.has(sha256)) continue;
    sent.add(sha256);
    zip.addFile(paths.get(path)!, path, { compress: false });
  }
  zip.end();
  const hash = createHash("sha256");
  let bytes = 0;
  const measure = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      hash.update(chunk);
      bytes += chunk.length;
      done(null, chunk);
    },
  });
  await mkdir(folder, { recursive: true });
  const file = join(folder, randomUUID());
  try {
    await pipeline(zip.outputStream, measure, createWriteStream(file));
  } catch (error) {
    await rm(file, { force: true });
    throw error;
  }
  return { file, bytes, sha256: hash.digest("base64") };
}
