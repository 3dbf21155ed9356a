import { adjustedRoughness } from "#core/finish/roughnessAdjustment";
import type { MaterialMap } from "#core/finish/material";
import { adjustColor } from "#core/convert/kernels/adjustColor";
import { attachAlpha } from "#core/convert/kernels/attachAlpha";
import { byCode } from "#core/convert/kernels/byCode";
import { toEightBits, toSixteenBits } from "#core/convert/kernels/bitDepth";
import { dropAlpha, extractChannel, greyToRgb, pack, toGrey } from "#core/convert/kernels/channels";
import { fill } from "#core/convert/kernels/fill";
import { flipGreen } from "#core/convert/kernels/flipGreen";
import { invert } from "#core/convert/kernels/invert";
import { layWear } from "#core/convert/kernels/layWear";
import { multiplyOcclusion } from "#core/convert/kernels/multiplyOcclusion";
import { roughenByNormal } from "#core/convert/kernels/roughenByNormal";
import { scaleNormal } from "#core/convert/kernels/scaleNormal";
import { tile } from "#core/convert/kernels/tile";
import { channelIndex } from "#core/roles/channel";
import type { Operation } from "#core/convert/operation";
import type { PlannedImage, PlannedLayer } from "#core/convert/materialPlan";
import { createRaster, type Raster } from "#core/raster/raster";
import { textureOf } from "#core/raster/texture";
import { resize } from "#core/raster/resize";

/** Gives the decoded pixels of a map's file, all its channels, colours as sRGB; they are written over. */
export type ReadMap = (map: MaterialMap) => Promise<Raster>;

export interface CarryOutOptions {
  /** Whether the images continue at their other side: false for a layout that is placed once. */
  wrap: boolean;
}

/** Makes the pixels of a planned image. Holds at most the images of one file in memory, each but once where that can be. */
export async function carryOut(
  image: PlannedImage,
  read: ReadMap,
  options: CarryOutOptions,
): Promise<Raster> {
  if (image.kind === "packed") {
    const parts = [];
    for (const channel of image.channels)
      parts.push(typeof channel === "number" ? channel : await carryOutLayer(channel, read, options));
    return pack(parts as [Raster | number, Raster | number, Raster | number]);
  }
  const occlusion = image.occlusion && (await carryOutLayer(image.occlusion, read, options));
  const opacity = image.opacity && (await carryOutLayer(image.opacity, read, options));
  return carryOutLayer(image.base, read, options, { occlusion, opacity });
}

interface Others {
  occlusion?: Raster;
  opacity?: Raster;
  normal?: Raster;
  masks?: Raster[];
}

async function carryOutLayer(
  layer: PlannedLayer,
  read: ReadMap,
  options: CarryOutOptions,
  others: Others = {},
): Promise<Raster> {
  let raster = layer.source ? await read(layer.source) : createRaster(1, 1, 1, 8);
  for (const operation of layer.operations) {
    const masks = [];
    if (operation.op === "wear")
      for (const mask of layer.masks ?? []) masks.push(await carryOutLayer(mask, read, options));
    // Read as late as can be, since it is the largest of all: then the image beside it is reduced already.
    const normal =
      operation.op === "roughen" && layer.normal
        ? await carryOutLayer(layer.normal, read, options)
        : undefined;
    raster = apply(operation, raster, options, { ...others, normal, masks });
  }
  return raster;
}

function apply(operation: Operation, raster: Raster, { wrap }: CarryOutOptions, others: Others): Raster {
  switch (operation.op) {
    case "take-channel":
      return extractChannel(raster, channelIndex(operation.channel, raster.channels));
    case "drop-alpha":
      return dropAlpha(raster);
    case "to-grey":
      return toGrey(raster);
    case "invert":
      return invert(raster, raster);
    case "flip-green":
      return flipGreen(raster, raster);
    case "scale-normal":
      return scaleNormal(raster, operation.strength, raster);
    case "adjust-color":
      return adjustColor(greyToRgb(raster), operation);
    case "adjust-roughness":
      return byCode(
        raster,
        operation.values === "roughness"
          ? (value) => adjustedRoughness(value, operation)
          : (value) => 1 - adjustedRoughness(1 - value, operation),
      );
    case "limit":
      return byCode(raster, (value) => Math.min(operation.high, Math.max(operation.low, value)));
    case "cut":
      return byCode(raster, (value) => (value >= operation.at ? 1 : 0));
    case "soften-occlusion": {
      const { strength, gamma } = operation;
      return byCode(raster, (value) => 1 - strength + strength * value ** gamma);
    }
    case "scale":
      return byCode(raster, (value) => value * operation.by);
    case "multiply":
      return multiplyOcclusion(
        raster,
        needed(others.occlusion, "occlusion"),
        operation.strength,
        operation.gamma,
        raster,
      );
    case "resize":
      return resize(raster, operation.width, operation.height, { values: operation.values, wrap });
    case "roughen": {
      const { width, height, weight, values } = operation;
      const by = { width, height, weight, values, wrap };
      return roughenByNormal(raster, needed(others.normal, "normal"), by, raster);
    }
    case "to-bits":
      return operation.bitDepth === 8 ? toEightBits(raster, operation.dither) : toSixteenBits(raster);
    case "attach-opacity":
      return attachAlpha(greyToRgb(raster), needed(others.opacity, "opacity"));
    case "fill":
      return fill(operation.width, operation.height, operation.values, operation.bitDepth);
    case "tile":
      return tile(raster, operation.across, operation.down);
    case "wear":
      return wear(raster, operation, others.masks);
  }
}

function wear(raster: Raster, { image, area, layers }: WearOperation, masks: Raster[] = []): Raster {
  const pixelMm = Math.min(area.width / raster.width, area.height / raster.height);
  const laid = layers.map(({ mask: at, size, repeats, ...layer }) => {
    const mask = needed(masks[at], "wear");
    const maskMm = Math.min(size.width / mask.width, size.height / mask.height);
    // No finer than the image that it is laid on.
    const reduce = Math.max(1, pixelMm / maskMm);
    return { layer, size, texture: textureOf(mask, { holds: "data", reduce, wraps: repeats }) };
  });
  return layWear(image.on === "color" ? greyToRgb(raster) : raster, image, area, laid);
}

type WearOperation = Extract<Operation, { op: "wear" }>;

function needed(raster: Raster | undefined, what: string): Raster {
  if (!raster) throw new RangeError(`The plan names no ${what} map for an operation that reads one.`);
  return raster;
}
