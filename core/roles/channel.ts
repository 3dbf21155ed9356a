/** Which channels of a file a map reads: all of its colour channels, or one alone. */
export const MAP_CHANNELS = ["color", "red", "green", "blue", "alpha"] as const;
export type MapChannel = (typeof MAP_CHANNELS)[number];

/** Place of a single channel among those of a pixel; the fourth channel is the last, also of a grey image. */
export function channelIndex(channel: Exclude<MapChannel, "color">, channels: number): number {
  return channel === "alpha"
    ? channels - 1
    : Math.min(["red", "green", "blue"].indexOf(channel), channels - 1);
}

/** How a map of one channel is addressed: the file's path with "#red" behind it. */
export function addressOf(file: string, channel: MapChannel): string {
  return channel === "color" ? file : `${file}#${channel}`;
}

/** Whether a file is no map itself, since its first three channels are maps of their own. */
export const isToldApart = (
  map: { file: string; channel: MapChannel },
  all: readonly { file: string; channel: MapChannel }[],
): boolean => map.channel === "color" && all.some(({ file }) => file === addressOf(map.file, "red"));

/** The file that a map is in, from its address. */
export function fileOf(map: { file: string; channel: MapChannel }): string {
  return map.channel === "color" ? map.file : map.file.slice(0, -(map.channel.length + 1));
}
