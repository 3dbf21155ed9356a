import type { CandidateMap, IntakeImage, Member } from "#core/candidates/candidate";
import { mayFade } from "#core/candidates/judgeFile";
import { mapOf } from "#core/candidates/mapOf";
import { addressOf } from "#core/roles/channel";
import type { Role } from "#core/roles/roles";

/** The fourth channels of a set's images that are maps of their own, or have to be asked. */
export function fourthChannels(maps: readonly CandidateMap[], members: Member[]): CandidateMap[] {
  const found: CandidateMap[] = [];
  for (const { image } of members)
    for (const map of maps.filter(({ channel, file }) => channel === "color" && file === image.file)) {
      const all = [...maps, ...found];
      const isThere = all.some(({ file }) => file === addressOf(image.file, "alpha"));
      const fromAlpha = isThere ? undefined : mapFromAlpha(image, map, all);
      if (fromAlpha) found.push(fromAlpha);
    }
  return found;
}

/** A fourth channel is a map only where it says something: a cut-out in a colour map, perhaps a height in a normal map. */
function mapFromAlpha(
  image: IntakeImage,
  map: CandidateMap,
  kept: readonly CandidateMap[],
): CandidateMap | undefined {
  const has = (role: Role) => kept.some((other) => other.role === role);
  if (map.role === "base_color" && image.alpha === "cut-out" && !has("geometry_opacity"))
    return mapOf(image, "geometry_opacity", 0.9, "alpha");
  if (map.role === "geometry_normal" && image.alpha === "varied")
    return { ...mapOf(image, "unknown", 0, "alpha"), likely: ["height", "bump"] };
  if (map.role === "base_color" && mayFade(image) && !has("geometry_opacity"))
    return {
      ...mapOf(image, "unknown", 0, "alpha"),
      likely: ["geometry_opacity", "specular_roughness", "gloss", "height"],
    };
  return undefined;
}
