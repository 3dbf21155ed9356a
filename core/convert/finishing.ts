import { colorAdjustment } from "#core/finish/colorAdjustment";
import type { Finish, FinishField } from "#core/finish/finish";
import type { MaterialState } from "#core/finish/material";
import { adjustedRoughness, roughnessAdjustment } from "#core/finish/roughnessAdjustment";
import type { Operation } from "#core/convert/operation";
import type { Role } from "#core/roles/roles";

/** The amount of a weight, and the map that it scales. */
const WEIGHTS = {
  specularWeight: "specular_weight",
  coatWeight: "coat_weight",
  fuzzWeight: "fuzz_weight",
  transmissionWeight: "transmission_weight",
} as const satisfies Partial<Record<FinishField, Role>>;

/** A colour, and the map that it tints. */
const TINTS = {
  specularColor: "specular_color",
  translucencyColor: "subsurface_color",
  emissionColor: "emission_color",
} as const satisfies Partial<Record<FinishField, Role>>;

/** The values that change the image of a role, by which a plan knows whether it carries them. */
export const VALUES_OF_ROLE: Partial<Record<Role, FinishField[]>> = {
  base_color: ["tint", "warmth", "brightnessStops", "gamma", "contrast", "saturation"],
  specular_roughness: ["roughnessScale", "roughnessShift", "roughnessRange"],
  gloss: ["roughnessScale", "roughnessShift", "roughnessRange"],
  geometry_normal: ["normalStrength"],
  height: ["heightRange"],
  bump: ["heightRange"],
  ambient_occlusion: ["occlusionStrength", "occlusionGamma"],
  specular_weight: ["specularWeight"],
  coat_weight: ["coatWeight"],
  fuzz_weight: ["fuzzWeight"],
  transmission_weight: ["transmissionWeight"],
  specular_color: ["specularColor"],
  subsurface_color: ["translucencyColor"],
  emission_color: ["emissionColor"],
};

/** What a finish does to the map of a role, once it is read in that role's sense; nothing where it changes nothing. */
export function finishing(finish: Finish, role: Role): Operation[] {
  switch (role) {
    case "base_color": {
      const adjustment = colorAdjustment(finish);
      return adjustment ? [{ op: "adjust-color", ...adjustment }] : [];
    }
    case "specular_roughness":
    case "gloss": {
      const adjustment = roughnessAdjustment(finish);
      const values = role === "gloss" ? "gloss" : "roughness";
      return adjustment ? [{ op: "adjust-roughness", values, ...adjustment }] : [];
    }
    case "geometry_normal":
      return finish.normalStrength === 1 ? [] : [{ op: "scale-normal", strength: finish.normalStrength }];
    case "height":
    case "bump": {
      const [low, high] = finish.heightRange ?? [0, 1];
      return low === 0 && high === 1 ? [] : [{ op: "limit", low, high }];
    }
    case "ambient_occlusion": {
      const { occlusionStrength: strength, occlusionGamma: gamma } = finish;
      return strength === 1 && gamma === 1 ? [] : [{ op: "soften-occlusion", strength, gamma }];
    }
    case "geometry_opacity":
      return finish.opacityMode === "cut-out" ? [{ op: "cut", at: finish.opacityThreshold ?? 0.5 }] : [];
    default:
      return [...weakened(finish, role), ...tinted(finish, role)];
  }
}

function weakened(finish: Finish, role: Role): Operation[] {
  const field = keyOf(WEIGHTS, role);
  const by = field ? (finish[field] ?? 1) : 1;
  return by === 1 ? [] : [{ op: "scale", by }];
}

function tinted(finish: Finish, role: Role): Operation[] {
  const field = keyOf(TINTS, role);
  const tint = (field && finish[field]) ?? "#ffffff";
  return tint.toLowerCase() === "#ffffff" ? [] : [{ op: "adjust-color", tint }];
}

const keyOf = <K extends string>(roles: Record<K, Role>, role: Role): K | undefined =>
  (Object.keys(roles) as K[]).find((key) => roles[key] === role);

/** Values where no map says them: no occlusion, the finish's roughness and metalness. */
export function constantFor(role: Role, { finish }: Pick<MaterialState, "finish">): number {
  const roughness = () => adjustedRoughness(finish.roughness, roughnessAdjustment(finish));
  if (role === "specular_roughness") return roughness();
  if (role === "gloss") return 1 - roughness();
  if (role === "base_metalness") return finish.metalness;
  return role === "ambient_occlusion" || role === "geometry_opacity" ? 1 : 0;
}
