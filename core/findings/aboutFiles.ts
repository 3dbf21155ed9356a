import { figure } from "#core/findings/figures";
import { kindOf } from "#core/findings/kind";
import { isColorRole, type Role } from "#core/roles/roles";

/** EXIF 2.3, tag 274, in words. */
const ORIENTATIONS: Record<number, string> = {
  2: "mirrored",
  3: "turned by 180°",
  4: "mirrored and turned by 180°",
  5: "mirrored and turned by 90°",
  6: "turned by 90°",
  7: "mirrored and turned by 270°",
  8: "turned by 270°",
};

export const hasOrientation = (orientation: number) => orientation in ORIENTATIONS;

/** What is said of a file: how it was read, and what was done with it for that. */
export const ABOUT_FILES = {
  "extension-differs": kindOf<{ format: string }>({
    level: "note",
    sentence: ({ format }, name) => `${name} is ${format.toUpperCase()} by its content; it was read as that.`,
  }),
  damaged: kindOf<object>({
    level: "wrong",
    sentence: (_, name) =>
      `${name} is damaged: it could be read, but parts of the picture are not what they were. Download it again.`,
  }),
  "several-pages": kindOf<{ pages: number }>({
    level: "look",
    sentence: ({ pages }, name) => `${name} holds ${pages} images; the first was read.`,
  }),
  "broken-samples": kindOf<{ count: number }>({
    level: "look",
    sentence: ({ count }, name) =>
      `${name} has ${count} samples that are no number or infinite; they count as 0.`,
  }),
  range: kindOf<{ min: number; max: number; treated: "cut-off" | "spread" | "millimetres" }>({
    level: "note",
    sentence: ({ min, max, treated }, name) =>
      `${name} runs from ${figure(min)} to ${figure(max)}${
        {
          "cut-off": "; what lies outside 0 to 1 is cut off.",
          spread: "; it is spread over 0 to 1.",
          millimetres:
            ": it is spread over 0 to 1, and its range is taken for millimetres. If it has another unit, set how deep it goes under Finish.",
        }[treated]
      }`,
  }),
  "profile-converted": kindOf<{ profile: string }>({
    level: "note",
    sentence: ({ profile }, name) =>
      `${name} carries the colour profile “${profile}”; its colours are converted to sRGB.`,
  }),
  "profile-ignored": kindOf<{ profile: string }>({
    level: "note",
    sentence: ({ profile }, name) =>
      `${name} carries the colour profile “${profile}”; it is data, so the profile is ignored.`,
  }),
  "profile-unreadable": kindOf<object>({
    level: "look",
    sentence: (_, name) =>
      `${name} carries a colour profile that is damaged, or made for other pictures: its colours are taken for sRGB. Save it anew from where it comes from if they look wrong.`,
  }),
  "inks-without-profile": kindOf<object>({
    level: "look",
    sentence: (_, name) =>
      `${name} is made for printing and does not say for which inks: they are taken for those of a common press, so its colours are not certain.`,
  }),
  "orientation-applied": kindOf<{ orientation: number; isNormal: boolean }>({
    level: ({ isNormal }) => (isNormal ? "look" : "note"),
    sentence: ({ orientation, isNormal }, name) =>
      `${name} is marked as ${ORIENTATIONS[orientation]}, and was set upright${
        isNormal ? "; its vectors point as they did. See whether they still go with the relief." : "."
      }`,
  }),
  "alpha-dropped": kindOf<object>({
    level: "note",
    sentence: (_, name) => `${name} has a fourth channel that is the same everywhere; it is left aside.`,
  }),
  "alpha-may-be-height": kindOf<object>({
    level: "look",
    answer: "acceptance",
    sentence: (_, name) =>
      `${name} has a fourth channel that may hold the height. Give it that role, or leave it out.`,
  }),
  "alpha-is-asked": kindOf<object>({
    level: "look",
    answer: "acceptance",
    sentence: (_, name) =>
      `${name} has a fourth channel that is no plain cut-out: it may fade (glass, lace), or hold something else. Say what it is, or leave it out.`,
  }),
  "alpha-not-opacity": kindOf<object>({
    level: "note",
    sentence: (_, name) => `${name} has a fourth channel that is no cut-out mask; it is left aside.`,
  }),
  "bump-has-no-unit": kindOf<object>({
    level: "note",
    sentence: (_, name) =>
      `${name} is a bump map: a height without a unit, so how deep it is has to be assumed.`,
  }),
};

/** How a range of samples beyond 0 to 1 is treated in a role. */
export const rangeTreatment = (role: Role | "unknown", isGrey: boolean) =>
  isColorRole(role) || !isGrey ? "cut-off" : role === "height" ? "millimetres" : "spread";
