import { constantFor, VALUES_OF_ROLE } from "#core/convert/finishing";
import type { MaterialPlan, PlannedFile, PlannedLayer } from "#core/convert/materialPlan";
import type { Profile } from "#core/convert/profile";
import { adjustedHex, colorAdjustment } from "#core/finish/colorAdjustment";
import { heightAmplitude, type FinishField } from "#core/finish/finish";
import type { MaterialState } from "#core/finish/material";
import { FINISH_FIELDS, FINISH_VALUES, isSet, valueWords } from "#core/finish/valueFacts";
import { isLaid } from "#core/finish/wear";
import { containerKind } from "#core/formats/containers";
import { MM_PER_UNIT } from "#core/length/parseLength";
import { ROLE_NAMES, type Role } from "#core/roles/roles";

/**
 * Where each value of a finish goes: into an image, among the values to be entered, into the one file; or it is said that this renderer
 * cannot take it. None is silently left out.
 */
export function carryValues(
  material: MaterialState,
  profile: Profile,
  files: PlannedFile[],
): Pick<MaterialPlan, "settings" | "notCarried"> {
  const settings: MaterialPlan["settings"] = { unit: profile.unit };
  if (material.repeat) {
    settings.width = inUnit(material.repeat.width, profile);
    settings.height = inUnit(material.repeat.height, profile);
  }
  const context: Context = { material, profile, shown: rolesIn(files), settings };
  enterWhatHasNoImage(context);
  const notCarried: string[] = [];
  for (const field of FINISH_FIELDS) {
    const reason = isSet(material.finish, field) ? whyNot(context, field) : undefined;
    const { name } = FINISH_VALUES[field];
    if (reason !== undefined)
      notCarried.push(`${name} ${valueWords(field, material.finish[field])}: ${reason}.`);
    else enterValue(context, field);
  }
  // A word for whoever enters the rest.
  if (material.finish.grade !== undefined) settings[FINISH_VALUES.grade.name] = material.finish.grade;
  return { settings, notCarried };
}

interface Context {
  material: MaterialState;
  profile: Profile;
  /** The roles that images are delivered for, alone, packed, or multiplied into another. */
  shown: Set<Role>;
  settings: MaterialPlan["settings"];
}

function rolesIn(files: PlannedFile[]): Set<Role> {
  const role = (layer: PlannedLayer | undefined): Role[] => (layer?.source ? [layer.source.role] : []);
  return new Set(
    files.flatMap(({ image, role: name }) =>
      image.kind === "packed"
        ? image.channels.flatMap((layer, at) => (typeof layer === "number" ? [] : [image.roles[at]]))
        : [name as Role, ...role(image.occlusion), ...role(image.opacity)],
    ),
  );
}

const wantedRoles = ({ outputs }: Profile): Role[] =>
  outputs.flatMap((output) => (output.kind === "map" ? [output.role] : output.channels));

function enterWhatHasNoImage({ material, profile, shown, settings }: Context): void {
  const { finish } = material;
  for (const role of wantedRoles(profile)) {
    if (shown.has(role)) continue;
    if (role === "base_color" && finish.color)
      settings[ROLE_NAMES[role]] = adjustedHex(finish.color, colorAdjustment(finish));
    if (role === "specular_roughness" || role === "gloss" || role === "base_metalness")
      settings[ROLE_NAMES[role]] = Number(constantFor(role, material).toFixed(4));
  }
}

/** A value that the profile has a name for the input of. */
function enterValue({ material, profile, shown, settings }: Context, field: FinishField): void {
  const { finish, repeat } = material;
  const name = profile.values[field];
  if (name === undefined) return;
  if (field === "heightAmplitudeMm" || field === "heightMiddle") {
    // Relief needs both, whether somebody set them or not.
    if (!shown.has("height") && !shown.has("bump")) return;
    settings[name] =
      field === "heightMiddle" ? finish.heightMiddle : inUnit(heightAmplitude(finish, repeat).mm, profile);
  } else if (isSet(finish, field) && !isInImage(shown, field))
    settings[name] = entered(field, finish[field], profile);
}

function entered(
  field: FinishField,
  value: MaterialState["finish"][FinishField],
  profile: Profile,
): string | number | boolean {
  if (Array.isArray(value)) return valueWords(field, value);
  const facts = FINISH_VALUES[field];
  if (facts.kind === "number" && facts.unit === "mm") return inUnit(Number(value), profile);
  return value!;
}

/** Whether an image of a delivery has the value in it. */
const isInImage = (shown: Set<Role>, field: FinishField): boolean =>
  [...shown].some((role) => VALUES_OF_ROLE[role]?.includes(field));

/** Why a value that was set changes nothing at the receiving end; undefined where it does. */
function whyNot({ material, profile, shown }: Context, field: FinishField): string | undefined {
  if (isInImage(shown, field)) return undefined;
  const has = (...roles: Role[]) => material.maps.some((map) => roles.includes(map.role));
  const needs = NEEDS[field];
  if (needs && !isOn(material.finish, needs.value) && !(needs.role && has(needs.role)))
    return needs.otherwise;
  const wants = wantedRoles(profile);
  const named = profile.values[field] !== undefined;
  const container = profile.delivers === "images" ? undefined : containerKind(profile.delivers);
  const written = container?.carries(field, material.finish) ?? false;
  switch (field) {
    case "color":
      // An image that is made for wear has the colour in it.
      if (shown.has("base_color")) return has("base_color") ? "the base color map says it" : undefined;
      return wants.includes("base_color") ? undefined : NO_INPUT;
    case "tint":
    case "warmth":
    case "brightnessStops":
    case "gamma":
    case "contrast":
    case "saturation":
      return material.finish.color ? undefined : "there is no colour that it could change";
    case "roughness":
    case "metalness": {
      const roles: Role[] = field === "roughness" ? ["specular_roughness", "gloss"] : ["base_metalness"];
      if (roles.some((role) => shown.has(role)))
        return has(...roles) ? `the ${field} map says it` : undefined;
      return roles.some((role) => wants.includes(role)) ? undefined : NO_INPUT;
    }
    case "roughnessScale":
    case "roughnessShift":
    case "roughnessRange":
      return wants.includes("specular_roughness") || wants.includes("gloss") ? undefined : NO_INPUT;
    case "grade":
      return undefined;
    case "wearFit":
      return whyNoFit(material, profile);
    case "lostRelief":
      // What is not reduced loses nothing, and what is has it in its image.
      return undefined;
    case "normalStrength":
      return has("geometry_normal") ? NO_INPUT : "there is no normal map";
    case "heightAmplitudeMm":
    case "heightMiddle":
    case "heightRange":
      if (!has("height", "bump")) return "there is no height map";
      return shown.has("height") || shown.has("bump")
        ? named || written || field === "heightRange"
          ? undefined
          : NO_INPUT
        : "its relief takes no height";
    case "occlusionStrength":
    case "occlusionGamma":
      return has("ambient_occlusion") ? NO_INPUT : "there is no occlusion map";
    case "opacityMode":
    case "opacityThreshold": {
      if (!has("geometry_opacity")) return "there is no opacity map";
      if (!shown.has("geometry_opacity")) return NO_INPUT;
      const isCut = material.finish.opacityMode === "cut-out";
      return written || named || isCut || field === "opacityMode" ? undefined : "nothing is cut out by it";
    }
    default:
      return named || written ? undefined : (container?.inSecond?.(field) ?? NO_INPUT);
  }
}

function whyNoFit({ layout, wear = [] }: MaterialState, profile: Profile): string | undefined {
  const laid = wear.filter(({ layer }) => isLaid(layer));
  if (laid.length === 0) return "no wear is laid on";
  if (laid.every(({ layer }) => profile.layers?.effects.includes(layer.effect)))
    return "this renderer lays wear on by itself";
  if (layout === "placed" || layout === "cut-outs") return "the images do not repeat";
  return layout === "plain" && laid.length === 1 ? "it is the only thing that repeats" : undefined;
}

interface Need {
  value: FinishField;
  role?: Role;
  otherwise: string;
}

/** Values that change nothing unless there is another one, or a map. */
const NEEDS: Partial<Record<FinishField, Need>> = {
  coatRoughness: { value: "coatWeight", role: "coat_weight", otherwise: "there is no coat" },
  coatIor: { value: "coatWeight", role: "coat_weight", otherwise: "there is no coat" },
  coatColor: { value: "coatWeight", role: "coat_weight", otherwise: "there is no coat" },
  fuzzColor: { value: "fuzzWeight", role: "fuzz_weight", otherwise: "there is no fuzz" },
  subsurfaceColor: { value: "subsurfaceWeight", otherwise: "there is no subsurface" },
  translucencyWeight: {
    value: "thinWalled",
    otherwise: "only a thin sheet lets light out at its other side",
  },
  translucencyColor: {
    value: "translucencyWeight",
    role: "subsurface_color",
    otherwise: "there is no translucency",
  },
  transmissionColor: {
    value: "transmissionWeight",
    role: "transmission_weight",
    otherwise: "there is no transmission",
  },
  transmissionDepthMm: {
    value: "transmissionWeight",
    role: "transmission_weight",
    otherwise: "there is no transmission",
  },
  emissionColor: { value: "emissionNits", role: "emission_color", otherwise: "nothing is emitted" },
};

/** Whether a value is there, and more than none of it. */
const isOn = (finish: MaterialState["finish"], field: FinishField): boolean =>
  finish[field] !== undefined && finish[field] !== 0 && finish[field] !== false;

const NO_INPUT = "this renderer has no input for it";

/** A length in the profile's unit. */
export const inUnit = (mm: number, profile: Pick<Profile, "unit">): number =>
  Number((mm / MM_PER_UNIT[profile.unit]).toFixed(5));
