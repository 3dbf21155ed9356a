import type { Layout, MaterialKind } from "#core/finish/material";
import type { ImageReading } from "#core/judge/imageReading";
import type { RepetitionReading } from "#core/judge/repetition";
import type { MapChannel } from "#core/roles/channel";
import type { Finding } from "#core/findings/finding";
import type { NormalDirection, Role } from "#core/roles/roles";
import type { Raster } from "#core/raster/raster";

/** What the fourth channel of an image holds: nothing to speak of, a clean mask, or values of some other meaning. */
export type AlphaContent = "none" | "constant" | "cut-out" | "varied";

/** What the numbers of a floating-point image span. */
export interface FloatRange {
  min: number;
  max: number;
  /** Samples that are no number or infinite. */
  broken: number;
  /** Whether all colour channels hold the same numbers. */
  grey: boolean;
}

/** A role that a model or a material file gives to an image. */
export interface GivenRole {
  role: Role;
  channel: MapChannel;
  normalDirection?: NormalDirection;
}

/** The material of a model that an image belongs to: no name has to be read. */
export interface GivenSet {
  set: string;
  name: string;
  roles: GivenRole[];
}

/** One decoded image of an intake, with what its pixels are known to be. */
export interface IntakeImage {
  /** Path inside the upload. */
  file: string;
  /** Files of one scope can belong together: one archive, or all the loose files. */
  scope: string;
  sha256: string;
  format: string;
  width: number;
  height: number;
  /** 32: floating point. */
  bitDepth: number;
  channels: number;
  alpha: AlphaContent;
  /** Format by content ("jpeg") where the extension says another. */
  mistakenFor?: string;
  colorSpace: "grey" | "rgb" | "cmyk";
  /** Name of the embedded colour profile, where its colours are not those of sRGB. */
  profile?: string;
  /** One is embedded that cannot be read: its colours are taken for sRGB. */
  profileUnreadable?: boolean;
  /** EXIF orientation, where the file's rows do not lie upright; it is read upright. */
  orientation?: number;
  /** Images in the file; the first is read. */
  pages?: number;
  /** Readable, but damaged in places. */
  damaged?: boolean;
  range?: FloatRange;
  /** Figures from the pixels, where they were measured. */
  reading?: ImageReading;
  repetition?: RepetitionReading;
  given?: GivenSet;
}

/** An image with a square reduction of it (sides of a power of two), where its pixels are at hand. */
export interface Member {
  image: IntakeImage;
  small?: Raster;
}

/** "unknown": a person has to say what it is, or leave it out. */
export type CandidateRole = Role | "unknown";

export interface CandidateMap {
  /** The file's path; a map that reads one channel has "#red" or such behind it. */
  file: string;
  sha256: string;
  channel: MapChannel;
  role: CandidateRole;
  /** 0..1 */
  confidence: number;
  normalDirection?: NormalDirection;
  /** Roles to offer first where the role is unknown. */
  likely: Role[];
  /** Somebody said that it is not to be taken: nobody is asked any more what it is. */
  leftOut?: boolean;
  width: number;
  height: number;
  bitDepth: number;
}

export interface PlannedCandidate {
  name: string;
  /** Path of the folder that it came from, inside the upload; "" at the top. */
  folder: string;
  kind: MaterialKind;
  layout: Layout;
  maps: CandidateMap[];
  findings: Finding[];
  /** The material of a model that it was given by. */
  given?: string;
}

/** Why a file is in no candidate. */
export const IGNORED_KINDS = ["passed-over", "left-aside", "set-aside", "text", "model"] as const;

export interface IgnoredFile {
  file: string;
  reason: string;
  /** Where the file itself was kept, so that it can be tried again. */
  sha256?: string | null;
  /**
   * "passed-over": a twin of it is kept; "set-aside": it could not be read, or cost too much; "text", "model": a read-me or
   * licence, and geometry; "left-aside": anything else.
   */
  kind: (typeof IGNORED_KINDS)[number];
}
