/** An element of a MaterialX document. */
export interface MaterialXElement {
  category: string;
  attributes: Record<string, string>;
  children?: MaterialXElement[];
}

export const node = (
  category: string,
  type: string,
  name: string,
  children: MaterialXElement[],
): MaterialXElement => ({
  category,
  attributes: { name, type },
  children,
});
/** An input that another node feeds. */
export const connected = (name: string, type: string, nodename: string): MaterialXElement => ({
  category: "input",
  attributes: { name, type, nodename },
});
/** An input with a value of its own. */
export const valued = (
  name: string,
  type: string,
  value: string,
  more: Record<string, string> = {},
): MaterialXElement => ({
  category: "input",
  attributes: { name, type, value, ...more },
});
