import type { ColorAdjustment } from "#core/finish/colorAdjustment";
import type { Finish, FinishField } from "#core/finish/finish";
import type { MaterialFacts } from "#core/finish/material";
import type { RoughnessAdjustment } from "#core/finish/roughnessAdjustment";
import type { WearLayer } from "#core/finish/wear";
import type { Repeat } from "#core/length/repeat";
import type { Role } from "#core/roles/roles";

/** What is done to the pixels of an image by who reads it, in place of being worked into it. */
export interface FinishLeft {
  color?: ColorAdjustment;
  roughness?: RoughnessAdjustment;
}

/** A layer of wear that lies over a material in a size of its own: light where its marks are. */
export interface ContainedWear extends Pick<WearLayer, "effect" | "strength" | "tint" | "turn" | "start"> {
  /** Millimetres, before it is turned. */
  size: Repeat;
  repeats: boolean;
}

/** What an image of a material file holds: one role, or a role in each channel, null where that is one value throughout. */
export interface ContainerImage {
  role: Role | null;
  channels: readonly (Role | null)[] | null;
  left?: FinishLeft;
  /** Of one whose role is `wear_mask`. */
  wear?: ContainedWear;
}

/** An image that is encoded. */
export interface EncodedImage extends ContainerImage {
  /** Of the file beside it. */
  fileName: string;
  /** As in its media type: `png`. */
  format: string;
  /** Whether its fourth channel cuts out or fades, where it has one. */
  opacity?: "cut-out" | "smooth";
  read(): Promise<Uint8Array>;
}

export interface ContainedMaterial {
  name: string;
  /** Of its files, without an ending. */
  fileName: string;
  /** Millimetres. */
  repeat: Repeat | null;
  finish: Finish;
  /** From the lowest to the highest value of a height map. */
  heightMm: number;
  /** Of the product, where it is known. */
  facts?: MaterialFacts;
}

export interface WrittenFile {
  extension: string;
  mediaType: string;
  bytes: Uint8Array;
}

/** One file that holds a whole material, or wires up the images beside it: they, and the values around them. */
export interface ContainerKind {
  /** As people read it: "one GLB a material". */
  name: string;
  extension: string;
  /** Whether its images are within it, or stay files of their own. */
  images: "inside" | "beside";
  /** The image formats that it may have, by name. */
  formats: readonly string[];
  /** Whether it can say what is done to the pixels of its images. */
  leavesFinish?: true;
  /** Whether it says itself from which opacity on something is there; else its images are cut out. */
  hasThreshold: boolean;
  /** Whether it has a place for an image; what it has none for is said in the plan. */
  takes(image: ContainerImage): boolean;
  /** Whether a value of a finish that it writes beside the images is seen there. */
  carries(field: FinishField, finish: Finish): boolean;
  /** Why a value that it does not carry is in it all the same: in a second surface, which not everything reads that reads the first. */
  inSecond?(field: FinishField): string | undefined;
  /** The file, and what belongs to it. The same material and images always give the same bytes. */
  write(material: ContainedMaterial, images: EncodedImage[]): Promise<WrittenFile[]>;
}
