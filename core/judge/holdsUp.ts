import { z } from "zod";

/** A view: the picture's width in pixels, and the horizontal angle that it shows, in degrees. */
export interface Camera {
  widthPx: number;
  angleDegrees: number;
}

const PIXELS = "A camera has 1 to 32,768 pixels across.";
const DEGREES = "A camera sees 1 to 170 degrees.";

/** A camera as it is typed in. */
export const cameraSchema = z
  .object({
    widthPx: z.number("The width is a number.").int("Pixels are whole.").min(1, PIXELS).max(32_768, PIXELS),
    angleDegrees: z.number("The angle is a number.").min(1, DEGREES).max(170, DEGREES),
  })
  .strict();

export const DEFAULT_CAMERA: Camera = { widthPx: 3840, angleDegrees: 60 };

/** Pixels of the picture for each metre of a surface that faces the camera at a distance in metres: W / (2 d tan(f/2)). */
export function pixelsPerMetre(camera: Camera, distanceM: number): number {
  return camera.widthPx / (2 * distanceM * Math.tan((camera.angleDegrees * Math.PI) / 360));
}

/** The distance in metres from which on a map of a density (pixels per real metre) has at least one texel for each pixel. */
export function holdsUpFrom(camera: Camera, densityPxPerM: number): number {
  return pixelsPerMetre(camera, 1) / densityPxPerM;
}

/** How close a camera comes, which sets how strict a finding is. */
export const PURPOSES = ["near", "far", "backdrop"] as const;
export type Purpose = (typeof PURPOSES)[number];

/** From how many metres on a map has to hold up. */
export const PURPOSE_DISTANCE_M: Record<Purpose, number> = { near: 1.5, far: 8, backdrop: 40 };
