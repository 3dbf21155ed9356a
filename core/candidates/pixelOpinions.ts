import type { Member } from "#core/candidates/candidate";
import { rolesFromPixels, type PixelOpinion } from "#core/maps/rolesFromPixels";

/** What the pixels say of each member of a set. */
export function pixelOpinions(members: Member[]): (PixelOpinion | undefined)[] {
  const studied = members.flatMap(({ image, small }, at) =>
    image.reading && small ? [{ at, reading: image.reading, small }] : [],
  );
  const opinions: (PixelOpinion | undefined)[] = members.map(() => undefined);
  rolesFromPixels(studied).forEach((opinion, i) => (opinions[studied[i].at] = opinion));
  return opinions;
}
