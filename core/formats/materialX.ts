import { XMLBuilder } from "fast-xml-parser";
import { ENTERED_VALUES } from "#core/finish/enteredValues";
import { EMITS_NITS, type FinishField } from "#core/finish/finish";
import type { ContainedMaterial, ContainerImage, ContainerKind, EncodedImage } from "#core/formats/container";
import {
  colorOf,
  digits,
  identifier,
  imageOf,
  linearOf,
  roughnessOf,
  textFile,
} from "#core/formats/valuesBeside";
import type { Role } from "#core/roles/roles";
import type { Rgb } from "#core/shade/rgb";

/** Inputs of the OpenPBR surface that take an image, with their types. */
const INPUTS = {
  base_color: "color3",
  base_metalness: "float",
  specular_roughness: "float",
  specular_weight: "float",
  specular_color: "color3",
  coat_weight: "float",
  fuzz_weight: "float",
  subsurface_color: "color3",
  transmission_weight: "float",
  emission_color: "color3",
  geometry_opacity: "float",
} as const satisfies Partial<Record<Role, "color3" | "float">>;
type InputRole = keyof typeof INPUTS;
const isInput = (role: Role): role is InputRole => role in INPUTS;

/** What is cut out, its images say. */
const VALUES: readonly FinishField[] = ENTERED_VALUES.filter((field) => !field.startsWith("opacity"));

const takes = ({ role, channels }: ContainerImage): boolean =>
  channels === null && role !== null && (isInput(role) || role === "geometry_normal" || role === "height");

/** An element of the document. */
interface Element {
  category: string;
  attributes: Record<string, string>;
  children?: Element[];
}

/**
 * A MaterialX 1.39 document with an OpenPBR surface: images beside it by nodes that know their real size, where one unit of the
 * coordinates is one metre; the height displaces in metres around its middle.
 */
export const MATERIALX: ContainerKind = {
  name: "MaterialX document",
  extension: "mtlx",
  images: "beside",
  formats: ["png", "jpeg", "tiff", "webp", "exr"],
  hasThreshold: false,
  takes,
  carries: (field) => VALUES.includes(field),
  async write(material, images) {
    const bytes = textFile(documentOf(material, images.filter(takes)));
    return [{ extension: "mtlx", mediaType: "application/mtlx+xml", bytes }];
  },
};

function documentOf(material: ContainedMaterial, images: EncodedImage[]): string {
  const name = identifier(material.fileName);
  const elements: Element[] = images.map((image) => imageNode(image, material));
  const normal = imageOf(images, "geometry_normal");
  if (normal)
    elements.push(
      node("normalmap", "vector3", "to_normal", [connected("in", "vector3", nodeName("geometry_normal"))]),
    );
  const height = imageOf(images, "height");
  if (height) elements.push(...displacement(material));
  elements.push(
    node("open_pbr_surface", "surfaceshader", "surface", [
      ...images.flatMap(({ role }) =>
        role && isInput(role) ? [connected(role, INPUTS[role], nodeName(role))] : [],
      ),
      ...(normal ? [connected("geometry_normal", "vector3", "to_normal")] : []),
      ...values(material, images),
    ]),
    node("surfacematerial", "material", name, [
      connected("surfaceshader", "surfaceshader", "surface"),
      ...(height ? [connected("displacementshader", "displacementshader", "displaced")] : []),
    ]),
  );
  const builder = new XMLBuilder({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: "",
    format: true,
    suppressEmptyNode: true,
  });
  const root: Element = {
    category: "materialx",
    attributes: { version: "1.39", colorspace: "lin_rec709" },
    children: elements,
  };
  return `<?xml version="1.0"?>\n${builder.build([ordered(root)]).trim()}\n`;
}

/** As the builder wants it. */
const ordered = ({ category, attributes, children = [] }: Element): object => ({
  [category]: children.map(ordered),
  ":@": attributes,
});

const node = (category: string, type: string, name: string, children: Element[]): Element => ({
  category,
  attributes: { name, type },
  children,
});
const connected = (name: string, type: string, nodename: string): Element => ({
  category: "input",
  attributes: { name, type, nodename },
});
const valued = (name: string, type: string, value: string, more: Record<string, string> = {}): Element => ({
  category: "input",
  attributes: { name, type, value, ...more },
});
const nodeName = (role: Role) => `image_${role}`;

function imageNode({ role, fileName }: EncodedImage, { repeat }: ContainedMaterial): Element {
  const type = role === "geometry_normal" ? "vector3" : role && isInput(role) ? INPUTS[role] : "float";
  const file = valued("file", "filename", fileName, type === "color3" ? { colorspace: "srgb_texture" } : {});
  if (!repeat) return node("image", type, nodeName(role!), [file]);
  const metres = { unittype: "distance", unit: "meter" };
  const size = `${digits(repeat.width / 1000)}, ${digits(repeat.height / 1000)}`;
  return node("tiledimage", type, nodeName(role!), [
    file,
    valued("realworldimagesize", "vector2", size, metres),
    valued("realworldtilesize", "vector2", "1, 1", metres),
  ]);
}

/** (v − middle) × amount, in metres. */
function displacement({ finish, heightMm }: ContainedMaterial): Element[] {
  return [
    node("subtract", "float", "from_middle", [
      connected("in1", "float", nodeName("height")),
      valued("in2", "float", digits(finish.heightMiddle)),
    ]),
    node("displacement", "displacementshader", "displaced", [
      connected("displacement", "float", "from_middle"),
      valued("scale", "float", digits(heightMm / 1000)),
    ]),
  ];
}

/** Values that no image says. */
function values({ finish }: ContainedMaterial, images: EncodedImage[]): Element[] {
  const list: Element[] = [];
  const shows = (role: Role) => imageOf(images, role) !== undefined;
  const number = (name: string, value: number | undefined) => {
    if (value !== undefined) list.push(valued(name, "float", digits(value)));
  };
  const color = (name: string, value: Rgb | undefined) => {
    if (value) list.push(valued(name, "color3", value.map(digits).join(", ")));
  };
  if (!shows("base_color")) color("base_color", colorOf(finish));
  if (!shows("base_metalness")) number("base_metalness", finish.metalness);
  if (!shows("specular_roughness")) number("specular_roughness", roughnessOf(finish));
  number("specular_ior", finish.ior);
  if (!shows("specular_weight")) number("specular_weight", finish.specularWeight);
  if (!shows("specular_color")) color("specular_color", linearOf(finish.specularColor));
  if (!shows("coat_weight")) number("coat_weight", finish.coatWeight);
  number("coat_roughness", finish.coatRoughness);
  number("coat_ior", finish.coatIor);
  color("coat_color", linearOf(finish.coatColor));
  if (!shows("fuzz_weight")) number("fuzz_weight", finish.fuzzWeight);
  color("fuzz_color", linearOf(finish.fuzzColor));
  if (!shows("transmission_weight")) number("transmission_weight", finish.transmissionWeight);
  color("transmission_color", linearOf(finish.transmissionColor));
  if (finish.transmissionDepthMm !== undefined)
    number("transmission_depth", finish.transmissionDepthMm / 1000);
  // A thin sheet's subsurface is what it lets through.
  const isSheet = finish.thinWalled === true;
  number(
    "subsurface_weight",
    isSheet
      ? (finish.translucencyWeight ?? (shows("subsurface_color") ? 0.5 : undefined))
      : finish.subsurfaceWeight,
  );
  if (!shows("subsurface_color"))
    color("subsurface_color", linearOf(isSheet ? finish.translucencyColor : finish.subsurfaceColor));
  if (finish.thinWalled !== undefined)
    list.push(valued("geometry_thin_walled", "boolean", String(finish.thinWalled)));
  const nits = finish.emissionNits ?? (shows("emission_color") ? EMITS_NITS : undefined);
  number("emission_luminance", nits);
  if (!shows("emission_color")) color("emission_color", linearOf(finish.emissionColor));
  return list;
}
