import { DEPTH_MM, FOLD_STEPS, PITCH_MM } from "#core/picture/bent";
import { HALF_FIGURE, HEAD } from "#core/picture/figure";
import { SHADOW_STEPS } from "#core/picture/reliefShadow";
import { FIGURE_COLOR, FIGURE_PLACE, FLOOR, WALL_HEIGHT_MM } from "#core/picture/wall";
import { EYE } from "#core/picture/panel";
import { CLEAR_MM, DARK, GROUND_MM, LIGHT, SQUARE_MM } from "#core/picture/shape";
import { BACKDROP, BLOCK_STEPS, BLOCK_SHADOW_STEPS } from "#core/picture/block";

const number = (value: number) => value.toFixed(6);
const vec3 = (color: readonly number[]) => `vec3(${color.map(number).join(", ")})`;

/** Where a pixel looks at, and what is behind it, for every shape. */
const HIT = /* glsl */ `
struct Hit { vec2 uv; vec3 right; vec3 up; vec3 normal; vec3 eye; vec3 place; bool there; };
uniform vec2 viewSize;
uniform float mmPerPx;
uniform vec2 centre;

vec2 onPlane(vec2 pixel) { return (pixel - viewSize / 2.0) * vec2(mmPerPx, -mmPerPx); }
const float SQUARE = ${number(SQUARE_MM)};
float stripesTo(float place) {
  float within = mod(place, 2.0 * SQUARE);
  return within < SQUARE ? within : 2.0 * SQUARE - within;
}
float stripes(float place, float reach) {
  if (reach < 0.01) return mod(floor(place / SQUARE), 2.0) < 0.5 ? 1.0 : -1.0;
  return (stripesTo(place + reach) - stripesTo(place - reach)) / (2.0 * reach);
}
vec3 chequered(vec2 place, float spread) {
  float reach = spread * ${number(GROUND_MM)};
  return vec3(${number((LIGHT + DARK) / 2)} + ${number((LIGHT - DARK) / 2)} * stripes(place.x, reach) * stripes(place.y, reach));
}
`;

const ON_GROUND = /* glsl */ `
vec3 behind(vec2 pixel, float spread) {
  vec2 p = onPlane(pixel);
  return chequered(vec2(centre.x + p.x, centre.y - p.y), spread);
}

`;

const CLEAR_THICK = `float thickMm() { return ${number(CLEAR_MM)}; }\n`;

/** Reads `above`. */
const RELIEF_SHADOW = /* glsl */ `
float reachedBy(Hit hit, vec3 lamp) {
  #ifdef RELIEF
  float rise = topMm - hit.place.z;
  if (rise <= 0.0) return 1.0;
  float reach = rise / max(0.02, lamp.z);
  int steps = min(${SHADOW_STEPS}, max(4, int(ceil(reach / mmPerPx))));
  float open = 1.0;
  for (int i = 1; i <= steps; i++) {
    float way = float(i) / float(steps) * reach;
    vec3 at = hit.place + lamp * way;
    open = min(open, 0.5 + (at.z - above(at.xy)) / max(1e-6, 0.0175 * way));
    if (open <= 0.0) return 0.0;
  }
  return open;
  #else
  return 1.0;
  #endif
}
`;

const PANEL = /* glsl */ `
float above(vec2 p) { return heightAt(vec2(centre.x + p.x, centre.y - p.y) / repeat); }
Hit hitAt(vec2 pixel) {
  float far = ${number(EYE)} * max(viewSize.x, viewSize.y) * mmPerPx;
  vec2 at = onPlane(pixel);
  vec2 p = at;
  float z = 0.0;
  #ifdef RELIEF
  for (int step = 0; step < 3; step++) { z = above(p); p = at * (1.0 - z / far); }
  #endif
  vec2 uv = vec2(centre.x + p.x, centre.y - p.y) / repeat;
  return Hit(uv, vec3(1, 0, 0), vec3(0, 1, 0), vec3(0, 0, 1), normalize(vec3(-p, far - z)), vec3(p, z), true);
}
`;

const BLOCK = /* glsl */ `
uniform vec3 blockHalf;
uniform float blockRound;
uniform vec3 eyeInWorld;
uniform vec3 viewRight;
uniform vec3 viewUp;
uniform mat3 turned;
vec3 inWorld(vec3 v) { return turned * v; }
vec3 inBlock(vec3 v) { return v * turned; }
float smoothBlock(vec3 p) {
  vec3 q = abs(p) - blockHalf + blockRound;
  return length(max(q, 0.0)) + min(max(q.x, max(q.y, q.z)), 0.0) - blockRound;
}
vec3 outward(vec3 p) {
  vec3 q = max(abs(p) - blockHalf + blockRound, 0.0) * sign(p);
  return q == vec3(0.0) ? vec3(0, 0, 1) : normalize(q);
}
vec2 uvOn(vec3 p, vec3 normal, out vec3 toRight) {
  vec3 a = abs(normal);
  vec2 place;
  if (a.z >= a.x && a.z >= a.y) { place = vec2(p.x + blockHalf.x, blockHalf.y - p.y); toRight = vec3(1, 0, 0); }
  else if (a.x >= a.y) { place = vec2(blockHalf.x * 2.0 + blockHalf.z - p.z, blockHalf.y - p.y); toRight = vec3(0, 0, -1); }
  else { place = vec2(p.x + blockHalf.x, p.z - blockHalf.z); toRight = vec3(1, 0, 0); }
  return (centre + place) / repeat;
}
float farFrom(vec3 p) {
  float d = smoothBlock(p);
  #ifdef RELIEF
  if (d > topMm + blockHalf.x * 0.04) return d - max(0.0, topMm);
  vec3 toRight;
  return d - heightAt(uvOn(p, outward(p), toRight));
  #else
  return d;
  #endif
}
#ifdef RELIEF
const float PACE = 0.6;
#else
const float PACE = 1.0;
#endif
Hit hitAt(vec2 pixel) {
  Hit hit;
  hit.there = false;
  vec2 p = onPlane(pixel);
  vec3 direction = inBlock(normalize(viewRight * p.x + viewUp * p.y - eyeInWorld));
  vec3 eyeAt = inBlock(eyeInWorld);
  float radius = length(blockHalf) + max(0.0, topMm);
  float nearest = -dot(eyeAt, direction);
  float miss = dot(eyeAt, eyeAt) - nearest * nearest;
  if (miss > radius * radius) return hit;
  float close = mmPerPx * 0.2;
  float way = nearest - sqrt(radius * radius - miss);
  for (int i = 0; i < ${BLOCK_STEPS}; i++) {
    if (way >= nearest + radius) break;
    vec3 at = eyeAt + direction * way;
    float d = farFrom(at);
    if (d < close) {
      vec3 normal = outward(at);
      vec3 toRight;
      hit.uv = uvOn(at, normal, toRight);
      vec3 upward = normalize(cross(normal, toRight));
      hit.right = inWorld(cross(upward, normal));
      hit.up = inWorld(upward);
      hit.normal = inWorld(normal);
      hit.place = at;
      hit.eye = inWorld(-direction);
      hit.there = true;
      return hit;
    }
    way += max(close * 0.5, d * PACE);
  }
  return hit;
}
float reachedBy(Hit hit, vec3 toLamp) {
  #ifdef RELIEF
  vec3 lamp = inBlock(toLamp);
  float close = mmPerPx * 0.2;
  vec3 start = hit.place + inBlock(hit.normal) * close * 2.0;
  float open = 1.0;
  float way = close * 2.0;
  for (int i = 0; i < ${BLOCK_SHADOW_STEPS}; i++) {
    float d = farFrom(start + lamp * way);
    open = min(open, 0.5 + d / (0.0175 * way + 1e-6));
    if (open <= 0.0) return 0.0;
    if (way > blockHalf.x * 2.0) break;
    way += max(close, d * PACE);
  }
  return max(0.0, open);
  #else
  return 1.0;
  #endif
}
vec3 behind(vec2 pixel, float spread) { return ${vec3(BACKDROP)}; }
float thickMm() { return blockHalf.z * 2.0; }
`;

const WALL = /* glsl */ `
uniform vec2 wallHalf;
uniform vec3 eyeInWorld;
uniform vec3 viewRight;
uniform vec3 viewUp;
const vec2 FIGURE[${HALF_FIGURE.length}] = vec2[](${HALF_FIGURE.map((place) => `vec2(${place.map(number).join(", ")})`).join(", ")});
bool isInFigure(vec2 p) {
  vec2 head = vec2(p.x, p.y - ${number(HEAD.y)}) / vec2(${number(HEAD.halfWidth)}, ${number(HEAD.halfHeight)});
  if (dot(head, head) <= 1.0) return true;
  float across = abs(p.x);
  bool inside = false;
  for (int i = 0; i < ${HALF_FIGURE.length}; i++) {
    vec2 a = FIGURE[i];
    vec2 b = FIGURE[i == 0 ? ${HALF_FIGURE.length - 1} : i - 1];
    if ((a.y > p.y) != (b.y > p.y) && across < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x) inside = !inside;
  }
  return inside;
}
vec3 sight(vec2 pixel) {
  vec2 p = onPlane(pixel);
  return normalize(viewRight * p.x + viewUp * p.y - eyeInWorld);
}
bool isHidden(vec3 direction) {
  if (direction.z >= -1e-4) return false;
  vec3 at = eyeInWorld + direction * (${number(FIGURE_PLACE.z)} - eyeInWorld.z) / direction.z;
  return isInFigure(vec2(at.x - wallHalf.x + ${number(FIGURE_PLACE.x)}, at.y + wallHalf.y));
}
vec2 uvOn(vec2 p) { return vec2(centre.x + p.x + wallHalf.x, centre.y + wallHalf.y - p.y) / repeat; }
float above(vec2 p) { return heightAt(uvOn(p)); }
Hit hitAt(vec2 pixel) {
  Hit hit;
  hit.there = false;
  vec3 direction = sight(pixel);
  if (direction.z >= -1e-4 || isHidden(direction)) return hit;
  vec2 at = (eyeInWorld - direction * eyeInWorld.z / direction.z).xy;
  vec2 p = at;
  float z = 0.0;
  #ifdef RELIEF
  for (int step = 0; step < 3; step++) { z = above(p); p = at + direction.xy / direction.z * z; }
  #endif
  if (abs(p.x) > wallHalf.x || abs(p.y) > wallHalf.y) return hit;
  return Hit(uvOn(p), vec3(1, 0, 0), vec3(0, 1, 0), vec3(0, 0, 1), -direction, vec3(p, z), true);
}
vec3 behind(vec2 pixel, float spread) {
  vec3 direction = sight(pixel);
  if (isHidden(direction)) return ${vec3(FIGURE_COLOR)};
  if (direction.y >= -1e-4) return ${vec3(BACKDROP)};
  float far = (-${number(WALL_HEIGHT_MM / 2)} - eyeInWorld.y) / direction.y;
  return eyeInWorld.z + direction.z * far > 0.0 ? ${vec3(FLOOR)} : ${vec3(BACKDROP)};
}
`;

const bent = (bend: string, ends: string, shadow: string) => /* glsl */ `
uniform vec2 sheetHalf;
${bend}
Hit hitAt(vec2 pixel) {
  Hit hit;
  vec2 p = onPlane(pixel);
  hit.there = ${ends};
  float steep = slopeAt(p.x);
  hit.uv = vec2(centre.x + alongTo(p.x), centre.y - p.y) / repeat;
  hit.right = normalize(vec3(1, 0, steep));
  hit.up = vec3(0, 1, 0);
  hit.normal = normalize(vec3(-steep, 0, 1));
  hit.place = vec3(p, outAt(p.x));
  hit.eye = vec3(0, 0, 1);
  return hit;
}
float reachedBy(Hit hit, vec3 lamp) {
${shadow}
}
`;
const SHEET_ENDS = "abs(p.x) <= sheetHalf.x && abs(p.y) <= sheetHalf.y";

const DRAPE = bent(
  /* glsl */ `
/** Steps of one fold's length, in one row. */
uniform highp sampler2D foldLengths;
const float PITCH = ${number(PITCH_MM)};
const float DEEP = ${number(DEPTH_MM)};
float outAt(float x) { return DEEP / 2.0 * (1.0 - cos(2.0 * PI * x / PITCH)); }
float slopeAt(float x) { return PI * DEEP / PITCH * sin(2.0 * PI * x / PITCH); }
float alongTo(float x) {
  float folds = floor(x / PITCH);
  float at = (x / PITCH - folds) * 128.0;
  int step = min(127, int(floor(at)));
  float before = texelFetch(foldLengths, ivec2(step, 0), 0).r;
  float after = texelFetch(foldLengths, ivec2(step + 1, 0), 0).r;
  return folds * texelFetch(foldLengths, ivec2(128, 0), 0).r + mix(before, after, at - float(step));
}`,
  "true",
  /* glsl */ `
  float reach = (DEEP - hit.place.z) / max(0.02, lamp.z);
  float open = 1.0;
  for (int i = 1; i <= ${FOLD_STEPS}; i++) {
    float way = float(i) / ${number(FOLD_STEPS)} * reach;
    float over = hit.place.z + lamp.z * way - outAt(hit.place.x + lamp.x * way);
    open = min(open, 0.5 + over / max(0.5, 0.08 * way));
    if (open <= 0.0) return 0.0;
  }
  return max(0.0, open);`,
);

const PANE = bent(
  /* glsl */ `
uniform float bend;
float outAt(float x) { return -bend * x; }
float slopeAt(float x) { return -bend; }
float alongTo(float x) { return x * length(vec2(1.0, bend)); }`,
  SHEET_ENDS,
  "  return 1.0;",
);

const LEAF = bent(
  /* glsl */ `
uniform float bend;
float outAt(float x) { return -bend * x * x / 2.0; }
float slopeAt(float x) { return -bend * x; }
float alongTo(float x) {
  float steep = bend * x;
  return (length(vec2(1.0, steep)) * steep + asinh(steep)) / 2.0 / bend;
}`,
  SHEET_ENDS,
  "  return 1.0;",
);

/** `core/picture/`'s shapes for the graphics card. They read `heightAt`, `topMm` and `repeat` of the surface. */
export const SHAPES_GLSL = {
  panel: HIT + ON_GROUND + CLEAR_THICK + PANEL + RELIEF_SHADOW,
  wall: HIT + CLEAR_THICK + WALL + RELIEF_SHADOW,
  block: HIT + BLOCK,
  drape: HIT + ON_GROUND + CLEAR_THICK + DRAPE,
  leaf: HIT + ON_GROUND + CLEAR_THICK + LEAF,
  pane: HIT + ON_GROUND + CLEAR_THICK + PANE,
};
