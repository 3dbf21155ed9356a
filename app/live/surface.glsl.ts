import type { Laid } from "#core/finish/marks";
import { isRelief } from "#core/finish/wear";
import type { Role } from "#core/roles/roles";

/** A wear layer as far as the program that draws it depends on it. */
export interface LaidKind {
  effect: Laid["layer"]["effect"];
  wraps: boolean;
}

/** The name of a role's texture in the program. */
export const samplerOf = (role: Role): string => `map_${role}`;

/** `core/picture/surfaceReader.ts` for the graphics card: a program for the maps that there are and the layers that lie on them. */
export function surfaceGlsl(roles: ReadonlySet<Role>, wear: readonly LaidKind[]): string {
  const has = (role: Role) => roles.has(role);
  const color = (role: Role) => `textureLod(${samplerOf(role)}, uv, lod_${role}).rgb`;
  // An image of one channel has it three times: its luminance is its value.
  const grey = (role: Role) => `dot(${color(role)}, vec3(0.2126, 0.7152, 0.0722))`;
  const weight = (role: Role, amount: string) => (has(role) ? `${grey(role)} * ${amount}` : amount);
  const heightRole = has("height") ? "height" : has("bump") ? "bump" : undefined;
  const reliefs = wear.flatMap(({ effect }, at) => (isRelief(effect) ? [at] : []));
  const isRaised = heightRole !== undefined || reliefs.length > 0;
  const roughness = has("gloss")
    ? `1.0 - ${grey("gloss")}`
    : has("specular_roughness")
      ? grey("specular_roughness")
      : "finishRoughness";

  return /* glsl */ `
${isRaised ? "#define RELIEF" : ""}
uniform vec2 repeat;
uniform float topMm;
${[...roles].map((role) => `uniform sampler2D ${samplerOf(role)}; uniform float lod_${role};`).join("\n")}
uniform vec3 plainColor;
uniform Surface constant;
uniform float finishRoughness;
uniform float finishMetalness;
uniform vec4 roughnessAdjusted;
uniform bool isAdjusted;
uniform vec3 gains;
uniform mat3 warm;
uniform vec3 curve;
/** On their maps, or by themselves. */
uniform float coatAmount; uniform float fuzzAmount; uniform float transmissionAmount;
uniform vec3 emitted;
uniform float cutAt;
uniform vec2 occlusion;
uniform float normalStrength;
uniform float greenUp;
uniform vec4 heightRange;
uniform vec2 heightPixel;

vec3 adjusted(vec3 color) {
  if (!isAdjusted) return color;
  vec3 lit = max(warm * color * gains, 0.0);
  if (curve.x != 1.0) lit = pow(min(lit, 1.0), vec3(1.0 / curve.x));
  if (curve.y != 1.0) lit = 0.18 * pow(lit / 0.18, vec3(curve.y));
  float grey = dot(lit, vec3(0.2126, 0.7152, 0.0722));
  return clamp(grey + (lit - grey) * curve.z, 0.0, 1.0);
}

${wear
  .map(
    ({ wraps }, at) => /* glsl */ `
uniform sampler2D mask${at};
/** Its size, then the corner that it begins at; turned by a cosine and a sine; strength, whether light, detail. */
uniform vec4 wearPlace${at}; uniform vec2 wearTurn${at}; uniform vec3 wearHow${at};
uniform vec3 wearTint${at}; uniform float wearMm${at};
float marks${at}(vec2 mm) {
  vec2 p = mm - wearPlace${at}.zw;
  vec2 t = wearTurn${at};
  vec2 uv = vec2(p.x * t.x + p.y * t.y, p.y * t.x - p.x * t.y) / wearPlace${at}.xy;
  ${wraps ? "" : "if (uv.x < 0.0 || uv.x > 1.0 || uv.y < 0.0 || uv.y > 1.0) return 0.0;"}
  float value = dot(textureLod(mask${at}, uv, wearHow${at}.z).rgb, vec3(0.2126, 0.7152, 0.0722));
  return wearHow${at}.x * (wearHow${at}.y > 0.5 ? value : 1.0 - value);
}`,
  )
  .join("\n")}
float wornHeightAt(vec2 mm) { return ${reliefs.map((at) => `wearMm${at} * marks${at}(mm)`).join(" + ") || "0.0"}; }
uniform float wearStepMm;

float bareHeightAt(vec2 uv) {
  ${heightRole ? `return (clamp(${grey(heightRole)}, heightRange.x, heightRange.y) - heightRange.z) * heightRange.w;` : "return 0.0;"}
}
float heightAt(vec2 uv) { return bareHeightAt(uv)${reliefs.length > 0 ? " + wornHeightAt(uv * repeat)" : ""}; }

vec3 normalAt(vec2 uv) {
  vec3 normal = vec3(0, 0, 1);
  ${
    has("geometry_normal")
      ? /* glsl */ `
  vec3 mapped = ${color("geometry_normal")} * 2.0 - 1.0;
  normal = normalize(vec3(mapped.xy * vec2(1.0, greenUp) * normalStrength, max(1e-3, mapped.z)));`
      : heightRole
        ? /* glsl */ `
  if (heightRange.w != 0.0) {
    vec2 du = vec2(heightPixel.x, 0.0);
    vec2 dv = vec2(0.0, heightPixel.y);
    normal = normalize(vec3(
      -(bareHeightAt(uv + du) - bareHeightAt(uv - du)) / (2.0 * heightPixel.x * repeat.x),
      -(bareHeightAt(uv - dv) - bareHeightAt(uv + dv)) / (2.0 * heightPixel.y * repeat.y), 1.0));
  }`
        : ""
  }
  ${
    reliefs.length > 0
      ? /* glsl */ `
  vec2 mm = uv * repeat;
  vec2 sx = vec2(wearStepMm, 0.0);
  vec2 sy = vec2(0.0, wearStepMm);
  vec2 slope = vec2(wornHeightAt(mm + sx) - wornHeightAt(mm - sx), wornHeightAt(mm - sy) - wornHeightAt(mm + sy)) / (2.0 * wearStepMm);
  if (slope != vec2(0.0)) normal = normalize(vec3(normal.xy / max(1e-3, normal.z) - slope, 1.0));`
      : ""
  }
  return normal;
}

float opennessAt(vec2 uv) {
  ${has("ambient_occlusion") ? `return 1.0 - occlusion.x + occlusion.x * pow(${grey("ambient_occlusion")}, occlusion.y);` : "return 1.0;"}
}

Surface surfaceAt(vec2 uv) {
  Surface s = constant;
  vec2 mm = uv * repeat;
  s.baseColor = ${has("base_color") ? `adjusted(${color("base_color")})` : "plainColor"};
  ${wear.map(({ effect }, at) => (effect === "tint" ? `s.baseColor = mix(s.baseColor, wearTint${at}, marks${at}(mm));` : "")).join("\n  ")}
  s.roughness = clamp((${roughness}) * roughnessAdjusted.x + roughnessAdjusted.y, roughnessAdjusted.z, roughnessAdjusted.w);
  ${wear
    .map(({ effect }, at) =>
      effect === "rougher"
        ? `s.roughness = 1.0 - (1.0 - s.roughness) * (1.0 - marks${at}(mm));`
        : effect === "smoother"
          ? `s.roughness *= 1.0 - marks${at}(mm);`
          : "",
    )
    .join("\n  ")}
  s.metalness = ${has("base_metalness") ? grey("base_metalness") : "finishMetalness"};
  ${has("specular_weight") ? `s.specularWeight *= ${grey("specular_weight")};` : ""}
  ${has("specular_color") ? `s.specularColor *= ${color("specular_color")};` : ""}
  s.coatWeight = ${weight("coat_weight", "coatAmount")};
  s.fuzzWeight = ${weight("fuzz_weight", "fuzzAmount")};
  s.transmissionWeight = ${weight("transmission_weight", "transmissionAmount")};
  ${has("subsurface_color") ? `s.translucencyColor *= ${color("subsurface_color")};` : ""}
  ${has("emission_color") ? `s.emission = emitted * ${color("emission_color")};` : ""}
  s.opacity = ${has("geometry_opacity") ? grey("geometry_opacity") : "1.0"};
  if (cutAt >= 0.0) s.opacity = s.opacity >= cutAt ? 1.0 : 0.0;
  return s;
}
`;
}
