import { finePercent, percent } from "#core/findings/figures";
import { kindOf } from "#core/findings/kind";
import type { PixelReason } from "#core/maps/rolesFromPixels";
import { ROLE_NAMES, type Role } from "#core/roles/roles";

/** Why pixels are taken for what they are taken for. */
const REASONS: Record<PixelReason["sign"], (share: number) => string> = {
  "only-grey-picture": () => "the only picture, and grey",
  "goes-with-slopes": (share) => `it goes with the slopes of the normal map (${percent(share)})`,
  hollows: () => "it is light with dark hollows",
  "follows-color": () => "it follows the colour",
  "grey-alone": () => "it is grey and goes with neither relief nor hollows",
  "trace-of-color": () => "it is the only one with a trace of colour",
  "unit-vectors": (share) => `${percent(share)} of its pixels are unit vectors that point outwards`,
  "not-unit-vectors": () =>
    "red and green lie around the middle and blue is strong, but the vectors are not of length 1",
  packed: () => "its channels hold different things",
  lights: () => "it is black but for some lights",
  colored: () => "it is coloured",
  black: () => "it is black",
  white: () => "it is white",
  "one-grey": () => "it is one grey",
  "two-tones": () => "it is nearly all black or white",
  "few-unit-vectors": (share) => `only ${finePercent(share)} of them are unit vectors`,
  "luminance-taken": () => "it is coloured; what is taken is its luminance",
  "dark-occlusion": (share) => `it is dark on average (${finePercent(share)}), and an occlusion map is light`,
};

const reasonWords = ({ sign, share = 0 }: PixelReason) => REASONS[sign](share);

/** What is said of a map by its pixels. */
export const ABOUT_PIXELS = {
  "role-unknown": kindOf<{ likely: readonly Role[]; reason: PixelReason | null }>({
    level: "look",
    answer: "acceptance",
    sentence({ likely, reason }, name) {
      const question =
        likely.length > 0
          ? `${name} may be ${likely.map((role) => ROLE_NAMES[role]).join(", ")}: say which, or leave it out.`
          : `${name} has no role word in its name: say what it is, or leave it out.`;
      return reason ? `${question} Its pixels: ${reasonWords(reason)}.` : question;
    },
  }),
  "name-and-pixels-disagree": kindOf<{ role: Role; reason: PixelReason; isSure: boolean }>({
    level: ({ isSure }) => (isSure ? "wrong" : "look"),
    sentence: ({ role, reason }, name) =>
      `${name} is read as ${ROLE_NAMES[role]}; its pixels say otherwise: ${reasonWords(reason)}.`,
  }),
  "too-dark": kindOf<{ share: number }>({
    level: "look",
    sentence: ({ share }, name) =>
      `${finePercent(share)} of the area of ${name} is darker than black velvet (it reflects 0.4 %): shadows may be painted in, or blacks cut off.`,
  }),
  "too-light": kindOf<{ share: number }>({
    level: "look",
    sentence: ({ share }, name) =>
      `${finePercent(share)} of the area of ${name} is lighter than fresh snow (it reflects 90 %): it will look as if it glowed.`,
  }),
  "eight-bits-in-sixteen": kindOf<{ isPrecise: boolean }>({
    level: ({ isPrecise }) => (isPrecise ? "look" : "note"),
    sentence: (_, name) => `${name} is a 16-bit file that holds only 8 bits.`,
  }),
  "jpeg-blocks": kindOf<{ isPrecise: boolean; ratio: number }>({
    level: ({ isPrecise }) => (isPrecise ? "look" : "note"),
    sentence: ({ ratio }, name) =>
      `${name} shows the blocks of a JPEG (steps at every eighth pixel ${ratio.toFixed(1)} times the others); as data that is noise.`,
  }),
  flat: kindOf<{ value: number }>({
    level: "note",
    sentence: ({ value }, name) =>
      `${name} is one value throughout (${finePercent(value)}); a number would say the same.`,
  }),
};
