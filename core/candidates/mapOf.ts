import type { CandidateMap, IntakeImage } from "#core/candidates/candidate";
import { addressOf, type MapChannel } from "#core/roles/channel";

/** One channel of an image, or all of it, as a map. @param confidence 0..1 */
export function mapOf(
  image: IntakeImage,
  role: CandidateMap["role"],
  confidence: number,
  channel: MapChannel = "color",
): CandidateMap {
  const { file, sha256, width, height, bitDepth } = image;
  return {
    file: addressOf(file, channel),
    sha256,
    channel,
    role,
    confidence,
    likely: [],
    width,
    height,
    bitDepth,
  };
}
