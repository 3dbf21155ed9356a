import { PLACES, WEIGHTS } from "#core/shade/reflect";
import { FUZZ_TABLE, MIRROR_TABLE } from "./lightTables";

/** `core/shade/` for the graphics card: the same surface, layers and tables, function by function. */
export const SHADING = /* glsl */ `
const float PI = 3.14159265358979;

struct Surface {
  vec3 baseColor; float metalness; float roughness;
  float specularWeight; vec3 specularColor; float ior;
  float coatWeight; vec3 coatColor; float coatRoughness; float coatIor;
  float fuzzWeight; vec3 fuzzColor; float fuzzRoughness;
  float subsurfaceWeight; vec3 subsurfaceColor;
  float transmissionWeight; vec3 transmissionColor; float transmissionDepthMm;
  float translucencyWeight; vec3 translucencyColor;
  bool thinWalled; vec3 emission; float opacity;
};

/** Tables lie below each other: 33 of dielectrics, a mirror's, and fuzz. */
uniform highp sampler2D tables;
const int MIRROR = ${MIRROR_TABLE};
const int FUZZ = ${FUZZ_TABLE};
float cell(int table, int row, int column) { return texelFetch(tables, ivec2(column, table * 24 + row), 0).r; }
float tableAt(int table, float x, float y) {
  int column = clamp(int(floor(x)), 0, 22);
  int row = clamp(int(floor(y)), 0, 22);
  float upper = mix(cell(table, row, column), cell(table, row, column + 1), x - float(column));
  float lower = mix(cell(table, row + 1, column), cell(table, row + 1, column + 1), x - float(column));
  return mix(upper, lower, y - float(row));
}
float albedoAt(int table, float cosine, float roughness) {
  return tableAt(table, sqrt(cosine) * 23.0, roughness * 23.0);
}
float averageAt(int table, float roughness) {
  float y = roughness * 23.0;
  int row = clamp(int(floor(y)), 0, 22);
  return mix(cell(table, row, 24), cell(table, row + 1, 24), y - float(row));
}

float alphaOf(float roughness) { return max(1e-3, roughness * roughness); }
float f0OfIor(float ior) { float root = (ior - 1.0) / (ior + 1.0); return root * root; }
float iorOfF0(float f0) { float root = sqrt(min(f0, 0.9999)); return (1.0 + root) / (1.0 - root); }
float dielectricFresnel(float cosine, float ior) {
  if (ior == 1.0) return 0.0;
  float inside = sqrt(max(0.0, 1.0 - (1.0 - cosine * cosine) / (ior * ior)));
  float parallel = (ior * cosine - inside) / (ior * cosine + inside);
  float perpendicular = (cosine - ior * inside) / (cosine + ior * inside);
  return (parallel * parallel + perpendicular * perpendicular) / 2.0;
}
float pow5(float a) { float b = a * a; return b * b * a; }
vec3 metalFresnel(float cosine, vec3 f0, vec3 dip) {
  float away = 1.0 - cosine;
  float away5 = pow5(away);
  return max(vec3(0.0), f0 + (1.0 - f0) * away5 - dip * cosine * away5 * away);
}
vec3 dipsOf(vec3 f0, vec3 tint) {
  const float edge = 1.0 / 7.0;
  float rest = 1.0 - edge;
  vec3 schlick = f0 + (1.0 - f0) * pow5(rest);
  return schlick * (1.0 - tint) / (edge * pow5(rest) * rest);
}

float ggxDistribution(float cosine, float alpha) {
  float alpha2 = alpha * alpha;
  float spread = cosine * cosine * (alpha2 - 1.0) + 1.0;
  return alpha2 / (PI * spread * spread);
}
float lambda(float cosine, float alpha) {
  float cosine2 = cosine * cosine;
  return (sqrt(1.0 + alpha * alpha * (1.0 - cosine2) / cosine2) - 1.0) / 2.0;
}
float facets(float cosineIn, float cosineOut, float cosineHalf, float alpha) {
  float litAndSeen = 1.0 / (1.0 + lambda(cosineIn, alpha) + lambda(cosineOut, alpha));
  return ggxDistribution(cosineHalf, alpha) * litAndSeen / (4.0 * cosineIn * cosineOut);
}
float fuzzLobe(float cosineIn, float cosineOut, float cosineHalf, float roughness) {
  float inverse = 1.0 / max(roughness * roughness, 1e-3);
  float sine = sqrt(max(0.0, 1.0 - cosineHalf * cosineHalf));
  float spread = (2.0 + inverse) * pow(max(sine, 1e-6), inverse) / (2.0 * PI);
  return spread / (4.0 * (cosineIn + cosineOut - cosineIn * cosineOut));
}
float fuzzAlbedo(float cosine, float roughness) {
  return min(1.0, tableAt(FUZZ, min(1.0, cosine) * 23.0, roughness * 23.0));
}
float manyTimes(float fresnel, float roughness) {
  float once = averageAt(MIRROR, roughness);
  return fresnel * fresnel * once / (1.0 - fresnel * (1.0 - once));
}
vec3 manyTimes(vec3 fresnel, float roughness) {
  float once = averageAt(MIRROR, roughness);
  return fresnel * fresnel * once / (1.0 - fresnel * (1.0 - once));
}
float manyShape(float cosineIn, float cosineOut, float roughness) {
  float missing = 1.0 - averageAt(MIRROR, roughness);
  if (missing < 1e-6) return 0.0;
  return (1.0 - albedoAt(MIRROR, cosineIn, roughness)) * (1.0 - albedoAt(MIRROR, cosineOut, roughness)) / (PI * missing);
}

struct Dielectric { int level; float part; float roughness; float many; float average; };
Dielectric dielectricOf(float f0, float roughness) {
  float x = sqrt(f0) * 32.0;
  int level = min(31, int(floor(x)));
  float part = x - float(level);
  float fresnel = mix(averageAt(level, 0.0), averageAt(level + 1, 0.0), part);
  float many = manyTimes(fresnel, roughness);
  float once = mix(averageAt(level, roughness), averageAt(level + 1, roughness), part);
  return Dielectric(level, part, roughness, many, once + many * (1.0 - averageAt(MIRROR, roughness)));
}
float towards(Dielectric d, float cosine) {
  float once = mix(albedoAt(d.level, cosine, d.roughness), albedoAt(d.level + 1, cosine, d.roughness), d.part);
  return once + d.many * (1.0 - albedoAt(MIRROR, cosine, d.roughness));
}

/** What does not depend on directions. */
struct Layers {
  Surface s;
  float roughness; float alpha; float ior; Dielectric base;
  vec3 dips; vec3 metalMany;
  float scatters; float comesBack; vec3 inside; float sheet;
  vec3 tint; float coatAlpha; Dielectric coat;
  float strongestFuzz;
  /** Layers above the base: whether there are any, what they let past on average, and what gets past all that reflects. */
  bool hasLayers; float aboveMean; float fuzzMean; float pastMean;
};
void averageLayers(inout Layers l);
Layers layersOf(Surface s) {
  Layers l;
  l.s = s;
  float coated = pow(pow(s.roughness, 4.0) + 2.0 * pow(s.coatRoughness, 4.0), 0.25);
  l.roughness = s.coatWeight == 0.0 ? s.roughness : mix(s.roughness, min(1.0, coated), s.coatWeight);
  l.alpha = alphaOf(l.roughness);
  float f0 = min(1.0, f0OfIor(s.ior) * s.specularWeight);
  l.ior = iorOfF0(f0);
  l.base = dielectricOf(f0, l.roughness);
  l.dips = dipsOf(s.baseColor, s.specularColor);
  vec3 metalAverage = s.baseColor + (1.0 - s.baseColor) / 21.0 - l.dips / 126.0;
  l.metalMany = s.specularWeight * manyTimes(min(vec3(1.0), metalAverage), l.roughness);
  l.scatters = (1.0 - s.metalness) * (1.0 - s.transmissionWeight);
  l.comesBack = s.thinWalled ? 1.0 - s.translucencyWeight : 1.0;
  l.inside = mix(s.baseColor, s.subsurfaceColor, s.subsurfaceWeight);
  l.sheet = s.thinWalled ? s.transmissionWeight : 0.0;
  l.tint = mix(vec3(1.0), s.coatColor, s.coatWeight);
  l.coatAlpha = alphaOf(s.coatRoughness);
  if (s.coatWeight > 0.0) l.coat = dielectricOf(f0OfIor(s.coatIor), s.coatRoughness);
  l.strongestFuzz = s.fuzzWeight * max(s.fuzzColor.r, max(s.fuzzColor.g, s.fuzzColor.b));
  l.hasLayers = s.coatWeight > 0.0 || s.fuzzWeight > 0.0;
  averageLayers(l);
  return l;
}
float bothSides(Layers l, float once) { return once + (2.0 * once / (1.0 + once) - once) * l.sheet; }
float passes(Layers l, float cosineIn, float cosineOut) {
  return (1.0 - towards(l.base, cosineIn)) * (1.0 - towards(l.base, cosineOut)) / (PI * max(1e-6, 1.0 - l.base.average));
}
float coatTowards(Layers l, float cosine) {
  return l.s.coatWeight == 0.0 ? 0.0 : l.s.coatWeight * towards(l.coat, cosine);
}
float coatPast(Layers l, float cosine) { return 1.0 - coatTowards(l, cosine); }
float fuzzPast(Layers l, float cosine) {
  return l.strongestFuzz == 0.0 ? 1.0 : 1.0 - l.strongestFuzz * fuzzAlbedo(cosine, l.s.fuzzRoughness);
}
float abovePast(Layers l, float cosine) { return coatPast(l, cosine) * fuzzPast(l, cosine); }
float pastAll(Layers l, float cosine) { return (1.0 - towards(l.base, cosine)) * abovePast(l, cosine); }
const float PLACES[6] = float[](${PLACES.map((place) => place.toFixed(6)).join(", ")});
const float WEIGHTS[6] = float[](${WEIGHTS.map((weight) => weight.toFixed(6)).join(", ")});
void averageLayers(inout Layers l) {
  l.aboveMean = 1.0; l.fuzzMean = 1.0; l.pastMean = 1.0 - l.base.average;
  if (!l.hasLayers) return;
  l.aboveMean = 0.0; l.fuzzMean = 0.0; l.pastMean = 0.0;
  for (int i = 0; i < 6; i++) {
    float t = PLACES[i];
    float weight = WEIGHTS[i] * 4.0 * t * t * t;
    float cosine = t * t;
    float fuzz = fuzzPast(l, cosine);
    float above = coatPast(l, cosine) * fuzz;
    l.fuzzMean += weight * fuzz;
    l.aboveMean += weight * above;
    l.pastMean += weight * (1.0 - towards(l.base, cosine)) * above;
  }
}
float overGlossy(float into, float outOf, float mean, float roughness) {
  float broad = roughness * roughness;
  return into * outOf / sqrt(max(1e-9, mix(into, mean, broad) * mix(outOf, mean, broad)));
}
float luster(float cosine) { return max(1e-6, cosine); }

vec3 reflected(Layers l, vec3 light, vec3 eye) {
  float cosineIn = light.z;
  float cosineOut = eye.z;
  if (cosineIn <= 0.0 || cosineOut <= 0.0) return vec3(0.0);
  vec3 halfway = normalize(light + eye);
  float atHalf = min(1.0, dot(halfway, light));
  float once = facets(cosineIn, cosineOut, halfway.z, l.alpha);
  float many = manyShape(cosineIn, cosineOut, l.roughness);
  float dielectric = once * bothSides(l, dielectricFresnel(atHalf, l.ior)) + many * l.base.many;
  vec3 glossy = l.s.specularColor * dielectric * (1.0 - l.s.metalness);
  if (l.s.metalness > 0.0)
    glossy += l.s.metalness * (l.s.specularWeight * metalFresnel(atHalf, l.s.baseColor, l.dips) * once + l.metalMany * many);
  float spread = PI * max(1e-6, l.pastMean);
  vec3 f = l.inside * l.scatters * l.comesBack * pastAll(l, cosineIn) * pastAll(l, cosineOut) / spread;
  if (!l.hasLayers) return (f + glossy) * cosineIn;
  f += glossy * overGlossy(abovePast(l, cosineIn), abovePast(l, cosineOut), l.aboveMean, l.roughness);
  f *= l.tint;
  if (l.s.coatWeight > 0.0) {
    float coatOnce = facets(cosineIn, cosineOut, halfway.z, l.coatAlpha) * dielectricFresnel(atHalf, l.s.coatIor);
    float coated = l.s.coatWeight * (coatOnce + manyShape(cosineIn, cosineOut, l.s.coatRoughness) * l.coat.many);
    f += coated * (l.s.fuzzWeight == 0.0 ? 1.0
      : overGlossy(fuzzPast(l, cosineIn), fuzzPast(l, cosineOut), l.fuzzMean, l.s.coatRoughness));
  }
  if (l.s.fuzzWeight > 0.0)
    f += l.s.fuzzColor * l.s.fuzzWeight * fuzzLobe(cosineIn, cosineOut, halfway.z, l.s.fuzzRoughness);
  return f * cosineIn;
}
vec3 throughScattered(Layers l, float cosine, vec3 eye) {
  if (cosine <= 0.0 || eye.z <= 0.0 || !l.s.thinWalled) return vec3(0.0);
  return l.s.translucencyColor * l.scatters * l.s.translucencyWeight * l.tint * cosine * passes(l, cosine, eye.z);
}
vec3 throughDepth(Surface s, float cosine, float thickMm) {
  if (s.transmissionDepthMm == 0.0 || s.thinWalled) return s.transmissionColor;
  float inside = sqrt(max(1e-6, 1.0 - (1.0 - cosine * cosine) / (s.ior * s.ior)));
  return pow(s.transmissionColor, vec3(thickMm / inside / s.transmissionDepthMm));
}
float throughSpread(Layers l) { return max(0.0, l.s.ior - 1.0) * l.alpha * sqrt(2.0); }
vec3 throughClear(Layers l, vec3 eye, float thickMm) {
  float cosine = luster(eye.z);
  float turnedBack = bothSides(l, towards(l.base, cosine));
  return throughDepth(l.s, cosine, thickMm) * (1.0 - l.s.metalness) * l.s.transmissionWeight * (1.0 - turnedBack)
    * l.tint * coatPast(l, cosine);
}
vec3 mirroredBase(Layers l, vec3 eye) {
  float cosine = luster(eye.z);
  vec3 shown = l.s.specularColor * bothSides(l, towards(l.base, cosine)) * (1.0 - l.s.metalness);
  if (l.s.metalness > 0.0)
    shown += l.s.metalness * l.s.specularWeight * metalFresnel(cosine, l.s.baseColor, l.dips);
  return shown * l.tint * abovePast(l, cosine);
}
float mirroredCoat(Layers l, vec3 eye) {
  float cosine = luster(eye.z);
  return coatTowards(l, cosine) * fuzzPast(l, cosine);
}
vec3 scattered(Layers l, vec3 eye) {
  float cosine = luster(eye.z);
  vec3 under = l.inside * l.scatters * l.comesBack * pastAll(l, cosine) * l.tint;
  return l.s.fuzzWeight == 0.0 ? under : under + l.s.fuzzColor * l.s.fuzzWeight * fuzzAlbedo(cosine, l.s.fuzzRoughness);
}
`;
