import { XMLParser } from "fast-xml-parser";
import { Refusal } from "#core/text/refusal";

export interface MaterialXNode {
  category: string;
  attributes: Record<string, string>;
  children: MaterialXNode[];
}

/**
 * The elements of a MaterialX document.
 * @throws {Refusal} where it is none, or declares entities
 */
export function parseMaterialX(text: string): MaterialXNode {
  if (/<!(DOCTYPE|ENTITY)/i.test(text))
    throw new Refusal("The MaterialX document declares entities of its own; it was not read.");
  let tree: unknown;
  try {
    tree = new XMLParser({
      preserveOrder: true,
      ignoreAttributes: false,
      attributeNamePrefix: "",
      processEntities: false,
      parseAttributeValue: false,
    }).parse(text);
  } catch {
    throw new Refusal("The MaterialX document is no proper XML.");
  }
  const root = toNodes(tree).find(({ category }) => category === "materialx");
  if (!root) throw new Refusal("It is no MaterialX document.");
  return root;
}

function toNodes(list: unknown): MaterialXNode[] {
  if (!Array.isArray(list)) return [];
  return list.flatMap((entry: Record<string, unknown>) => {
    const category = Object.keys(entry).find(
      (key) => key !== ":@" && key !== "#text" && !key.startsWith("?"),
    );
    if (!category) return [];
    return [
      {
        category,
        attributes: (entry[":@"] ?? {}) as Record<string, string>,
        children: toNodes(entry[category]),
      },
    ];
  });
}

/** An input of a node by its name. */
export const childOf = (node: MaterialXNode, name: string): MaterialXNode | undefined =>
  node.children.find(({ attributes }) => attributes.name === name);

export const numbersIn = (text: string | undefined): number[] => (text ?? "").split(",").map(Number);
