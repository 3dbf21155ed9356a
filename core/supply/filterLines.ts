import {
  FIRE_CLASSES,
  SLIP_CLASSES,
  type Family,
  type Line,
  type Product,
  type USES,
} from "#core/supply/catalogue";

export interface LineFilter {
  /** Words that must all occur in the names of line, supplier, product or colour, or in a code. */
  words?: string;
  family?: Family;
  supplier?: string;
  use?: (typeof USES)[number];
  /** Only what stands frost. */
  frost?: boolean;
  /** This slip class or a better one. */
  slip?: (typeof SLIP_CLASSES)[number];
  /** This fire class or a better one. */
  fire?: (typeof FIRE_CLASSES)[number];
}

export interface ShownLine {
  line: Line;
  /** The products of the line that the words fit; all of them where they fit the line. */
  products: Product[];
}

/** The lines that fit, in the order of the catalogue. What a supplier does not state does not fit a filter for it. */
export function filterLines(lines: Line[], filter: LineFilter): ShownLine[] {
  const wanted = (filter.words ?? "").toLowerCase().split(/\s+/).filter(Boolean);
  return lines
    .filter((line) => fits(line, filter))
    .map((line) => {
      const about =
        `${line.name} ${line.supplier} ${line.family} ${line.properties.grade ?? ""}`.toLowerCase();
      const open = wanted.filter((word) => !about.includes(word));
      return {
        line,
        products: line.products.filter((product) => {
          const said = `${product.name} ${product.colour} ${product.code}`.toLowerCase();
          return open.every((word) => said.includes(word));
        }),
      };
    })
    .filter(({ products }) => products.length > 0);
}

function fits({ family, supplier, properties }: Line, filter: LineFilter): boolean {
  const atLeast = <T>(order: readonly T[], least: T | undefined, has: T | null) =>
    least === undefined || (has !== null && order.indexOf(has) >= order.indexOf(least));
  return (
    (!filter.family || family === filter.family) &&
    (!filter.supplier || supplier === filter.supplier) &&
    (!filter.use || properties.use.includes(filter.use)) &&
    (!filter.frost || properties.frost === "F1" || properties.frost === "F2") &&
    atLeast(SLIP_CLASSES, filter.slip, properties.slip) &&
    atLeast([...FIRE_CLASSES].reverse(), filter.fire, properties.fire)
  );
}
