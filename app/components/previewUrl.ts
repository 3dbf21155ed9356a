import type { MapChannel } from "#core/roles/channel";
import { tileLevels } from "#core/raster/tiles";

/** Address of the preview that is at least as large as what is drawn, in pixels of the screen. */
export function previewUrl(sha256: string, drawnPx: number, channel: MapChannel = "color"): string {
  const size = [64, 256, 1024].find((known) => known >= drawnPx) ?? 1024;
  return `/previews/${sha256}/${channel}/${size}`;
}

/** The whole image at the largest size that there is of it. */
export function closePreviewUrl(map: {
  sha256: string;
  channel: MapChannel;
  width: number;
  height: number;
}): string {
  return `/previews/${map.sha256}/${map.channel}/${Math.max(map.width, map.height) > 1024 ? 4096 : 1024}`;
}

/**
 * The whole image, no larger than it is drawn in pixels of the screen: a large bitmap is slow to move. What it has beyond
 * 4096 px comes as tiles.
 */
export function wholePreviewUrl(
  map: { sha256: string; channel: MapChannel; width: number; height: number },
  drawnPx: number,
): string {
  return drawnPx > 1024 && tileLevels(map) === 0
    ? closePreviewUrl(map)
    : `/previews/${map.sha256}/${map.channel}/1024`;
}
