import type { MapChannel } from "#core/maps/channel";

/** Address of the preview that is at least as large as what is drawn, in pixels of the screen. */
export function previewUrl(sha256: string, drawnPx: number, channel: MapChannel = "color"): string {
  const size = [64, 256, 1024].find((known) => known >= drawnPx) ?? 1024;
  return `/previews/${sha256}/${channel}/${size}`;
}

/** The largest preview that there is of an image. */
export function closePreviewUrl(map: {
  sha256: string;
  channel: MapChannel;
  width: number;
  height: number;
}): string {
  return `/previews/${map.sha256}/${map.channel}/${Math.max(map.width, map.height) > 1024 ? 4096 : 1024}`;
}
