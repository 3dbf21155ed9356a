import { WHITE_NITS } from "#core/picture/picture";
import { HEIGHT, LEVEL_ROUGHNESSES, WIDTH } from "#core/picture/environment";
import type { Role } from "#core/roles/roles";
import { SHADING } from "./shading.glsl";
import { SHAPES_GLSL } from "./shapes.glsl";
import { surfaceGlsl, type LaidKind } from "./surface.glsl";

/** `core/picture/environment.ts` for the graphics card: its grids below each other, and what a mirror sees. */
const ENVIRONMENT = /* glsl */ `
uniform highp sampler2D lightGrids;
uniform highp sampler2D mirrorGrid;
uniform vec2 environmentTurn;

vec3 gridAt(highp sampler2D grid, ivec2 size, int top, vec3 d) {
  float x = atan(d.x, d.z) / (2.0 * PI) * float(size.x) - 0.5;
  float y = (0.5 - asin(clamp(d.y, -1.0, 1.0)) / PI) * float(size.y) - 0.5;
  ivec2 at = ivec2(floor(vec2(x, y)));
  vec2 f = vec2(x, y) - vec2(at);
  int left = ((at.x % size.x) + size.x) % size.x;
  int right = (left + 1) % size.x;
  int up = top + clamp(at.y, 0, size.y - 1);
  int low = top + clamp(at.y + 1, 0, size.y - 1);
  vec3 above = mix(texelFetch(grid, ivec2(left, up), 0).rgb, texelFetch(grid, ivec2(right, up), 0).rgb, f.x);
  vec3 below = mix(texelFetch(grid, ivec2(left, low), 0).rgb, texelFetch(grid, ivec2(right, low), 0).rgb, f.x);
  return mix(above, below, f.y);
}
vec3 turnedBack(vec3 d) {
  return vec3(d.x * environmentTurn.y + d.z * environmentTurn.x, d.y, d.z * environmentTurn.y - d.x * environmentTurn.x);
}
vec3 levelAt(int level, vec3 d) {
  return level == 0
    ? gridAt(mirrorGrid, textureSize(mirrorGrid, 0), 0, d)
    : gridAt(lightGrids, ivec2(${WIDTH}, ${HEIGHT}), level * ${HEIGHT}, d);
}
vec3 irradiance(vec3 normal) {
  return gridAt(lightGrids, ivec2(${WIDTH}, ${HEIGHT}), 0, turnedBack(normal));
}
vec3 blurred(vec3 direction, float roughness) {
  vec3 d = turnedBack(direction);
  ${LEVEL_ROUGHNESSES.slice(1)
    .map((roughness, at) => {
      const before = LEVEL_ROUGHNESSES[at];
      const share = `(roughness - ${before.toFixed(4)}) / ${(roughness - before).toFixed(4)}`;
      const isLast = at === LEVEL_ROUGHNESSES.length - 2;
      return `${isLast ? "" : `if (roughness <= ${roughness.toFixed(4)}) `}return mix(levelAt(${at}, d), levelAt(${at + 1}, d), min(1.0, ${share}));`;
    })
    .join("\n  ")}
}
`;

/** `core/picture/picture.ts` for the graphics card. */
const MAIN = /* glsl */ `
uniform vec3 lamp;
uniform float lampLight;
uniform float dimmed;
uniform float behindLight;
uniform float exposure;
uniform bool isNeutral;
uniform bool hasCards;
uniform bool isPlainGround;
uniform vec3 plainGround;
out vec4 shown;

vec3 seenAt(vec2 pixel) {
  Hit hit = hitAt(pixel);
  vec3 ground = isPlainGround ? plainGround : behind(pixel, 0.0);
  if (!hit.there) return ground * (1.0 + behindLight);
  Surface surface = surfaceAt(hit.uv);
  vec3 tilted = normalAt(hit.uv);
  float openness = opennessAt(hit.uv);
  vec3 leaning = tilted.x * hit.right + tilted.y * hit.up + tilted.z * hit.normal;
  float facing = dot(leaning, hit.eye);
  vec3 normal = facing > 0.02 ? leaning : normalize(leaning + hit.eye * (0.02 - facing));
  vec3 right = normalize(cross(abs(normal.y) < 0.9 ? vec3(0, 1, 0) : vec3(1, 0, 0), normal));
  mat3 frame = mat3(right, cross(normal, right), normal);
  vec3 eye = hit.eye * frame;
  Layers layers = layersOf(surface);

  vec3 light = scattered(layers, eye) * irradiance(normal) * dimmed * openness / PI;
  vec3 away = 2.0 * dot(hit.eye, normal) * normal - hit.eye;
  float open = 1.0 - (1.0 - openness) / 2.0;
  light += mirroredBase(layers, eye) * blurred(away, layers.roughness) * dimmed * open;
  if (surface.coatWeight > 0.0)
    light += mirroredCoat(layers, eye) * blurred(away, surface.coatRoughness) * dimmed * open;
  if (lampLight > 0.0 && dot(hit.normal, lamp) > 0.0) {
    float lit = reachedBy(hit, lamp);
    if (lit > 0.0) light += reflected(layers, lamp * frame, eye) * lampLight * lit;
  }
  if (surface.thinWalled && behindLight > 0.0) light += throughScattered(layers, 1.0, eye) * PI * behindLight;
  if (surface.transmissionWeight > 0.0) {
    vec3 blurredGround = isPlainGround ? plainGround : behind(pixel, throughSpread(layers));
    light += throughClear(layers, eye, thickMm()) * blurredGround * (1.0 + behindLight);
  }
  light += surface.emission / ${WHITE_NITS.toFixed(1)};
  return surface.opacity < 1.0 ? mix(ground * (1.0 + behindLight), light, surface.opacity) : light;
}

vec3 toneMapped(vec3 color) {
  if (!isNeutral) return color;
  const float start = 0.76;
  float least = min(color.r, min(color.g, color.b));
  vec3 lowered = color - (least < 0.08 ? least - 6.25 * least * least : 0.04);
  float peak = max(lowered.r, max(lowered.g, lowered.b));
  if (peak < start) return lowered;
  float room = 1.0 - start;
  float pressed = 1.0 - room * room / (peak + room - start);
  float share = 1.0 - 1.0 / (0.15 * (peak - pressed) + 1.0);
  vec3 scaled = lowered * pressed / peak;
  return scaled + (pressed - scaled) * share;
}
vec3 encoded(vec3 v) {
  v = clamp(v, 0.0, 1.0);
  return mix(1.055 * pow(v, vec3(1.0 / 2.4)) - 0.055, v * 12.92, lessThanEqual(v, vec3(0.0031308)));
}

void main() {
  vec2 pixel = vec2(gl_FragCoord.x, viewSize.y - gl_FragCoord.y);
  vec3 seen;
  float side = floor(min(viewSize.x, viewSize.y) / 8.0 + 0.5);
  float fromBottom = gl_FragCoord.y - 0.5 - side / 2.0;
  float fromLeft = (pixel.x - 0.5 - side / 2.0) / side;
  if (hasCards && fromBottom >= 0.0 && fromBottom < side && fromLeft >= 0.0 && fromLeft < 2.0)
    seen = vec3(fromLeft < 1.0 ? 0.18 : 1.0);
  else seen = seenAt(pixel);
  shown = vec4(encoded(toneMapped(seen * exposure)), 1.0);
}
`;

/** The program that draws a material on a shape. */
export const pictureGlsl = (
  shape: keyof typeof SHAPES_GLSL,
  roles: ReadonlySet<Role>,
  wear: readonly LaidKind[],
): string =>
  [
    "precision highp float;\nprecision highp int;\nprecision highp sampler2D;",
    SHADING,
    surfaceGlsl(roles, wear),
    SHAPES_GLSL[shape],
    ENVIRONMENT,
    MAIN,
  ].join("\n");
