import { EMITS_NITS } from "#core/finish/finish";
import type { ContainedMaterial, ContainerImage, EncodedImage } from "#core/formats/container";
import type { FileValues } from "#core/formats/fittingValues";
import { MATERIALX_SURFACES, OPEN_PBR, type WrittenSurface } from "#core/formats/materialXSurfaces";
import { colorOf, digits, imageOf, linearOf, roughnessOf } from "#core/formats/valuesBeside";
import { connected, node, valued, type MaterialXElement } from "#core/formats/materialXElements";
import { colorChain, roughnessChain, wearAmount, wearOver, type Chain } from "#core/formats/materialXFinish";
import { isColorRole, type Role } from "#core/roles/roles";
import type { Rgb } from "#core/shade/rgb";

export type WrittenSurfaceName = "open_pbr_surface" | "standard_surface";

/** Names of the nodes that a material is made of. */
export const SURFACE = "surface";
export const DISPLACED = "displaced";

/** Whether its surface, or what displaces it, has a place for an image. */
export const isInNetwork = ({ role, channels }: ContainerImage): boolean =>
  channels === null &&
  role !== null &&
  (Object.hasOwn(OPEN_PBR.images, role) || role === "geometry_normal" || role === "height");

/**
 * The nodes of a material in MaterialX 1.39: images by nodes that know their real size, where one unit of the coordinates is one metre;
 * the height displaces in metres around its middle.
 * @param isCut whether an opacity that cuts out is cut in its image already
 */
export function materialXNetwork(
  material: ContainedMaterial,
  images: EncodedImage[],
  surfaceName: WrittenSurfaceName,
  isCut = true,
): MaterialXElement[] {
  const surface = MATERIALX_SURFACES[surfaceName];
  const mapped = images.filter(({ wear }) => wear === undefined);
  const elements = mapped.map((image) => imageNode(image, material, surface));
  const normal = imageOf(images, "geometry_normal");
  if (normal)
    elements.push(
      node("normalmap", "vector3", "to_normal", [connected("in", "vector3", nodeName("geometry_normal"))]),
    );
  if (imageOf(images, "height")) elements.push(...displacement(material));
  const isCutHere =
    !isCut && material.finish.opacityMode === "cut-out" && imageOf(images, "geometry_opacity") !== undefined;
  if (isCutHere) elements.push(cutOut(material));
  const ends = new Map<Role, string>(mapped.map(({ role }) => [role!, nodeName(role!)]));
  if (isCutHere) ends.set("geometry_opacity", CUT);
  const append = (role: Role, { elements: more, end }: Chain) => {
    elements.push(...more);
    ends.set(role, end);
  };
  for (const { role, left } of mapped) {
    if (left?.color) append(role!, colorChain(nodeName(role!), left.color));
    if (left?.roughness) append(role!, roughnessChain(nodeName(role!), left.roughness));
  }
  for (const [i, { wear, fileName }] of images.filter(({ wear }) => wear).entries()) {
    const role = wear!.effect === "tint" ? "base_color" : "specular_roughness";
    const value =
      role === "base_color" ? (colorOf(material.finish) ?? BY_ITSELF) : [roughnessOf(material.finish)];
    elements.push(...wearAmount(i + 1, wear!, fileName, material.repeat?.height ?? UNKNOWN_HEIGHT));
    append(role, wearOver(i + 1, wear!, ends.get(role) ?? value));
  }
  const inputs = [...ends].flatMap(([role, end]) => {
    const input = surface.images[role];
    return input ? [connected(...input, end)] : [];
  });
  elements.push(
    node(surfaceName, "surfaceshader", SURFACE, [
      ...inputs,
      ...(normal ? [connected(surface.normal, "vector3", "to_normal")] : []),
      ...values(material, [...ends.keys()], surface),
    ]),
  );
  return elements;
}

/** The base colour of both surfaces where nothing says another one, in linear light. */
const BY_ITSELF = [0.8, 0.8, 0.8];

/** What a repeat is taken for where nobody knows it, in millimetres. */
const UNKNOWN_HEIGHT = 1000;

const nodeName = (role: Role) => `image_${role}`;

function imageNode(
  { role, fileName }: EncodedImage,
  { repeat }: ContainedMaterial,
  { images }: WrittenSurface,
): MaterialXElement {
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
function displacement({ finish, heightMm }: ContainedMaterial): MaterialXElement[] {
  return [
    node("subtract", "float", "from_middle", [
      connected("in1", "float", nodeName("height")),
      valued("in2", "float", digits(finish.heightMiddle)),
    ]),
    node("displacement", "displacementshader", DISPLACED, [
      connected("displacement", "float", "from_middle"),
      valued("scale", "float", digits(heightMm / 1000)),
    ]),
  ];
}

const CUT = "cut_out";

/** 1 where the image is not below the threshold, else 0. */
const cutOut = ({ finish }: ContainedMaterial): MaterialXElement =>
  node("ifgreatereq", "float", CUT, [
    connected("value1", "float", nodeName("geometry_opacity")),
    valued("value2", "float", digits(finish.opacityThreshold ?? 0.5)),
    valued("in1", "float", "1"),
    valued("in2", "float", "0"),
  ]);

/** Values that no image says. */
function values({ finish }: ContainedMaterial, mapped: Role[], surface: WrittenSurface): MaterialXElement[] {
  const list: MaterialXElement[] = [];
  const shown = new Set(mapped.flatMap((role) => surface.images[role]?.[0] ?? []));
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
