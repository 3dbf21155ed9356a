import { adjustedHex, colorAdjustment } from "#core/finish/colorAdjustment";
import type { Finish } from "#core/finish/finish";
import { adjustedRoughness, roughnessAdjustment } from "#core/finish/roughnessAdjustment";
import type { EncodedImage } from "#core/formats/container";
import { hexToLinear } from "#core/raster/srgb";
import type { Role } from "#core/roles/roles";
import type { Rgb } from "#core/shade/rgb";

/** Where an image of one role is. */
export const imageOf = (images: readonly EncodedImage[], role: Role): EncodedImage | undefined =>
  images.find((image) => image.role === role);

/** The colour of a finish without a map, adjusted, in linear light. */
export const colorOf = (finish: Finish): Rgb | undefined =>
  finish.color === undefined ? undefined : hexToLinear(adjustedHex(finish.color, colorAdjustment(finish)));

/** The roughness of a finish without a map, adjusted. */
export const roughnessOf = (finish: Finish): number =>
  adjustedRoughness(finish.roughness, roughnessAdjustment(finish));

export const linearOf = (hex: string | undefined): Rgb | undefined =>
  hex === undefined ? undefined : hexToLinear(hex);

/** As files write it: no more digits than a single float holds. */
export const digits = (value: number): string => String(Number(value.toPrecision(7)));

/** A name that is an identifier everywhere. */
export const identifier = (fileName: string): string => {
  const plain = fileName.replaceAll(/[^A-Za-z0-9_]/g, "_");
  return /^[A-Za-z]/.test(plain) ? plain : `M_${plain}`;
};

export const textFile = (text: string): Uint8Array => new TextEncoder().encode(text);
