import type { Catalogue, Line, Product } from "#core/supply/catalogue";
import { PLAIN_LINES } from "./colourRange";
import { DRAWN_LINES, SUPPLIERS, type DrawnLine } from "./lines";

const products = ({ codePrefix, colours, joints, facts }: DrawnLine): Product[] =>
  colours.map(({ code, name, hex }) => ({
    code: `${codePrefix}-${code}`,
    name: `${facts.name}, ${name}`,
    colour: name,
    hex,
    joints,
    sheen: null,
  }));

const drawn = (line: DrawnLine): Line => ({
  ...line.facts,
  pixels: [512, 1024, 2048],
  roles: ["base_color", "geometry_normal", "height", "specular_roughness", "ambient_occlusion", "reference"],
  types: line.facts.types ?? ["png", "jpeg", "tiff"],
  products: products(line),
});

/** All that is on offer. */
export const CATALOGUE: Catalogue = {
  suppliers: SUPPLIERS,
  lines: [...DRAWN_LINES.map(drawn), ...PLAIN_LINES],
};
