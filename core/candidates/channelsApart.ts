import type { CandidateMap } from "#core/candidates/candidate";
import type { ImageReading } from "#core/judge/imageReading";
import { rolesOfChannel } from "#core/maps/rolesFromPixels";
import { addressOf, MAP_CHANNELS } from "#core/roles/channel";

/** Below this correlation between their details, the channels of an image hold different things. */
const UNLIKE = 0.5;

/** What is known of an image whose channels may be maps of their own. */
export interface Channelled {
  channels: number;
  reading?: Pick<ImageReading, "color" | "alpha" | "kinship"> | null;
}

type MapOfFile = Pick<CandidateMap, "file" | "channel" | "role" | "likely">;

/** Whether the pixels speak for it that each channel is a map of its own. */
export const looksPacked = ({ channels, reading }: Channelled): boolean =>
  channels >= 3 && (reading?.kinship ?? 1) < UNLIKE;

/**
 * The maps that the channels of a file are, each of which is asked about; the fourth only where it says something.
 * @param map of the whole file, which has three channels at least, and no role
 */
export function channelsApart<M extends MapOfFile>(map: M, { channels, reading }: Channelled): M[] {
  const readings = [
    ...[0, 1, 2].map((at) => reading?.color[at]),
    channels === 4 && reading?.alpha && reading.alpha.deviation > 0 ? reading.alpha : null,
  ];
  return MAP_CHANNELS.slice(1).flatMap((channel, at): M[] => {
    const of = readings[at];
    if (of === null) return [];
    const likely = of ? rolesOfChannel(of) : [];
    return [{ ...map, file: addressOf(map.file, channel), channel, role: "unknown", likely }];
  });
}
