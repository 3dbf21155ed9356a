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
import { MATERIALX_SURFACES, OPEN_PBR, type WrittenSurface } from "#core/formats/materialXSurfaces";
import type { FileValues } from "#core/formats/fittingValues";
import { isColorRole, type Role } from "#core/roles/roles";
import type { Rgb } from "#core/shade/rgb";

/** What is cut out, its images say. */
const VALUES: readonly FinishField[] = ENTERED_VALUES.filter((field) => !field.startsWith("opacity"));

const takes = ({ role, channels }: ContainerImage): boolean =>
  channels === null &&
  role !== null &&
  (Object.hasOwn(OPEN_PBR.images, role) || role === "geometry_normal" || role === "height");

/** An element of the document. */
interface Element {
  category: string;
  attributes: Record<string, string>;
  children?: Element[];
}

/**
 * A MaterialX 1.39 document: images beside it by nodes that know their real size, where one unit of the coordinates is one metre; the
 * height displaces in metres around its middle.
 */
const materialXOf = (name: string, surface: "open_pbr_surface" | "standard_surface"): ContainerKind => ({
  name,
  extension: "mtlx",
  images: "beside",
  formats: ["png", "jpeg", "tiff", "webp", "exr"],
  hasThreshold: false,
  takes,
  carries: (field) => VALUES.includes(field),
  async write(material, images) {
    const bytes = textFile(documentOf(material, images.filter(takes), surface));
    return [{ extension: "mtlx", mediaType: "application/mtlx+xml", bytes }];
  },
});

export const MATERIALX = materialXOf("MaterialX document", "open_pbr_surface");

/** For renderers that do not know OpenPBR yet. */
export const MATERIALX_STANDARD = materialXOf(
  "MaterialX document with a standard surface",
  "standard_surface",
);

function documentOf(
  material: ContainedMaterial,
  images: EncodedImage[],
  surfaceName: "open_pbr_surface" | "standard_surface",
): string {
  const surface = MATERIALX_SURFACES[surfaceName];
  const name = identifier(material.fileName);
  const elements: Element[] = images.map((image) => imageNode(image, material, surface));
  const normal = imageOf(images, "geometry_normal");
  if (normal)
    elements.push(
      node("normalmap", "vector3", "to_normal", [connected("in", "vector3", nodeName("geometry_normal"))]),
    );
  const height = imageOf(images, "height");
  if (height) elements.push(...displacement(material));
  elements.push(
    node(surfaceName, "surfaceshader", "surface", [
      ...images.flatMap(({ role }) => {
        const input = role && surface.images[role];
        return input ? [connected(...input, nodeName(role))] : [];
      }),
      ...(normal ? [connected(surface.normal, "vector3", "to_normal")] : []),
      ...values(material, images, surface),
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

function imageNode(
  { role, fileName }: EncodedImage,
  { repeat }: ContainedMaterial,
  { images }: WrittenSurface,
): Element {
  const type = role === "geometry_normal" ? "vector3" : ((role && images[role]?.[1]) ?? "float");
  const space: Record<string, string> = role && isColorRole(role) ? { colorspace: "srgb_texture" } : {};
  const file = valued("file", "filename", fileName, space);
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
function values({ finish }: ContainedMaterial, images: EncodedImage[], surface: WrittenSurface): Element[] {
  const list: Element[] = [];
  const shown = new Set(images.flatMap(({ role }) => (role && surface.images[role]?.[0]) ?? []));
  const inputs = new Map(Object.entries(surface.values).map(([input, field]) => [field, input]));
  const put = (field: keyof FileValues, type: string, value: string) => {
    const input = inputs.get(field);
    if (input !== undefined && !shown.has(input)) list.push(valued(input, type, value));
  };
  const number = (field: keyof FileValues, value: number | undefined) => {
    if (value !== undefined) put(field, "float", digits(value));
  };
  const color = (field: keyof FileValues, value: Rgb | undefined) => {
    if (value) put(field, "color3", value.map(digits).join(", "));
  };
  color("color", colorOf(finish));
  number("metalness", finish.metalness);
  number("roughness", roughnessOf(finish));
  number("ior", finish.ior);
  number("specularWeight", finish.specularWeight);
  color("specularColor", linearOf(finish.specularColor));
  number("coatWeight", finish.coatWeight);
  number("coatRoughness", finish.coatRoughness);
  number("coatIor", finish.coatIor);
  color("coatColor", linearOf(finish.coatColor));
  number("fuzzWeight", finish.fuzzWeight);
  color("fuzzColor", linearOf(finish.fuzzColor));
  number("transmissionWeight", finish.transmissionWeight);
  color("transmissionColor", linearOf(finish.transmissionColor));
  if (finish.transmissionDepthMm !== undefined)
    number("transmissionDepthMm", finish.transmissionDepthMm / 1000);
  // A thin sheet's subsurface is what it lets through.
  const isSheet = finish.thinWalled === true;
  number(
    "subsurfaceWeight",
    isSheet
      ? (finish.translucencyWeight ?? (shown.has("subsurface_color") ? 0.5 : undefined))
      : finish.subsurfaceWeight,
  );
  color("subsurfaceColor", linearOf(isSheet ? finish.translucencyColor : finish.subsurfaceColor));
  if (finish.thinWalled !== undefined) put("thinWalled", "boolean", String(finish.thinWalled));
  const nits = finish.emissionNits ?? (shown.has("emission_color") ? EMITS_NITS : undefined);
  if (nits !== undefined) number("emissionNits", nits / surface.nits);
  color("emissionColor", linearOf(finish.emissionColor));
  const said = new Set(list.map(({ attributes }) => attributes.name));
  const isThere = (amount: keyof FileValues) =>
    said.has(inputs.get(amount)!) || shown.has(inputs.get(amount)!);
  for (const [input, value, amount] of surface.otherwise)
    if (!said.has(input) && (amount === undefined || isThere(amount)))
      list.push(valued(input, "float", digits(value)));
  return list;
}
