import { XMLBuilder } from "fast-xml-parser";
import { ENTERED_VALUES } from "#core/finish/enteredValues";
import type { FinishField } from "#core/finish/finish";
import type { WearEffect } from "#core/finish/wear";
import type { ContainedMaterial, ContainerImage, ContainerKind, EncodedImage } from "#core/formats/container";
import { connected, node, type MaterialXElement } from "#core/formats/materialXElements";
import {
  DISPLACED,
  isInNetwork,
  materialXNetwork,
  SURFACE,
  type WrittenSurfaceName,
} from "#core/formats/materialXNetwork";
import { identifier, imageOf, textFile } from "#core/formats/valuesBeside";

/** Relief that wear makes is no node of a surface: it is worked into the images. */
const LAID_BY_NODES: readonly WearEffect[] = ["rougher", "smoother", "tint"];

const isTaken = (image: ContainerImage): boolean =>
  isInNetwork(image) || (image.wear !== undefined && LAID_BY_NODES.includes(image.wear.effect));

/** What is cut out, its images say. */
const VALUES: readonly FinishField[] = ENTERED_VALUES.filter((field) => !field.startsWith("opacity"));

/**
 * A MaterialX 1.39 document: images beside it by nodes that know their real size, where one unit of the coordinates is one metre; the
 * height displaces in metres around its middle.
 */
const materialXOf = (name: string, surface: WrittenSurfaceName): ContainerKind => ({
  name,
  extension: "mtlx",
  images: "beside",
  formats: ["png", "jpeg", "tiff", "webp", "exr"],
  hasThreshold: false,
  leavesFinish: true,
  takes: isTaken,
  carries: (field) => VALUES.includes(field),
  async write(material, images) {
    const bytes = textFile(documentOf(material, images.filter(isTaken), surface));
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
  surface: WrittenSurfaceName,
): string {
  const hasHeight = imageOf(images, "height") !== undefined;
  const elements = [
    ...materialXNetwork(material, images, surface),
    node("surfacematerial", "material", identifier(material.fileName), [
      connected("surfaceshader", "surfaceshader", SURFACE),
      ...(hasHeight ? [connected("displacementshader", "displacementshader", DISPLACED)] : []),
    ]),
  ];
  const builder = new XMLBuilder({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: "",
    format: true,
    suppressEmptyNode: true,
  });
  const root: MaterialXElement = {
    category: "materialx",
    attributes: { version: "1.39", colorspace: "lin_rec709" },
    children: elements,
  };
  return `<?xml version="1.0"?>\n${builder.build([ordered(root)]).trim()}\n`;
}

/** As the builder wants it. */
const ordered = ({ category, attributes, children = [] }: MaterialXElement): object => ({
  [category]: children.map(ordered),
  ":@": attributes,
});
