import type { Family } from "#core/finish/family";
import type { ImageReading } from "#core/judge/imageReading";
import { channelIndex, type MapChannel } from "#core/roles/channel";

/** Rust, dirt and paint take their part of a sheet of metal. */
const MOSTLY = 0.75;

/** What says how far a material is metal: its map, or else its value. */
export interface KnownMetalness {
  map?: { reading: Pick<ImageReading, "color" | "alpha"> | null; channel: MapChannel };
  value: number;
}

/**
 * The family that maps say by what they are: metal alone. What the base color shows was tried as well (contrast by scale and direction,
 * colours, fitted to 691 named textures of three games) and told 28 % of those of another game rightly, so that it is not asked.
 */
export function familyOfMaps({ map, value }: KnownMetalness): Family | undefined {
  const share = map ? meanOf(map) : value;
  return share !== undefined && share >= MOSTLY ? "metal" : undefined;
}

function meanOf({ reading, channel }: NonNullable<KnownMetalness["map"]>): number | undefined {
  if (!reading) return undefined;
  const { color, alpha } = reading;
  const all = alpha ? [...color, alpha] : color;
  return all[channel === "color" ? 0 : channelIndex(channel, all.length)]?.mean;
}
