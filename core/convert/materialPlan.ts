import type { FileBits, ImageFormat } from "#core/convert/imageFormats";
import type { Operation } from "#core/convert/operation";
import type { MaterialMap, MaterialState } from "#core/finish/material";
import type { ContainedWear, ContainerImage, FinishLeft } from "#core/formats/container";
import type { ContainerName } from "#core/formats/containers";
import type { Role } from "#core/roles/roles";

/** A map and what is done to it. */
export interface PlannedLayer {
  /** Nothing where the first operation makes the image: `fill`. */
  source: MaterialMap | null;
  operations: Operation[];
  /** Read by the operation `roughen`: the normal map before it is reduced. */
  normal?: PlannedLayer;
  /** Read by the operation `wear`. */
  masks?: PlannedLayer[];
}

/** How the pixels of one delivered image come about. */
export type PlannedImage =
  | {
      kind: "map";
      base: PlannedLayer;
      /** Read by the operation `multiply`. */
      occlusion?: PlannedLayer;
      /** Read by the operation `attach-opacity`. */
      opacity?: PlannedLayer;
    }
  | {
      kind: "packed";
      roles: [Role, Role, Role];
      channels: [PlannedLayer | number, PlannedLayer | number, PlannedLayer | number];
    };

export interface PlannedFile {
  /** Relative to the delivery: `PROFILE/MATERIAL/file`. */
  path: string;
  slot: string;
  /** The role, or for a packed image the roles joined by "+". */
  role: string;
  image: PlannedImage;
  format: ImageFormat;
  width: number;
  height: number;
  bitDepth: FileBits;
  /** Of a JPEG, where its profile wants another than usual. */
  quality?: number;
  encoding: "srgb" | "linear";
  /** What the file says of its colours. */
  tag: "none" | "icc";
  /** What of the finish its material file does to it, in place of its pixels. */
  left?: FinishLeft;
  /** How it lies, where it is a layer of wear. */
  wear?: ContainedWear;
  /** Everything that is done, as words. */
  operations: string[];
}

/** What a profile makes of one material: plain data, to be shown before it is carried out. */
export interface MaterialPlan {
  material: Pick<
    MaterialState,
    "id" | "name" | "code" | "fileName" | "revision" | "layout" | "repeat" | "sizeState" | "finish" | "facts"
  >;
  profile: string;
  /** `PROFILE/MATERIAL`, or as the profile calls it. */
  folder: string;
  /** Of the sheet with the values to enter. */
  settingsPath: string;
  /** One binary holds the images, in place of loose files. */
  container: { path: string; kind: ContainerName } | null;
  files: PlannedFile[];
  /** The values for the inputs that get no image, in the profile's own terms. */
  settings: Record<string, string | number | boolean>;
  steps: string[];
  warnings: string[];
  /** Values of the finish that this renderer cannot take, in words. */
  notCarried: string[];
  /** What is changed of the finish for this renderer alone, in words. */
  correction: string[];
}

/** A planned layer and all that it reads beside itself. */
function layersUnder(layer: PlannedLayer): PlannedLayer[] {
  return [layer, ...(layer.normal ? layersUnder(layer.normal) : []), ...(layer.masks ?? [])];
}

/** All layers that an image is made from. */
export function layersOf(image: PlannedImage): PlannedLayer[] {
  const layers =
    image.kind === "packed"
      ? image.channels.filter((channel) => typeof channel !== "number")
      : [image.base, image.occlusion, image.opacity].filter((layer) => layer !== undefined);
  return layers.flatMap(layersUnder);
}

/** What an image is to a container. */
export const containerImage = ({ role, image, left, wear }: PlannedFile): ContainerImage =>
  image.kind === "packed"
    ? {
        role: null,
        channels: image.channels.map((channel, at) => (typeof channel === "number" ? null : image.roles[at])),
      }
    : { role: role as Role, channels: null, ...(left && { left }), ...(wear && { wear }) };
