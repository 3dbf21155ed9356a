import { byCode } from "#core/convert/kernels/byCode";
import { extractChannel } from "#core/convert/kernels/channels";
import type { MapOutput, Profile } from "#core/convert/profile";
import { finishSchema, heightAmplitude, type Finish, type FinishField } from "#core/finish/finish";
import type { Laid } from "#core/finish/marks";
import { FINISH_VALUES } from "#core/finish/valueFacts";
import { WEAR_EFFECTS } from "#core/finish/wear";
import { MM_PER_UNIT } from "#core/length/parseLength";
import { roleTexture } from "#core/picture/roleTexture";
import type { DrawnMaterial, Textures } from "#core/picture/surfaceReader";
import type { Raster } from "#core/raster/raster";
import { isColorRole, ROLE_NAMES, type Role } from "#core/roles/roles";

/** What was delivered of one material as images and a sheet. */
export interface Package {
  /** By the input that each is for, pixels as the files have them; read one after the other, since they may be large. */
  images: ReadonlyMap<string, () => Promise<Raster>>;
  /** As they stand in the sheet. */
  settings: Readonly<Record<string, string | number | boolean>>;
}

export interface Place {
  /** How often an image of a size is halved, where it covers so much. */
  reduce(raster: Raster, size: { width: number; height: number }): number;
  wraps: boolean;
}

/** What a repeat is taken for where the sheet says none. */
export const UNKNOWN_SIZE = { width: 1000, height: 1000 };

/**
 * What a renderer of these conventions sees of a package: by its profile, its files and its sheet, and by nothing that the program knows
 * besides. It shares nothing with what wrote them.
 */
export async function readPackage(
  profile: Profile,
  { images, settings }: Package,
  place: Place,
): Promise<DrawnMaterial> {
  const mm = MM_PER_UNIT[profile.unit];
  const [width, height] = [Number(settings.width) * mm, Number(settings.height) * mm];
  const repeat = width > 0 && height > 0 ? { width, height } : UNKNOWN_SIZE;
  const textures: Textures = {};
  const lay = (role: Role, raster: Raster) => {
    const [as, texture] = roleTexture(
      { role, channel: "color", normalDirection: profile.normalDirection, raster },
      { reduce: place.reduce(raster, repeat), wraps: place.wraps },
    );
    textures[as] = texture;
  };
  for (const output of profile.outputs) {
    const raster = await images.get(output.slot)?.();
    if (!raster) continue;
    if (output.kind === "packed")
      for (const [at, role] of output.channels.entries())
        lay(role, raster.channels < 3 ? raster : extractChannel(raster, at));
    else for (const [role, part] of partsOf(output, raster)) lay(role, part);
  }
  const finish = finishOf(profile, settings);
  return {
    textures,
    finish,
    repeat,
    heightMm: heightAmplitude(finish, settings.width === undefined ? null : repeat).mm,
    wear: await wearOf(profile, { images, settings }, place),
  };
}

/** An image, and what lies in its fourth channel. */
function partsOf(output: MapOutput, raster: Raster): [Role, Raster][] {
  const shown = output.inverted
    ? byCode({ ...raster, data: raster.data.slice() }, (value) => 1 - value)
    : raster;
  const hasAlpha = raster.channels === 2 || raster.channels === 4;
  if (!output.opacityInAlpha || !hasAlpha) return [[output.role, shown]];
  return [
    [output.role, shown],
    ["geometry_opacity", extractChannel(raster, raster.channels - 1)],
  ];
}

function finishOf(profile: Profile, settings: Package["settings"]): Finish {
  const values: Record<string, unknown> = {};
  for (const [field, name] of Object.entries(profile.values) as [FinishField, string][]) {
    const value = settings[name];
    if (value === undefined) continue;
    const facts = FINISH_VALUES[field];
    const isLength = facts.kind === "number" && facts.unit === "mm";
    values[field] = isLength ? Number(value) * MM_PER_UNIT[profile.unit] : value;
  }
  if (values.opacityThreshold !== undefined) values.opacityMode ??= "cut-out";
  const color = settings[ROLE_NAMES.base_color];
  if (typeof color === "string") values.color = color;
  const [roughness, gloss] = [settings[ROLE_NAMES.specular_roughness], settings[ROLE_NAMES.gloss]];
  if (typeof roughness === "number") values.roughness = roughness;
  if (typeof gloss === "number") values.roughness = 1 - gloss;
  const metalness = settings[ROLE_NAMES.base_metalness];
  if (typeof metalness === "number") values.metalness = metalness;
  // What is no value of the kind is not entered.
  const fitting = Object.entries(values).filter(
    ([field, value]) => finishSchema.safeParse({ [field]: value }).success,
  );
  return finishSchema.parse({
    ...Object.fromEntries(fitting),
    normalStrength: 1,
    occlusionStrength: 1,
    occlusionGamma: 1,
  });
}

/** Layers that the renderer lays on by itself: each map with what the sheet says of it. */
async function wearOf(
  { layers, unit }: Profile,
  { images, settings }: Package,
  place: Place,
): Promise<Laid[]> {
  if (!layers) return [];
  const laid: Laid[] = [];
  for (let n = 1; ; n++) {
    const name = `${layers.slot} ${n}`;
    const image = [...images].find(([slot]) => slot.startsWith(`${name},`))?.[1];
    const effect = WEAR_EFFECTS.find((one) => one === settings[`${name} effect`]);
    if (!image || !effect) return laid;
    const raster = await image();
    const length = (what: string) => Number(settings[`${name} ${what}`] ?? 0) * MM_PER_UNIT[unit];
    const size = { width: length("width"), height: length("height") };
    const turn = Number(settings[`${name} turned clockwise by, degrees`] ?? 0);
    const tint = settings[`${name} colour`];
    const [, texture] = roleTexture(
      { role: "wear_mask", channel: "color", normalDirection: null, raster },
      { reduce: place.reduce(raster, size), wraps: settings[`${name} repeats`] !== false },
    );
    laid.push({
      layer: {
        strength: Number(settings[`${name} strength`]),
        polarity: "light",
        effect,
        ...(typeof tint === "string" && { tint }),
        ...((turn === 90 || turn === 180 || turn === 270) && { turn }),
        start: { x: length("begins to the right at"), y: length("begins downwards at") },
      },
      texture,
      size,
    });
  }
}

/** Whether the pixels of an input are colours, as the renderer reads them. */
export const isColorInput = (profile: Profile, slot: string): boolean =>
  profile.outputs.some((output) => output.slot === slot && output.kind === "map" && isColorRole(output.role));
