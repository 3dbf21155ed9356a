import {
  changedFinish,
  heightAmplitude,
  type Finish,
  type FinishChange,
  type FinishField,
} from "#core/finish/finish";
import { FINISH_VALUES, valueWords } from "#core/finish/valueFacts";
import type { MaterialMap, MaterialState, WornLayer } from "#core/finish/material";
import { containerKind } from "#core/formats/containers";
import { isColorRole, ROLE_NAMES, type Role } from "#core/roles/roles";
import {
  containerImage,
  layersOf,
  type MaterialPlan,
  type PlannedFile,
  type PlannedLayer,
} from "#core/convert/materialPlan";
import type { Bake } from "#core/convert/bakeWear";
import {
  bakedSize,
  layingFor,
  maskOperations,
  planWear,
  tiled,
  tileSize,
  wornHeight,
  type WearPlan,
} from "#core/convert/wearPlan";
import { adjustedHex, colorAdjustment } from "#core/finish/colorAdjustment";
import { roughnessAdjustment } from "#core/finish/roughnessAdjustment";
import type { FinishLeft } from "#core/formats/container";
import { wearSize } from "#core/finish/wearSize";
import { carryValues, inUnit } from "#core/convert/carryValues";
import { constantFor, finishing } from "#core/convert/finishing";
import { imageFormat, JPEG_QUALITY, type FileBits, type ImageFormat } from "#core/convert/imageFormats";
import { portableName } from "#core/library/portableName";
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
  const folder = folderOf(material, profile);
  const limit = limitOf(profile, options);
  const wear = planWear(material, profile, limit);
  const context: Context = { material, profile, folder, limit, wear, warnings: wear?.warnings ?? [] };
  const images = profile.outputs.flatMap((output) => {
    const file = output.kind === "map" ? planMap(context, output) : planPacked(context, output);
    return file ? [file] : [];
  });
  const layers = (wear?.layered ?? []).map((worn, at) => planWearMap(context, worn, at));
  const files = [...images, ...layers].map((file) => ({ ...file, ...qualityOf(file, profile) }));
  warnAbout(context, files);
  const worn = withWear(context, images);
  const { settings, notCarried } = carryValues(worn, profile, images);
  enterWear(context, settings);
  const { id, name, code, fileName, revision, layout, repeat, sizeState, finish, facts } = worn;
  return {
    material: {
      id,
      name,
      code,
      fileName,
      revision,
      layout,
      repeat,
      sizeState,
      finish,
      ...(facts && { facts }),
    },
    profile: profile.id,
    folder,
    settingsPath: settingsPathOf(folder, material, profile),
    container: containerOf(profile, `${folder}/${fileName}`),
    files,
    settings,
    notCarried: [...notCarried, ...wearNotCarried(context, images)],
    correction: correction ? correctionWords(given.finish, correction) : [],
    steps: stepsOf({ ...context, material: worn }, files, settings),
    warnings: context.warnings,
  };
}

/** The material as its images have it: baked wear may repeat later, and lie deeper or higher. */
function withWear({ material, wear }: Context, images: PlannedFile[]): MaterialState {
  if (!wear?.bake) return material;
  const isWorn = images.some(({ image }) => layersOf(image).some(({ masks }) => masks));
  if (!isWorn) return material;
  const isDeeper = images.some(
    ({ image }) =>
      image.kind === "map" &&
      image.base.operations.some((operation) => operation.op === "wear" && operation.image.on === "height"),
  );
  const { to } = wornHeight(material, wear.baked);
  return {
    ...material,
    repeat: material.repeat || material.layout === "plain" ? wear.bake.area : null,
    finish: isDeeper
      ? {
          ...material.finish,
          heightAmplitudeMm: to.spanMm,
          heightMiddle: to.spanMm === 0 ? 0.5 : Math.min(1, Math.max(0, -to.lowestMm / to.spanMm)),
        }
      : material.finish,
  };
}

/** A layer as a map of its own, light where its marks are. */
function planWearMap(context: Context, worn: WornLayer, at: number): PlannedFile {
  const { layer, mask, name } = worn;
  const layers = context.profile.layers!;
  const target = fit(mask, context.limit);
  const operations: Operation[] = [
    ...maskOperations(mask),
    ...(layer.polarity === "dark" ? [{ op: "invert" } as const] : []),
    ...sized(mask, target, "data"),
    ...toBits(mask, 8, false),
  ];
  return {
    path: pathOf(context, `${layers.suffix}-${at + 1}`, layers.format),
    slot: `${layers.slot} ${at + 1}, ${name}`,
    role: "wear_mask",
    image: { kind: "map", base: { source: mask, operations } },
    format: layers.format,
    ...target,
    bitDepth: 8,
    encoding: "linear",
    tag: "none",
    wear: {
      effect: layer.effect,
      strength: layer.strength,
      ...(layer.effect === "tint" && { tint: layer.tint }),
      ...(layer.turn && { turn: layer.turn }),
      ...(layer.start && { start: layer.start }),
      size: wearSize(worn).size,
      repeats: worn.layout === "repeating",
    },
    operations: operations.map(operationWord),
  };
}

/** What is to be entered for the layers that a renderer lays on by itself. */
function enterWear({ profile, wear }: Context, settings: MaterialPlan["settings"]): void {
  for (const [at, worn] of (wear?.layered ?? []).entries()) {
    const { effect, strength, tint, turn, start } = worn.layer;
    const { size } = wearSize(worn);
    const named = (what: string) => `${profile.layers!.slot} ${at + 1} ${what}`;
    settings[named("effect")] = effect;
    settings[named("strength")] = strength;
    settings[named("width")] = inUnit(size.width, profile);
    settings[named("height")] = inUnit(size.height, profile);
    if (effect === "tint" && tint) settings[named("colour")] = tint;
    if (turn) settings[named("turned clockwise by, degrees")] = turn;
    if (start) {
      settings[named("begins to the right at")] = inUnit(start.x, profile);
      settings[named("begins downwards at")] = inUnit(start.y, profile);
    }
    if (worn.layout !== "repeating") settings[named("repeats")] = false;
  }
}

/** Layers that were to be baked, and are in no image. */
function wearNotCarried({ material, wear }: Context, images: PlannedFile[]): string[] {
  const laid = new Set(
    images.flatMap(({ image }) =>
      layersOf(image).flatMap(({ operations }) =>
        operations.flatMap((operation) =>
          operation.op === "wear" ? operation.layers.map(({ of, effect }) => `${of} ${effect}`) : [],
        ),
      ),
    ),
  );
  return (wear?.baked ?? [])
    .filter(({ code, layer }) => !laid.has(`${code} ${layer.effect}`))
    .map(({ name, layer }) => {
      const hasColor = material.finish.color !== undefined || findMap(material, "base_color");
      const why =
        layer.effect === "tint" && !hasColor
          ? "there is no colour that it could tint"
          : "this renderer has no input for what it does";
      return `wear “${name}”, ${layer.effect} ${layer.strength}: ${why}.`;
    });
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
  wear: WearPlan | undefined;
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
  if (context.wear?.bake) return planWornMap(context, output, context.wear.bake);
  const source = findMap(material, output.role);
  if (!source) return undefined;
  const target = fit(source, context.limit);
  const values = isColorRole(output.role) ? "srgb" : output.role === "geometry_normal" ? "normal" : "data";
  const operations = readingOf(source, output.role, profile);

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
  const rougher = roughening(context, output.role, source, target);
  const left = leftOf(context, output, { occlusion, relief: rougher });
  if (!left) operations.push(...finishing(material.finish, output.role));
  operations.push(...invertedFor(output));
  if (occlusion) operations.push({ op: "multiply", strength, gamma });
  operations.push(...sized(source, target, values));
  if (rougher) operations.push(rougher.operation);

  const opacityMap = output.opacityInAlpha ? findMap(material, "geometry_opacity") : undefined;
  const opacity = opacityMap && {
    source: opacityMap,
    operations: [
      ...readingOf(opacityMap, "geometry_opacity", profile),
      ...opacityFinishing(context),
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
    tag: tagOf(profile, output),
    ...(left && { left }),
    operations: [...operations.map(operationWord), ...leftWords(left)],
  };
}

/**
 * What of a finish is left to nodes of the material file; nothing where there is nothing, or what is worked into the image has to come
 * after it.
 */
function leftOf(
  { material: { finish }, profile, warnings }: Context,
  { role, inverted }: MapOutput,
  over: { occlusion?: unknown; relief?: unknown; wear?: unknown },
): FinishLeft | undefined {
  if (profile.finishIn !== "nodes" || inverted) return undefined;
  const color = role === "base_color" ? colorAdjustment(finish) : undefined;
  const roughness = role === "specular_roughness" ? roughnessAdjustment(finish) : undefined;
  if (!color && !roughness) return undefined;
  // Gains and matrices are the same before and after a factor; curves are not.
  const isBent = color?.gamma !== undefined || color?.contrast !== undefined;
  const why = over.wear
    ? "wear is worked in over it"
    : color && over.occlusion && isBent
      ? "occlusion is multiplied over it"
      : roughness && over.relief
        ? "relief that is lost is added over it"
        : undefined;
  if (why) {
    warnings.push(`The finish of the ${ROLE_NAMES[role]} is worked into its image: ${why}.`);
    return undefined;
  }
  return { ...(color && { color }), ...(roughness && { roughness }) };
}

/** What is left to nodes, in the words of what would be done. */
const leftWords = ({ color, roughness }: FinishLeft = {}): string[] => [
  ...(color ? [`left to nodes: ${operationWord({ op: "adjust-color", ...color })}`] : []),
  ...(roughness
    ? [`left to nodes: ${operationWord({ op: "adjust-roughness", values: "roughness", ...roughness })}`]
    : []),
];

/** The same where wear is baked into the images: reduced first, then laid beside each other, then worn. */
function planWornMap(context: Context, output: MapOutput, bake: Bake): PlannedFile | undefined {
  const { material, profile } = context;
  const occlusionMap = output.multiplyOcclusion ? findMap(material, "ambient_occlusion") : undefined;
  const { occlusionStrength: strength, occlusionGamma: gamma } = material.finish;
  const worn = wornLayer(context, output.role, bake, output.bitDepth, (over) =>
    leftOf(context, output, { ...over, occlusion: occlusionMap && strength > 0 }),
  );
  if (!worn) return undefined;
  const { layer, size, left } = worn;
  const { operations } = layer;
  const beside = (map: MaterialMap, role: Role, change: Operation[]): PlannedLayer => ({
    source: map,
    operations: [
      ...readingOf(map, role, profile),
      ...change,
      ...sized(map, { width: size.width / bake.across, height: size.height / bake.down }, "data"),
      ...tiled(bake),
    ],
  });
  const occlusion = occlusionMap && strength > 0 ? beside(occlusionMap, "ambient_occlusion", []) : undefined;
  if (occlusion) operations.push({ op: "multiply", strength, gamma });
  const opacityMap = output.opacityInAlpha ? findMap(material, "geometry_opacity") : undefined;
  const cut = opacityFinishing(context);
  const opacity = opacityMap && beside(opacityMap, "geometry_opacity", cut);
  opacity?.operations.push(...toBits(opacityMap!, 8, false));
  const isHeight = output.role === "height" || output.role === "bump";
  operations.push(...invertedFor(output), ...toBits({ bitDepth: worn.bitDepth }, output.bitDepth, isHeight));
  if (opacity) operations.push({ op: "attach-opacity" });
  const format = opacity ? "png" : output.format;
  return {
    path: pathOf(context, output.suffix, format),
    slot: output.slot,
    role: output.role,
    image: { kind: "map", base: layer, ...(occlusion && { occlusion }), ...(opacity && { opacity }) },
    format,
    ...size,
    bitDepth: output.bitDepth,
    encoding: isColorRole(output.role) ? "srgb" : "linear",
    tag: tagOf(profile, output),
    ...(left && { left }),
    operations: [...operations.map(operationWord), ...leftWords(left)],
  };
}

/** A map with the wear of its role, or one that is made for the wear alone; nothing where there is neither. */
function wornLayer(
  context: Context,
  role: Role,
  bake: Bake,
  bitDepth: FileBits,
  leave: (over: { relief?: unknown; wear?: unknown }) => FinishLeft | undefined = () => undefined,
): { layer: PlannedLayer; size: Size; bitDepth: number; left?: FinishLeft } | undefined {
  const { material, profile, limit } = context;
  const source = findMap(material, role);
  const laying = layingFor(role, material, context.wear!, profile);
  const wearing = { ...(laying && { masks: laying.masks }) };
  if (!source) {
    const values = laying && madeFor(context, role);
    if (!values) return undefined;
    const size = bakedSize(bake.pixels, bake);
    const operations: Operation[] = [{ op: "fill", ...size, values, bitDepth: 16 }, laying.operation];
    return { layer: { source: null, operations, ...wearing }, size, bitDepth: 16 };
  }
  const tile = tileSize(source, bake, limit);
  const values = isColorRole(role) ? "srgb" : role === "geometry_normal" ? "normal" : "data";
  const rougher = roughening(context, role, source, tile);
  const left = leave({ relief: rougher, wear: laying });
  // Relief that is thinner than one of 256 steps is kept where there is room for it.
  const isRefined = laying && bitDepth !== 8 && source.bitDepth < 16;
  const operations: Operation[] = [
    ...readingOf(source, role, profile),
    ...(left ? [] : finishing(material.finish, role)),
    ...sized(source, tile, values),
    ...(rougher ? [rougher.operation] : []),
    ...(isRefined ? toBits(source, 16, false) : []),
    ...tiled(bake),
    ...(laying ? [laying.operation] : []),
  ];
  return {
    layer: { source, operations, ...(rougher && { normal: rougher.normal }), ...wearing },
    size: bakedSize(tile, bake),
    bitDepth: isRefined ? 16 : source.bitDepth,
    ...(left && { left }),
  };
}

/** What an image that there is no map for begins with, as it is stored; nothing where none is made. */
function madeFor({ material, profile }: Context, role: Role): number[] | undefined {
  switch (role) {
    case "base_color": {
      const { color } = material.finish;
      if (color === undefined) return undefined;
      const adjusted = adjustedHex(color, colorAdjustment(material.finish));
      return [1, 3, 5].map((at) => parseInt(adjusted.slice(at, at + 2), 16) / 255);
    }
    case "specular_roughness":
    case "gloss":
      return [constantFor(role, material)];
    case "geometry_normal": {
      // A height map that is delivered has the wear already, and what makes normals from it makes those of the wear too.
      const hasHeight = profile.outputs.some(
        (output) =>
          output.kind === "map" &&
          (output.role === "height" || output.role === "bump") &&
          findMap(material, output.role),
      );
      return hasHeight ? undefined : [0.5, 0.5, 1];
    }
    default:
      return undefined;
  }
}

function planPacked(context: Context, output: PackedOutput): PlannedFile | undefined {
  const { material, profile } = context;
  if (context.wear?.bake) return planWornPacked(context, output, context.wear.bake);
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
  return packedFile(context, output, channels, target);
}

/** The same where wear is baked in. */
function planWornPacked(context: Context, output: PackedOutput, bake: Bake): PlannedFile | undefined {
  const worn = output.channels.map((role) => wornLayer(context, role, bake, 8));
  const present = worn.filter((one) => one !== undefined);
  if (present.length === 0) return undefined;
  const largest = present.reduce((a, b) =>
    b.size.width * b.size.height > a.size.width * a.size.height ? b : a,
  );
  const channels = worn.map((one, i): PlannedLayer | number => {
    if (!one) return constantFor(output.channels[i], context.material);
    const { layer, size, bitDepth } = one;
    return {
      ...layer,
      operations: [
        ...layer.operations,
        ...sized(size, largest.size, "data"),
        ...toBits({ bitDepth }, 8, false),
      ],
    };
  }) as [PlannedLayer | number, PlannedLayer | number, PlannedLayer | number];
  return packedFile(context, output, channels, largest.size);
}

function packedFile(
  context: Context,
  output: PackedOutput,
  channels: [PlannedLayer | number, PlannedLayer | number, PlannedLayer | number],
  target: Size,
): PlannedFile {
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
    tag: "none",
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
  { material, profile, limit, wear }: Context,
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
  const shown = wear?.bake ? tileSize(map, wear.bake, limit) : fit(map, limit);
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
  source: Size,
  target: { width: number; height: number },
  values: "srgb" | "data" | "normal",
): Operation[] {
  if (source.width === target.width && source.height === target.height) return [];
  return [{ op: "resize", width: target.width, height: target.height, values }];
}

function toBits(source: { bitDepth: number }, bits: FileBits, dither: boolean): Operation[] {
  // Floating point is decoded to 16 bits, and written from as many.
  const bitDepth = bits === 8 ? 8 : 16;
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

/** A pattern of a profile's names with what stands in its braces; all of that is safe on every file system. */
function named(pattern: string, { fileName, code }: MaterialState, suffix = ""): string {
  return pattern
    .replaceAll("{material}", fileName)
    .replaceAll("{code}", portableName(code, fileName))
    .replaceAll("{suffix}", suffix);
}

function folderOf(material: MaterialState, { id, names }: Profile): string {
  const within = named(names.folder, material);
  return within === "" ? id : `${id}/${within}`;
}

/** Where several materials lie in one folder, each has its own. */
function settingsPathOf(folder: string, material: MaterialState, { names }: Profile): string {
  const isAlone = /\{(material|code)\}/.test(names.folder);
  return `${folder}/${isAlone ? "" : `${material.fileName}_`}settings.json`;
}

function pathOf({ folder, material, profile }: Context, suffix: string, format: ImageFormat): string {
  return `${folder}/${named(profile.names.file, material, suffix)}.${imageFormat(format).extension}`;
}

/** What is cut out, unless a material file says where. */
const opacityFinishing = ({ material, profile }: Context): Operation[] =>
  profile.delivers !== "images" && containerKind(profile.delivers).hasThreshold
    ? []
    : finishing(material.finish, "geometry_opacity");

/** What is inverted beside gloss, which is a role: how transparent something is. */
const invertedFor = ({ inverted }: MapOutput): Operation[] => (inverted ? [{ op: "invert" }] : []);

/** Said only where it is not the usual one. */
const qualityOf = ({ format }: PlannedFile, { jpegQuality }: Profile): Pick<PlannedFile, "quality"> =>
  format === "jpeg" && jpegQuality !== JPEG_QUALITY ? { quality: jpegQuality } : {};

/** Of 16 bits none is written: there the profile would change the numbers. */
const tagOf = ({ colorTag }: Profile, { role, bitDepth }: MapOutput): PlannedFile["tag"] =>
  isColorRole(role) && bitDepth === 8 ? colorTag : "none";

const aName = (delivers: Exclude<Profile["delivers"], "images">) => {
  const { name } = containerKind(delivers);
  return `${/^[AEIOU]/.test(name) ? "an" : "a"} ${name}`;
};

const usedRoles = (files: PlannedFile[]): Set<Role> =>
  new Set(
    files.flatMap(({ image }) => layersOf(image).flatMap(({ source }) => (source ? [source.role] : []))),
  );

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
    const source = file.image.kind === "map" ? file.image.base.source : null;
    // Of floating point no more than 16 bits are ever filled.
    if (source && source.bitDepth < Math.min(16, file.bitDepth))
      warnings.push(
        `The ${ROLE_NAMES[source.role]} map came with ${source.bitDepth} bits; its ${file.bitDepth}-bit file holds no more.`,
      );
    const { isLossless } = imageFormat(file.format);
    if (!isLossless && file.encoding === "linear")
      warnings.push(
        `${file.path} is data in a ${file.format.toUpperCase()}, as the profile insists; expect blocks.`,
      );
    if (profile.delivers !== "images" && !containerKind(profile.delivers).takes(containerImage(file)))
      warnings.push(
        `${file.path.replace(/^.*\//, "")} has no place in ${aName(profile.delivers)}: it is left out of it.`,
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
        (file.image.kind === "map" && file.image.opacity?.source?.role === role),
    );
  const holds: Record<Profile["steps"][number]["when"], boolean> = {
    always: true,
    images: files.length > 0,
    normal: has("geometry_normal"),
    height: has("height") || has("bump"),
    opacity: has("geometry_opacity"),
    repeat: material.repeat !== null && files.length > 0,
    plain: material.layout === "plain" && files.every(({ role }) => role === "wear_mask"),
    wear: files.some(({ role }) => role === "wear_mask"),
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
