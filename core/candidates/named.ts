import type { IntakeImage } from "#core/candidates/candidate";
import type { NameReading } from "#core/maps/readRole";

/** One image with what its name says, in the group that its name puts it in. */
export interface Named {
  image: IntakeImage;
  reading: NameReading;
}
