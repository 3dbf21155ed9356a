import type { FinishField } from "#core/finish/finish";

/** Values of a finish that a renderer may have an input for; the others go into images. */
export const ENTERED_VALUES = [
  "ior",
  "specularWeight",
  "specularColor",
  "coatWeight",
  "coatRoughness",
  "coatIor",
  "coatColor",
  "fuzzWeight",
  "fuzzColor",
  "subsurfaceWeight",
  "subsurfaceColor",
  "translucencyWeight",
  "translucencyColor",
  "transmissionWeight",
  "transmissionColor",
  "transmissionDepthMm",
  "thinWalled",
  "emissionNits",
  "emissionColor",
  "opacityMode",
  "opacityThreshold",
  "heightAmplitudeMm",
  "heightMiddle",
] as const satisfies FinishField[];
