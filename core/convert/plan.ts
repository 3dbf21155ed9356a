import {
  changedFinish,
  heightAmplitude,
  type Finish,
  type FinishChange,
  type FinishField,
} from "#core/finish/finish";
import { FINISH_VALUES, valueWords } from "#core/finish/valueFacts";
import type { MaterialMap, MaterialState } from "#core/finish/material";
import { containerKind } from "#core/formats/containers";
import { isColorRole, ROLE_NAMES, type Role } from "#core/roles/roles";
import {
  containerImage,
  type MaterialPlan,
  type PlannedFile,
  type PlannedLayer,
} from "#core/convert/materialPlan";
import { carryValues, inUnit } from "#core/convert/carryValues";
import { constantFor, finishing } from "#core/convert/finishing";
import { imageFormat, type ImageFormat } from "#core/convert/imageFormats";
import { operationWord, packWord, type Operation } from "#core/convert/operation";
import type { MapOutput, PackedOutput, Profile } from "#core/convert/profile";

export interface PlanOptions {
  /** Makes every image this wide and high at most, if the profile does not ask for less. */
  maxPixels?: number;
}

/** Plans what a profile makes of a material. Pure: the same material and profile always give the same plan. */
export function planConversion(
  given: MaterialState,
  profile: Profile,
  options: PlanOptions = {},
): MaterialPlan {
  const correction = given.corrections?.[profile.id];
  const material = correction ? { ...given, finish: changedFinish(given.finish, correction) } : given;
  const folder = `${profile.id}/${material.fileName}`;
  const context: Context = { material, profile, folder, limit: limitOf(profile, options), warnings: [] };
  const files = profile.outputs.flatMap((output) => {
    const file = output.kind === "map" ? planMap(context, output) : planPacked(context, output);
    return file ? [file] : [];
  });
  warnAbout(context, files);
  const { settings, notCarried } = carryValues(material, profile, files);
  const { id, name, code, fileName, revision, layout, repeat, sizeState, finish } = material;
  return {
    material: { id, name, code, fileName, revision, layout, repeat, sizeState, finish },
    profile: profile.id,
    folder,
    container: containerOf(profile, `${folder}/${fileName}`),
    files,
    settings,
    notCarried,
    correction: correction ? correctionWords(given.finish, correction) : [],
    steps: stepsOf(context, files, settings),
    warnings: context.warnings,
  };
}

/** What is changed for one renderer alone, and what it is for the others. */
function correctionWords(finish: Finish, correction: FinishChange): string[] {
  return (Object.keys(correction) as FinishField[]).map((field) => {
    const words = (value: Finish[FinishField] | null) =>
      value === undefined || value === null ? "as received" : valueWords(field, value);
    return `${FINISH_VALUES[field].name} ${words(correction[field] as Finish[FinishField])} (for others ${words(finish[field])})`;
  });
}

const containerOf = ({ delivers }: Profile, path: string): MaterialPlan["container"] =>
  delivers === "images" ? null : { path: `${path}.${containerKind(delivers).extension}`, kind: delivers };

interface Context {
  material: MaterialState;
  profile: Profile;
  folder: string;
  limit: number;
  warnings: string[];
}

const limitOf = (profile: Profile, options: PlanOptions) =>
  Math.min(profile.maxPixels ?? Infinity, options.maxPixels ?? Infinity);

/** Source roles for each canonical role, best first. */
const SOURCES: Partial<Record<Role, Role[]>> = {
  specular_roughness: ["specular_roughness", "gloss"],
  gloss: ["gloss", "specular_roughness"],
  height: ["height", "bump"],
  bump: ["bump", "height"],
};

function findMap(material: MaterialState, role: Role): MaterialMap | undefined {
  for (const source of SOURCES[role] ?? [role]) {
    const map = material.maps.find((map) => map.role === source);
    if (map) return map;
  }
  return undefined;
}

function planMap(context: Context, output: MapOutput): PlannedFile | undefined {
  const { material, profile } = context;
  const source = findMap(material, output.role);
  if (!source) return undefined;
  const target = fit(source, context.limit);
  const values = isColorRole(output.role) ? "srgb" : output.role === "geometry_normal" ? "normal" : "data";
  const operations = readingOf(source, output.role, profile);

  operations.push(...finishing(material.finish, output.role));
  const occlusionMap = output.multiplyOcclusion ? findMap(material, "ambient_occlusion") : undefined;
  const { occlusionStrength: strength, occlusionGamma: gamma } = material.finish;
  const occlusion =
    occlusionMap && strength > 0
      ? {
          source: occlusionMap,
          operations: [
            ...readingOf(occlusionMap, "ambient_occlusion", profile),
            ...sized(occlusionMap, source, "data"),
          ],
        }
      : undefined;
  if (occlusion) operations.push({ op: "multiply", strength, gamma });
  operations.push(...sized(source, target, values));
  const rougher = roughening(context, output.role, source, target);
  if (rougher) operations.push(rougher.operation);

  const opacityMap = output.opacityInAlpha ? findMap(material, "geometry_opacity") : undefined;
  const opacity = opacityMap && {
    source: opacityMap,
    operations: [
      ...readingOf(opacityMap, "geometry_opacity", profile),
      ...(profile.delivers === "images" ? finishing(material.finish, "geometry_opacity") : []),
      ...sized(opacityMap, target, "data"),
      ...toBits(opacityMap, 8, false),
    ],
  };
  operations.push(...toBits(source, output.bitDepth, output.role === "height" || output.role === "bump"));
  if (opacity) operations.push({ op: "attach-opacity" });

  return {
    path: pathOf(context, output.suffix, opacity ? "png" : output.format),
    slot: output.slot,
    role: output.role,
    image: {
      kind: "map",
      base: { source, operations, ...(rougher && { normal: rougher.normal }) },
      ...(occlusion && { occlusion }),
      ...(opacity && { opacity }),
    },
    format: opacity ? "png" : output.format,
    ...target,
    bitDepth: output.bitDepth,
    encoding: values === "srgb" ? "srgb" : "linear",
    operations: operations.map(operationWord),
  };
}

function planPacked(context: Context, output: PackedOutput): PlannedFile | undefined {
  const { material, profile } = context;
  const maps = output.channels.map((role) => findMap(material, role));
  const present = maps.filter((map) => map !== undefined);
  if (present.length === 0) return undefined;
  const largest = present.reduce((a, b) => (b.width * b.height > a.width * a.height ? b : a));
  const target = fit(largest, context.limit);
  const channels = output.channels.map((role, i): PlannedLayer | number => {
    const source = maps[i];
    if (!source) return constantFor(role, material);
    const rougher = roughening(context, role, source, target);
    return {
      source,
      operations: [
        ...readingOf(source, role, profile),
        ...finishing(material.finish, role),
        ...sized(source, target, "data"),
        ...(rougher ? [rougher.operation] : []),
        ...toBits(source, 8, false),
      ],
      ...(rougher && { normal: rougher.normal }),
    };
  }) as [PlannedLayer | number, PlannedLayer | number, PlannedLayer | number];
  const layers = channels.filter((channel) => typeof channel !== "number");
  return {
    path: pathOf(context, output.suffix, output.format),
    slot: output.slot,
    role: output.channels.join("+"),
    image: { kind: "packed", roles: output.channels, channels },
    format: output.format,
    ...target,
    bitDepth: 8,
    encoding: "linear",
    operations: [
      ...new Set(layers.flatMap((layer) => layer.operations.map(operationWord))),
      packWord(channels.map((channel, i) => (typeof channel === "number" ? channel : output.channels[i]))),
    ],
  };
}

/**
 * How a roughness map that is reduced takes up the relief that the normal map beside it loses by being reduced; nothing
 * where one of them keeps its size, or the profile takes no normal map.
 */
function roughening(
  { material, profile, limit }: Context,
  role: Role,
  source: Size,
  target: Size,
): { operation: Operation; normal: PlannedLayer } | undefined {
  if (role !== "specular_roughness" && role !== "gloss") return undefined;
  const map = findMap(material, "geometry_normal");
  const isDelivered = profile.outputs.some(
    (output) => output.kind === "map" && output.role === "geometry_normal",
  );
  const weight = material.finish.lostRelief * material.finish.normalStrength ** 2;
  if (!map || !isDelivered || weight === 0) return undefined;
  const shown = fit(map, limit);
  if (shown.width >= map.width || target.width >= source.width) return undefined;
  const values = role === "gloss" ? "gloss" : "roughness";
  return {
    operation: { op: "roughen", ...shown, weight, values },
    normal: {
      source: map,
      // Which way its green points does not matter for how much it varies.
      operations: readingOf(map, "geometry_normal", profile).filter(({ op }) => op !== "flip-green"),
    },
  };
}

/** From the file as it is to the role in the profile's sense: the right channels, inverted or flipped where needed. */
function readingOf(source: MaterialMap, role: Role, profile: Profile): Operation[] {
  const operations: Operation[] = [];
  if (source.channel !== "color") operations.push({ op: "take-channel", channel: source.channel });
  else if (source.channels === 2 || source.channels === 4) operations.push({ op: "drop-alpha" });
  const keepsColor = isColorRole(role) || role === "geometry_normal";
  if (!keepsColor && source.channel === "color" && source.channels >= 3) operations.push({ op: "to-grey" });
  const inverted =
    (source.role === "gloss") !== (role === "gloss") && (source.role === "gloss" || role === "gloss");
  if (inverted) operations.push({ op: "invert" });
  if (role === "geometry_normal" && (source.normalDirection ?? "+Y") !== profile.normalDirection)
    operations.push({ op: "flip-green" });
  return operations;
}

function sized(
  source: MaterialMap,
  target: { width: number; height: number },
  values: "srgb" | "data" | "normal",
): Operation[] {
  if (source.width === target.width && source.height === target.height) return [];
  return [{ op: "resize", width: target.width, height: target.height, values }];
}

function toBits(source: MaterialMap, bitDepth: 8 | 16, dither: boolean): Operation[] {
  // Floating point is decoded to 16 bits.
  return Math.min(16, source.bitDepth) === bitDepth
    ? []
    : [{ op: "to-bits", bitDepth, dither: dither && bitDepth === 8 }];
}

interface Size {
  width: number;
  height: number;
}

/** Proportions kept, the longer side at the limit. */
function fit(size: Size, limit: number): Size {
  const ratio = Math.min(1, limit / Math.max(size.width, size.height));
  return {
    width: Math.max(1, Math.round(size.width * ratio)),
    height: Math.max(1, Math.round(size.height * ratio)),
  };
}

function pathOf(context: Context, suffix: string, format: ImageFormat): string {
  const { extension } = imageFormat(format);
  return `${context.folder}/${context.material.fileName}_${suffix}.${extension}`;
}

function usedRoles(files: PlannedFile[]): Set<Role> {
  return new Set(
    files.flatMap(({ image }) => {
      if (image.kind === "packed")
        return image.channels.flatMap((layer) => (typeof layer === "number" ? [] : [layer.source.role]));
      return [image.base, image.occlusion, image.opacity].flatMap((layer) =>
        layer ? [layer.source.role] : [],
      );
    }),
  );
}

function warnAbout({ material, profile, warnings }: Context, files: PlannedFile[]): void {
  const images = material.layout !== "plain";
  if (images && !material.repeat)
    warnings.push(
      "The size is unknown: the images are delivered without a real size, and no size can be set at the receiving end.",
    );
  if (images && material.sizeState === "assumed") warnings.push("The size is assumed, not measured.");
  if (images && files.length === 0) warnings.push("This material has no map that the profile takes.");
  const used = usedRoles(files);
  for (const map of material.maps)
    if (!used.has(map.role) && map.role !== "reference")
      warnings.push(`The ${ROLE_NAMES[map.role]} map (${map.fileName}) has no place in this profile.`);
  for (const file of files) {
    if (file.image.kind === "map" && file.image.base.source.bitDepth < file.bitDepth)
      warnings.push(
        `The ${ROLE_NAMES[file.image.base.source.role]} map came with ${file.image.base.source.bitDepth} bits; its ${file.bitDepth}-bit file holds no more.`,
      );
    const { isLossless } = imageFormat(file.format);
    if (!isLossless && file.encoding === "linear")
      warnings.push(
        `${file.path} is data in a ${file.format.toUpperCase()}, as the profile insists; expect blocks.`,
      );
    if (profile.delivers !== "images" && !containerKind(profile.delivers).takes(containerImage(file)))
      warnings.push(
        `${file.path.replace(/^.*\//, "")} has no place in a ${containerKind(profile.delivers).name}: it is left out of it.`,
      );
  }
  const normal = material.maps.find((map) => map.role === "geometry_normal");
  if (normal && used.has("geometry_normal") && !normal.normalDirection)
    warnings.push(
      `The direction of the normal map is assumed to be +Y; the profile gets ${profile.normalDirection.replace("-", "−")}.`,
    );
  if (
    files.some((file) => file.role === "height" || file.role === "bump") &&
    heightAmplitude(material.finish, material.repeat).assumed
  )
    warnings.push(
      `How deep the height goes is assumed: ${heightAmplitude(material.finish, material.repeat).mm} mm.`,
    );
}

function stepsOf(
  { material, profile }: Context,
  files: PlannedFile[],
  settings: MaterialPlan["settings"],
): string[] {
  const values = Object.values(profile.values).filter((name) => name in settings);
  const has = (role: Role) =>
    files.some(
      (file) =>
        file.role.split("+").includes(role) ||
        (file.image.kind === "map" && file.image.opacity?.source.role === role),
    );
  const holds: Record<Profile["steps"][number]["when"], boolean> = {
    always: true,
    images: files.length > 0,
    normal: has("geometry_normal"),
    height: has("height") || has("bump"),
    opacity: has("geometry_opacity"),
    repeat: material.repeat !== null && files.length > 0,
    plain: material.layout === "plain",
    values: values.length > 0,
  };
  const amplitude = heightAmplitude(material.finish, material.repeat);
  const words: Record<string, string> = {
    values: values.join(", "),
    width: material.repeat ? String(inUnit(material.repeat.width, profile)) : "",
    height: material.repeat ? String(inUnit(material.repeat.height, profile)) : "",
    unit: profile.unit,
    amplitude: String(inUnit(amplitude.mm, profile)),
    middle: String(material.finish.heightMiddle),
    name: material.name,
  };
  return profile.steps
    .filter((step) => holds[step.when])
    .map((step) => step.text.replaceAll(/\{(\w+)\}/g, (whole, key: string) => words[key] ?? whole));
}
