import { GREY, looksLikeNormal, type ChannelReading, type ImageReading } from "#core/judge/imageReading";
import { directionByHeight } from "#core/judge/normalDirection";
import { blurred } from "#core/raster/blurred";
import type { Role } from "#core/roles/roles";
import { correlation, lumaOf, type Plane } from "#core/raster/plane";
import type { Raster } from "#core/raster/raster";
import { heightFromSlopes } from "#core/relief/heightFromSlopes";
import { slopesOf } from "#core/relief/slopes";

/** An image with what its pixels say on their own, and a square reduction of it (sides of a power of two). */
export interface StudiedImage {
  reading: ImageReading;
  small: Raster;
}

/** What the pixels take an image for. */
export interface PixelOpinion {
  /** Most likely first; empty where the pixels say nothing. */
  likely: Role[];
  /** 0..1, of the first. */
  sure: number;
  /** Roles of red, green and blue, where the channels hold different things. */
  packed?: Role[];
  /** What speaks for it; null where the pixels say nothing. */
  why: PixelReason | null;
}

/** A sign in the pixels, and how much of it there is (0..1) where that can be said. */
export interface PixelReason {
  sign:
    | "only-grey-picture"
    | "goes-with-slopes"
    | "hollows"
    | "follows-color"
    | "grey-alone"
    | "trace-of-color"
    | "unit-vectors"
    | "not-unit-vectors"
    | "packed"
    | "lights"
    | "colored"
    | "black"
    | "white"
    | "one-grey"
    | "two-tones"
    // Signs against the role that a name gives.
    | "few-unit-vectors"
    | "luminance-taken"
    | "dark-occlusion";
  share?: number;
}

const NOTHING: PixelOpinion = { likely: [], sure: 0, why: null };

const isGrey = ({ spread }: ImageReading) => spread < GREY;
const isFlat = (channel: ChannelReading) => channel.deviation < 0.006;
const nearHalf = ({ mean }: ChannelReading) => Math.abs(mean - 0.5) < 0.08;
const isMask = ({ low, high }: ChannelReading) => low + high > 0.93 && low > 0.002 && high > 0.002;

/**
 * Roles of a set's images from their pixels alone. Grey maps are told apart against each other: the height is the one
 * that goes with the integral of the normal map, the occlusion is light with dark hollows, the rest is roughness (or gloss: pixels
 * cannot tell which).
 */
export function rolesFromPixels(images: StudiedImage[]): PixelOpinion[] {
  const opinions = images.map(alone);
  const normal = images.find((_, i) => opinions[i].likely[0] === "geometry_normal");
  colorOfGreySurface(images, opinions);
  const colored = images.find((_, i) => opinions[i].likely[0] === "base_color");
  const grey = images
    .map((image, at) => ({ image, at }))
    .filter(({ at }) => opinions[at] === NOTHING)
    .map(({ image, at }) => ({ at, ...features(image, normal, colored) }));

  if (grey.length === 1 && !colored && !normal)
    return opinions.map((opinion) =>
      opinion === NOTHING
        ? {
            likely: ["base_color", "height", "specular_roughness"],
            sure: 0.5,
            why: { sign: "only-grey-picture" },
          }
        : opinion,
    );

  const height = [...grey].sort((a, b) => b.relief - a.relief)[0];
  const heightFound = height !== undefined && height.relief > 0.3;
  for (const { at, relief, hollow, color } of grey) {
    if (heightFound && at === height.at)
      opinions[at] = {
        likely: ["height", "bump"],
        sure: Math.min(0.95, 0.4 + relief * 0.6),
        why: { sign: "goes-with-slopes", share: relief },
      };
    else if (hollow > 0.5)
      opinions[at] = {
        likely: ["ambient_occlusion", "height", "specular_roughness"],
        sure: Math.min(0.9, 0.4 + hollow / 2),
        why: { sign: "hollows" },
      };
    else if (!normal && color > 0.6 && grey.length > 1 && grey.every((other) => other.color <= color))
      opinions[at] = {
        likely: ["height", "specular_roughness", "gloss"],
        sure: 0.4,
        why: { sign: "follows-color" },
      };
    else
      opinions[at] = {
        likely: ["specular_roughness", "gloss", "height"],
        sure: 0.55,
        why: { sign: "grey-alone" },
      };
  }
  return opinions;
}

/** Where nothing is coloured, a grey image with a trace of colour is the colour of a grey surface. */
function colorOfGreySurface(images: StudiedImage[], opinions: PixelOpinion[]): void {
  if (images.length < 2 || opinions.some(({ likely }) => likely[0] === "base_color")) return;
  const traces = images.map(({ reading }, i) => (opinions[i] === NOTHING ? reading.spread : 0));
  const most = Math.max(...traces);
  if (most < 0.0015) return;
  opinions[traces.indexOf(most)] = {
    likely: ["base_color", "specular_roughness", "height"],
    sure: 0.6,
    why: { sign: "trace-of-color" },
  };
}

/** What can be said without the other images. */
function alone({ reading }: StudiedImage): PixelOpinion {
  const { color, normal, kinship } = reading;
  if (normal && looksLikeNormal(normal) && !isGrey(reading))
    return {
      likely: ["geometry_normal"],
      sure: Math.min(0.98, normal.unit),
      why: { sign: "unit-vectors", share: normal.unit },
    };
  if (!isGrey(reading)) {
    const [red, green, blue] = color;
    if (normal && nearHalf(red) && nearHalf(green) && blue.mean > 0.7 && normal.up > 0.9)
      return {
        likely: ["geometry_normal"],
        sure: 0.7,
        why: { sign: "not-unit-vectors" },
      };
    const packed = packedRoles(color, kinship);
    if (packed) return { likely: [], sure: 0.6, packed, why: { sign: "packed" } };
    if (color.every(({ low }) => low > 0.8))
      return { likely: ["emission_color", "base_color"], sure: 0.6, why: { sign: "lights" } };
    return {
      likely: ["base_color", "subsurface_color", "specular_color"],
      sure: 0.8,
      why: { sign: "colored" },
    };
  }
  return ofGrey(color[0]);
}

/** What one channel is likely to be that is a map of its own, the likeliest first. */
export function rolesOfChannel(channel: ChannelReading): Role[] {
  const { likely } = ofGrey(channel);
  if (likely.length > 0) return likely;
  return lightOf(channel) * hollowsOf(channel) > 0.5
    ? ["ambient_occlusion", "height", "specular_roughness"]
    : ["specular_roughness", "gloss", "height", "ambient_occlusion", "base_metalness"];
}

function ofGrey(channel: ChannelReading): PixelOpinion {
  if (isFlat(channel)) {
    if (channel.mean < 0.06)
      return { likely: ["base_metalness", "emission_color"], sure: 0.6, why: { sign: "black" } };
    if (channel.mean > 0.94)
      return { likely: ["ambient_occlusion", "geometry_opacity"], sure: 0.5, why: { sign: "white" } };
    return { likely: ["specular_roughness", "gloss"], sure: 0.5, why: { sign: "one-grey" } };
  }
  if (isMask(channel))
    return {
      likely: ["geometry_opacity", "base_metalness"],
      sure: 0.55,
      why: { sign: "two-tones" },
    };
  return NOTHING;
}

/** Occlusion, roughness and metalness in the three channels: unlike each other, blue nearly constant, red light. */
function packedRoles([red, green, blue]: ChannelReading[], kinship: number): Role[] | undefined {
  const constantBlue = isFlat(blue) && (blue.mean < 0.05 || blue.mean > 0.95);
  if (kinship < 0.5 && (constantBlue || isMask(blue)) && red.mean > 0.55 && !isFlat(green))
    return ["ambient_occlusion", "specular_roughness", "base_metalness"];
  return undefined;
}

function features(image: StudiedImage, normal: StudiedImage | undefined, colored: StudiedImage | undefined) {
  const plane = lumaOf(image.small);
  const [channel] = image.reading.color;
  let relief = 0;
  if (normal) {
    const gradients = directionByHeight(normal.small, plane);
    const steep = Math.min(Math.abs(gradients.across), Math.abs(gradients.down));
    const integral = Math.max(
      ...(["+Y", "-Y"] as const).map((direction) =>
        Math.abs(correlation(detail(heightFromSlopes(slopesOf(normal.small, direction))), detail(plane))),
      ),
    );
    relief = 0.5 * steep + 0.5 * integral;
  }
  const hollow = lightOf(channel) * hollowsOf(channel);
  const color = colored ? Math.abs(correlation(detail(plane), detail(lumaOf(colored.small)))) : 0;
  return { relief, hollow, color };
}

/** How light a channel is on the whole, up to white. */
const lightOf = ({ mean, max }: ChannelReading) =>
  Math.min(1, Math.max(0, (mean - 0.55) / 0.25)) * (max > 0.9 ? 1 : 0.4);
/** How far a few of its places are darker than the rest. */
const hollowsOf = ({ skew }: ChannelReading) => Math.min(1, Math.max(0, -skew - 0.2) / 0.8);

/** Without the lowest frequencies, which say nothing of which map goes with which. */
function detail(plane: Plane): Plane {
  const low = blurred(plane, plane.width / 12);
  return { ...plane, data: plane.data.map((v, i) => v - low.data[i]) };
}
