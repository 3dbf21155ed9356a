import { marksOf, type Laid } from "#core/finish/marks";
import { wornHeightMm, wornRoughness } from "#core/finish/wear";
import type { Repeat } from "#core/length/repeat";
import { maxValue, type Raster } from "#core/raster/raster";
import { hexToLinear, linearTable, srgbEncoder } from "#core/raster/srgb";

/** Where a stored height lies: `value × span + lowest`, in millimetres above the surface. */
export interface HeightScale {
  lowestMm: number;
  spanMm: number;
}

/** What an image says, as far as wear changes it. */
export type WornImage =
  | { on: "color" | "roughness" | "gloss" }
  | {
      on: "normal";
      /** Which way green points. */
      green: "+Y" | "-Y";
    }
  | { on: "height"; from: HeightScale; to: HeightScale };

/**
 * Lays wear over an image, in the image itself: colours in linear light, roughness as data, relief as slopes or millimetres.
 * @param area what the image covers, in millimetres
 * @param layers those that change this kind of image, the first at the bottom
 */
export function layWear(raster: Raster, what: WornImage, area: Repeat, layers: readonly Laid[]): Raster {
  const change = changerOf(raster, what, layers, {
    x: area.width / raster.width,
    y: area.height / raster.height,
  });
  const { width, height, channels } = raster;
  for (let y = 0, at = 0; y < height; y++) {
    const yMm = ((y + 0.5) * area.height) / height;
    for (let x = 0; x < width; x++, at += channels) change(at, ((x + 0.5) * area.width) / width, yMm);
  }
  return raster;
}

type Change = (at: number, xMm: number, yMm: number) => void;

function changerOf(
  raster: Raster,
  what: WornImage,
  layers: readonly Laid[],
  pixelMm: { x: number; y: number },
): Change {
  const marks = layers.map(marksOf);
  switch (what.on) {
    case "color":
      return colorChanger(raster, layers, marks);
    case "roughness":
    case "gloss":
      return roughnessChanger(raster, what.on === "gloss", layers, marks);
    case "normal":
      return normalChanger(raster, what.green, layers, marks, pixelMm);
    case "height":
      return heightChanger(raster, what, layers, marks);
  }
}

type Marks = ReturnType<typeof marksOf>[];

function colorChanger({ data, bitDepth }: Raster, layers: readonly Laid[], marks: Marks): Change {
  const toLinear = linearTable(bitDepth);
  const encode = srgbEncoder(bitDepth);
  const tints = layers.map(({ layer }) => hexToLinear(layer.tint ?? "#ffffff"));
  return (at, xMm, yMm) => {
    for (let i = 0; i < tints.length; i++) {
      const by = marks[i](xMm, yMm);
      if (by === 0) continue;
      const tint = tints[i];
      for (let c = 0; c < 3; c++) {
        const value = toLinear[data[at + c]];
        data[at + c] = encode(value + (tint[c] - value) * by);
      }
    }
  };
}

function roughnessChanger(raster: Raster, isGloss: boolean, layers: readonly Laid[], marks: Marks): Change {
  const most = maxValue(raster);
  const { data } = raster;
  const effects = layers.map(({ layer }) => layer.effect as "rougher" | "smoother");
  return (at, xMm, yMm) => {
    let roughness = data[at] / most;
    if (isGloss) roughness = 1 - roughness;
    for (let i = 0; i < effects.length; i++)
      roughness = wornRoughness(roughness, effects[i], marks[i](xMm, yMm));
    data[at] = Math.round((isGloss ? 1 - roughness : roughness) * most);
  };
}

// By index, and not by entries: these run for each pixel of an image of millions.

/** What all layers together add, in millimetres. */
function heightOf(layers: readonly Laid[], marks: Marks): (xMm: number, yMm: number) => number {
  const full = layers.map(({ layer }) => wornHeightMm(layer, 1));
  return (xMm, yMm) => {
    let sum = 0;
    for (let i = 0; i < full.length; i++) sum += full[i] * marks[i](xMm, yMm);
    return sum;
  };
}

function normalChanger(
  raster: Raster,
  green: "+Y" | "-Y",
  layers: readonly Laid[],
  marks: Marks,
  pixelMm: { x: number; y: number },
): Change {
  const most = maxValue(raster);
  const { data } = raster;
  const up = green === "+Y" ? 1 : -1;
  const heightAt = heightOf(layers, marks);
  return (at, xMm, yMm) => {
    const slopeX = (heightAt(xMm + pixelMm.x, yMm) - heightAt(xMm - pixelMm.x, yMm)) / (2 * pixelMm.x);
    const slopeY = (heightAt(xMm, yMm - pixelMm.y) - heightAt(xMm, yMm + pixelMm.y)) / (2 * pixelMm.y);
    if (slopeX === 0 && slopeY === 0) return;
    const z = Math.max(1e-3, (data[at + 2] / most) * 2 - 1);
    const x = ((data[at] / most) * 2 - 1) / z - slopeX;
    const y = ((data[at + 1] / most) * 2 - 1) / z - up * slopeY;
    const length = Math.sqrt(x * x + y * y + 1);
    data[at] = Math.round(((x / length + 1) / 2) * most);
    data[at + 1] = Math.round(((y / length + 1) / 2) * most);
    data[at + 2] = Math.round(((1 / length + 1) / 2) * most);
  };
}

function heightChanger(
  raster: Raster,
  { from, to }: { from: HeightScale; to: HeightScale },
  layers: readonly Laid[],
  marks: Marks,
): Change {
  const most = maxValue(raster);
  const { data } = raster;
  const heightAt = heightOf(layers, marks);
  return (at, xMm, yMm) => {
    const mm = (data[at] / most) * from.spanMm + from.lowestMm + heightAt(xMm, yMm);
    data[at] = Math.round(Math.min(1, Math.max(0, (mm - to.lowestMm) / to.spanMm)) * most);
  };
}
