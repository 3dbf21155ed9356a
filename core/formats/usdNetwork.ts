import type { ContainedMaterial, EncodedImage } from "#core/formats/container";
import type { MaterialXElement } from "#core/formats/materialXElements";
import { DISPLACED, isInNetwork, materialXNetwork, SURFACE } from "#core/formats/materialXNetwork";

/** Types of MaterialX as OpenUSD calls them. */
const TYPES: Record<string, string> = {
  color3: "color3f",
  float: "float",
  vector2: "float2",
  vector3: "float3",
  boolean: "bool",
  filename: "asset",
  surfaceshader: "token",
  displacementshader: "token",
};

/** A node is known by its kind and what it gives, but for these. */
const DEFINITIONS: Record<string, string> = {
  normalmap: "ND_normalmap_float",
  displacement: "ND_displacement_float",
};

/** A group of nodes within a material of a layer. */
export interface UsdNetwork {
  /** Text of the prim. */
  prim: string;
  /** What the material is connected to. */
  outputs: string[];
}

/**
 * The OpenPBR surface of a material as shaders of MaterialX in a layer, for renderers that know those: beside the preview surface, which
 * they then pass over. Occlusion is the preview surface's alone: OpenPBR traces it.
 * @param path of the material
 */
export function usdNetwork(material: ContainedMaterial, images: EncodedImage[], path: string): UsdNetwork {
  const nodes = materialXNetwork(material, images.filter(isInNetwork), "open_pbr_surface", false);
  const place = `${path}/OpenPBR`;
  const ends = [
    ["surface", SURFACE],
    ["displacement", DISPLACED],
  ].filter(([, node]) => nodes.some(({ attributes }) => attributes.name === node));
  return {
    prim: `
        def NodeGraph "OpenPBR"
        {
${ends.map(([output, node]) => `            token outputs:${output}.connect = <${place}/${node}.outputs:out>`).join("\n")}
${nodes.map((node) => shader(node, place)).join("")}        }
`,
    outputs: ends.map(
      ([output]) => `        token outputs:mtlx:${output}.connect = <${place}.outputs:${output}>`,
    ),
  };
}

function shader({ category, attributes, children = [] }: MaterialXElement, place: string): string {
  return `
            def Shader "${attributes.name}"
            {
                uniform token info:id = "${DEFINITIONS[category] ?? `ND_${category}_${attributes.type}`}"
${children.map((input) => `                ${inputLine(input, place)}`).join("\n")}
                ${TYPES[attributes.type]} outputs:out
            }
`;
}

function inputLine(
  { attributes: { name, type, value, nodename, colorspace } }: MaterialXElement,
  place: string,
): string {
  const input = `${TYPES[type]} inputs:${name}`;
  if (nodename !== undefined) return `${input}.connect = <${place}/${nodename}.outputs:out>`;
  if (type !== "filename") return `${input} = ${value.includes(",") ? `(${value})` : value}`;
  const space =
    colorspace === undefined ? "" : ` (\n                    colorSpace = "${colorspace}"\n                )`;
  return `${input} = @./${value}@${space}`;
}
