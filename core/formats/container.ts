import type { Finish, FinishField } from "#core/finish/finish";
import type { Repeat } from "#core/length/repeat";
import type { Role } from "#core/roles/roles";

/** What an image of a container holds: one role, or a role in each channel, null where that is one value throughout. */
export interface ContainerImage {
  role: Role | null;
  channels: readonly (Role | null)[] | null;
}

/** An image that is encoded. */
export interface EncodedImage extends ContainerImage {
  bytes: Uint8Array;
  /** As in its media type: `png`. */
  format: string;
  /** Whether its fourth channel cuts out or fades, where it has one. */
  opacity?: "cut-out" | "smooth";
}

export interface ContainedMaterial {
  name: string;
  /** Millimetres. */
  repeat: Repeat | null;
  finish: Finish;
}

/** One file that holds a whole material: its images, and the values around them. */
export interface ContainerKind {
  /** As people read it: "one GLB a material". */
  name: string;
  extension: string;
  mediaType: string;
  /** Whether it has a place for an image; what it has none for is said in the plan. */
  takes(image: ContainerImage): boolean;
  /** Whether a value of a finish that it writes beside the images is seen there. */
  carries(field: FinishField, finish: Finish): boolean;
  /** The same material and images always give the same bytes. */
  write(material: ContainedMaterial, images: EncodedImage[]): Promise<Uint8Array>;
}
