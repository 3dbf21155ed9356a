import type { IntakeImage } from "#core/candidates/candidate";

/** An image of an intake by its name, with all that is plain. */
export const image = (file: string, more: Partial<IntakeImage> = {}): IntakeImage => ({
  file,
  scope: "",
  // Long names may begin alike.
  sha256: file.slice(-64).padEnd(64, "0"),
  format: "png",
  width: 1024,
  height: 1024,
  bitDepth: 8,
  channels: 3,
  alpha: "none",
  colorSpace: "rgb",
  ...more,
});
