import type { Format } from "#core/gauge/formats";
import type { Module } from "#core/gauge/layModule";
import type { ModuleSize } from "#core/gauge/repeat";
import { formatLength, formatSize } from "#core/length/formatLength";
import type { LengthUnit } from "#core/length/parseLength";
import type { GaugeFields } from "./readGauge";
import { asTyped } from "./typedLength";

/** How a format lies in the picture. */
export type Lie = "lying" | "standing";

/**
 * The fields that a standard format fills in; the count stays.
 * @param lie standing exchanges width and height, and boards that stand have a width in place of a height
 */
export function formatFields(format: Format, lie: Lie, unit: LengthUnit): Partial<GaugeFields> {
  const text = (mm: number | undefined) => (mm === undefined ? "" : asTyped(mm, unit));
  const { workSize, coverSize, joint, jointVertical, looksLike } = format;
  const standing = lie === "standing";
  const turn = <T>(pair: [T, T]): [T, T] => (standing ? [pair[1], pair[0]] : pair);
  const size: ModuleSize = coverSize ?? workSize!;
  const [width, height] = turn([size.width, size.height]);
  const [beside, between] = turn([joint, jointVertical ?? joint]);
  const [across, down] = turn([looksLike?.across, looksLike?.down]);
  return {
    method: coverSize ? "cover" : "modules",
    moduleWidth: text(width),
    moduleHeight: text(height),
    joint: text(beside),
    jointVertical: between === beside ? "" : text(between),
    looksAcross: across === undefined || across === 1 ? "" : String(across),
    looksDown: down === undefined || down === 1 ? "" : String(down),
  };
}

/** A module in a line of a list: the face that shows, and its joint. */
export function moduleWords({ workSize, coverSize, joint }: Module, unit: LengthUnit): string {
  const { width, height } = coverSize ?? workSize!;
  const face =
    width === undefined || height === undefined
      ? `${formatLength((width ?? height)!, unit)} wide`
      : formatSize({ width, height }, unit);
  return `${coverSize ? "shows " : ""}${face}${joint ? `, joint ${formatLength(joint, unit)}` : ""}`;
}

/** A format in a line of a list, by its name. */
export const formatWords = ({ name, ...module }: Format, unit: LengthUnit): string =>
  `${name}: ${moduleWords(module, unit)}`;
