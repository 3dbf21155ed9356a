import { JPEG_QUALITY } from "#core/convert/imageFormats";
import type { MapOutput, PackedOutput, Profile } from "#core/convert/profile";
import { containerKind, CONTAINER_NAMES } from "#core/formats/containers";
import { isColorRole, ROLE_NAMES, type Role } from "#core/roles/roles";

/** Something to be known of a renderer, in the words of whoever uses it, with what it can be. */
export interface Question {
  id: string;
  asks: string;
  /** Where to look for the answer, or what it is about. */
  hint?: string;
  options: readonly { value: string; says: string }[];
  /** Whether it is asked at all; always unless given. */
  applies?(profile: Profile): boolean;
  /** What a profile says already; `other` where it is none of the options. */
  read(profile: Profile): string;
  /** The profile with an answer; it may take something else with it. */
  answer(profile: Profile, value: string): Profile;
}

const mapOf = ({ outputs }: Profile, role: Role): MapOutput | undefined =>
  outputs.find((output): output is MapOutput => output.kind === "map" && output.role === role);
const packedOf = ({ outputs }: Profile): PackedOutput | undefined =>
  outputs.find((output) => output.kind === "packed");

const without = (profile: Profile, ...roles: Role[]): Profile => ({
  ...profile,
  outputs: profile.outputs.filter((output) => output.kind === "packed" || !roles.includes(output.role)),
});

const changed = (profile: Profile, role: Role, change: Partial<MapOutput>): Profile => ({
  ...profile,
  outputs: profile.outputs.map((output) =>
    output.kind === "map" && output.role === role ? { ...output, ...change } : output,
  ),
});

/** Which maps are read closely enough to want 16 bits. */
const RELIEF: readonly Role[] = ["geometry_normal", "height"];

type Group = "color" | "relief" | "data";
const groupOf = (role: Role): Group =>
  isColorRole(role) ? "color" : RELIEF.includes(role) ? "relief" : "data";

type File = Pick<MapOutput, "format" | "bitDepth">;

/** As the other maps of its group come. */
function fileOf(profile: Profile, group: Group): File {
  const like = profile.outputs.find(
    (output): output is MapOutput => output.kind === "map" && groupOf(output.role) === group,
  );
  if (like) return { format: like.format, bitDepth: like.bitDepth };
  const packed = packedOf(profile);
  if (packed && group === "data") return { format: packed.format, bitDepth: 8 };
  if (group === "relief") return { format: "png", bitDepth: 16 };
  return { format: group === "color" ? "jpeg" : "png", bitDepth: 8 };
}

const SUFFIXES: Partial<Record<Role, string>> = {
  base_color: "color",
  specular_roughness: "roughness",
  base_metalness: "metalness",
  geometry_normal: "normal",
  ambient_occlusion: "occlusion",
  geometry_opacity: "opacity",
  subsurface_color: "translucency",
  emission_color: "emission",
  specular_weight: "reflection",
  specular_color: "reflection-color",
  coat_weight: "coat",
  fuzz_weight: "fuzz",
  transmission_weight: "transmission",
};
const suffixOf = (role: Role) => SUFFIXES[role] ?? role;

/** A name that no other input has. */
function free(profile: Profile, wanted: string, of: "slot" | "suffix"): string {
  const names = new Set([
    ...profile.outputs.map((output) => output[of].toLowerCase()),
    ...(of === "slot" ? Object.values(profile.values).map((name) => name.toLowerCase()) : []),
  ]);
  let name = wanted;
  for (let n = 2; names.has(name.toLowerCase()); n++)
    name = of === "slot" ? `${wanted} ${n}` : `${wanted}-${n}`;
  return name;
}

/** An input of its own for a role. */
function withMap(profile: Profile, role: Role, change: Partial<MapOutput> = {}): Profile {
  if (mapOf(profile, role)) return changed(profile, role, change);
  const output: MapOutput = {
    kind: "map",
    slot: free(profile, ROLE_NAMES[role], "slot"),
    suffix: free(profile, suffixOf(role), "suffix"),
    role,
    ...fileOf(profile, groupOf(role)),
    multiplyOcclusion: false,
    opacityInAlpha: false,
    inverted: false,
    ...change,
  };
  return { ...profile, outputs: [...profile.outputs, output] };
}

/** The base color, which what goes with it needs. */
const withColor = (profile: Profile, change: Partial<MapOutput>) => withMap(profile, "base_color", change);

const inChannels = (profile: Profile, role: Role) => packedOf(profile)?.channels.includes(role) ?? false;
const isGlossy = (profile: Profile) => mapOf(profile, "gloss") !== undefined || inChannels(profile, "gloss");

function withChannels(profile: Profile, channels: PackedOutput["channels"] | undefined): Profile {
  const before = packedOf(profile);
  const rest: Profile = { ...profile, outputs: profile.outputs.filter(({ kind }) => kind !== "packed") };
  if (!channels) return rest;
  // What is packed has no input of its own besides.
  const alone = changed(without(rest, ...channels), "base_color", { multiplyOcclusion: false });
  const packed: PackedOutput = before
    ? { ...before, channels }
    : {
        kind: "packed",
        slot: free(alone, "packed", "slot"),
        suffix: free(alone, "packed", "suffix"),
        format: fileOf(profile, "data").format === "tiff" ? "tiff" : "png",
        channels,
      };
  return { ...alone, outputs: [...alone.outputs, packed] };
}

/** The orders of three maps in one image. */
const ORDERS = [
  ["ambient_occlusion", "specular_roughness", "base_metalness"],
  ["ambient_occlusion", "base_metalness", "specular_roughness"],
  ["specular_roughness", "base_metalness", "ambient_occlusion"],
  ["specular_roughness", "ambient_occlusion", "base_metalness"],
  ["base_metalness", "specular_roughness", "ambient_occlusion"],
  ["base_metalness", "ambient_occlusion", "specular_roughness"],
] as const satisfies Role[][];
const SHORT: Partial<Record<Role, string>> = {
  ambient_occlusion: "occlusion",
  specular_roughness: "shine",
  base_metalness: "metal",
};
const orderValue = (roles: readonly Role[]) => roles.map((role) => SHORT[role]).join("-");
const asRoughness = (role: Role): Role => (role === "gloss" ? "specular_roughness" : role);

const PACKING: Question = {
  id: "packing",
  asks: "Does one image hold several maps, one in each of its channels?",
  hint: "Then what lies in red, in green and in blue.",
  options: [
    { value: "none", says: "No: each map is an image of its own" },
    ...ORDERS.map((roles) => ({
      value: orderValue(roles),
      says: roles.map((role, at) => `${["red", "green", "blue"][at]} ${SHORT[role]}`).join(", "),
    })),
  ],
  read(profile) {
    const packed = packedOf(profile);
    if (!packed) return "none";
    const value = orderValue(packed.channels.map(asRoughness));
    return PACKING.options.some((option) => option.value === value) ? value : "other";
  },
  answer(profile, value) {
    const roles = ORDERS.find((order) => orderValue(order) === value);
    const shine: Role = isGlossy(profile) ? "gloss" : "specular_roughness";
    const channels = roles?.map((role) => (role === "specular_roughness" ? shine : role));
    if (channels) return withChannels(profile, channels as PackedOutput["channels"]);
    // What lay in its channels is not lost: each gets an input.
    const packed = packedOf(profile)?.channels ?? [];
    return packed.reduce((rest, role) => withMap(rest, role), withChannels(profile, undefined));
  },
};

const SHINE: Question = {
  id: "shine",
  asks: "How does it want to be told how shiny a surface is?",
  hint: "The input for it is bright where the surface is matt: roughness. Bright where it shines: gloss.",
  options: [
    { value: "roughness", says: "Roughness: bright is matt" },
    { value: "gloss", says: "Gloss: bright is shiny" },
    { value: "none", says: "No input for it" },
  ],
  read(profile) {
    if (isGlossy(profile)) return "gloss";
    const isRough = mapOf(profile, "specular_roughness") ?? inChannels(profile, "specular_roughness");
    return isRough ? "roughness" : "none";
  },
  answer(profile, value) {
    if (value === "none") {
      const packed = packedOf(profile);
      const isPacked = packed?.channels.some((role) => role === "gloss" || role === "specular_roughness");
      return without(isPacked ? PACKING.answer(profile, "none") : profile, "specular_roughness", "gloss");
    }
    const [wanted, other]: Role[] =
      value === "gloss" ? ["gloss", "specular_roughness"] : ["specular_roughness", "gloss"];
    const packed = packedOf(profile);
    if (packed && (inChannels(profile, wanted) || inChannels(profile, other)))
      return withChannels(
        profile,
        packed.channels.map((role) => (role === other ? wanted : role)) as PackedOutput["channels"],
      );
    const before = mapOf(profile, other);
    const input = before && { format: before.format, bitDepth: before.bitDepth };
    return withMap(without(profile, other), wanted, input);
  },
};

const NORMALS: Question = {
  id: "normals",
  asks: "Which way does green point in its normal maps?",
  hint: "Where joints stand out in place of in, it is the other way.",
  options: [
    { value: "up", says: "Up" },
    { value: "down", says: "Down" },
    { value: "none", says: "It takes no normal maps" },
  ],
  read: (profile) =>
    !mapOf(profile, "geometry_normal") ? "none" : profile.normalDirection === "+Y" ? "up" : "down",
  answer: (profile, value) =>
    value === "none"
      ? without(profile, "geometry_normal")
      : { ...withMap(profile, "geometry_normal"), normalDirection: value === "down" ? "-Y" : "+Y" },
};

const valuesWithout = ({ values }: Profile): Profile["values"] => {
  const { heightAmplitudeMm: _, heightMiddle: __, ...rest } = values;
  return rest;
};

const HEIGHT: Question = {
  id: "height",
  asks: "What does it do with a height map?",
  hint: "Really displaced, its amount is a length. A bump is only seen in the light, and often has no unit.",
  options: [
    { value: "amount-and-middle", says: "Displaced, by a length around a middle that is entered" },
    { value: "amount", says: "Displaced, by a length alone" },
    { value: "no-unit", says: "Displaced, by an amount without a unit" },
    { value: "bump", says: "Bump without a unit" },
    { value: "none", says: "It takes none" },
  ],
  read(profile) {
    if (mapOf(profile, "bump")) return "bump";
    if (!mapOf(profile, "height")) return "none";
    if (profile.values.heightAmplitudeMm === undefined) return "no-unit";
    return profile.values.heightMiddle === undefined ? "amount" : "amount-and-middle";
  },
  answer(profile, value) {
    const { heightAmplitudeMm, heightMiddle } = profile.values;
    const bare = { ...profile, values: valuesWithout(profile) };
    if (value === "none") return without(bare, "height", "bump");
    if (value === "bump") return withMap(without(bare, "height"), "bump");
    const displaced = withMap(without(bare, "bump"), "height");
    if (value === "no-unit") return displaced;
    return {
      ...displaced,
      values: {
        ...displaced.values,
        heightAmplitudeMm: heightAmplitudeMm ?? free(displaced, "height amount", "slot"),
        ...(value === "amount-and-middle" && {
          heightMiddle: heightMiddle ?? free(displaced, "height middle", "slot"),
        }),
      },
    };
  },
};

const OCCLUSION: Question = {
  id: "occlusion",
  asks: "Where does ambient occlusion go?",
  options: [
    { value: "own", says: "Into an input of its own" },
    { value: "packed", says: "Into a channel of the packed image" },
    { value: "color", says: "No input: multiply it into the colour" },
    { value: "none", says: "Nowhere" },
  ],
  read(profile) {
    if (inChannels(profile, "ambient_occlusion")) return "packed";
    if (mapOf(profile, "ambient_occlusion")) return "own";
    return mapOf(profile, "base_color")?.multiplyOcclusion ? "color" : "none";
  },
  answer(profile, value) {
    if (value === "packed")
      return inChannels(profile, "ambient_occlusion")
        ? profile
        : PACKING.answer(profile, "occlusion-shine-metal");
    const open = inChannels(profile, "ambient_occlusion") ? PACKING.answer(profile, "none") : profile;
    const bare = changed(without(open, "ambient_occlusion"), "base_color", { multiplyOcclusion: false });
    if (value === "own") return withMap(bare, "ambient_occlusion");
    return value === "color" ? withColor(bare, { multiplyOcclusion: true }) : bare;
  },
};

const OPACITY: Question = {
  id: "opacity",
  asks: "How is something cut out?",
  options: [
    { value: "own", says: "By an image that is bright where something is" },
    { value: "transparency", says: "By an image that is bright where nothing is: transparency" },
    { value: "alpha", says: "By the fourth channel of the colour" },
    { value: "none", says: "Not at all" },
  ],
  read(profile) {
    const own = mapOf(profile, "geometry_opacity");
    if (own) return own.inverted ? "transparency" : "own";
    return mapOf(profile, "base_color")?.opacityInAlpha ? "alpha" : "none";
  },
  answer(profile, value) {
    const bare = changed(
      value === "own" || value === "transparency" ? profile : without(profile, "geometry_opacity"),
      "base_color",
      { opacityInAlpha: false },
    );
    if (value === "none") return bare;
    if (value === "alpha") return withColor(bare, { opacityInAlpha: true });
    return withMap(bare, "geometry_opacity", { inverted: value === "transparency" });
  },
};

const METAL: Question = {
  id: "metal",
  asks: "Is it told where something is metal?",
  options: [
    { value: "own", says: "By an image of its own" },
    { value: "packed", says: "By a channel of the packed image" },
    { value: "none", says: "No" },
  ],
  read(profile) {
    if (inChannels(profile, "base_metalness")) return "packed";
    return mapOf(profile, "base_metalness") ? "own" : "none";
  },
  answer(profile, value) {
    const isPacked = inChannels(profile, "base_metalness");
    if (value === "packed") return isPacked ? profile : PACKING.answer(profile, "occlusion-shine-metal");
    const open = isPacked ? PACKING.answer(profile, "none") : profile;
    return value === "own" ? withMap(open, "base_metalness") : without(open, "base_metalness");
  },
};

const FILES: Record<string, File & { says: string }> = {
  jpeg: { format: "jpeg", bitDepth: 8, says: "JPEG" },
  png: { format: "png", bitDepth: 8, says: "PNG, 8 bits" },
  png16: { format: "png", bitDepth: 16, says: "PNG, 16 bits" },
  webp: { format: "webp", bitDepth: 8, says: "WebP without loss" },
  tiff: { format: "tiff", bitDepth: 8, says: "TIFF, 8 bits" },
  tiff16: { format: "tiff", bitDepth: 16, says: "TIFF, 16 bits" },
  exr16: { format: "exr", bitDepth: 16, says: "OpenEXR, 16-bit half" },
  exr32: { format: "exr", bitDepth: 32, says: "OpenEXR, 32-bit float" },
};
const fileValue = ({ format, bitDepth }: File) => (bitDepth === 8 ? format : `${format}${bitDepth}`);

const filesOf = (group: Group, asks: string, kinds: string[], hint?: string): Question => ({
  id: `${group}-files`,
  asks,
  ...(hint && { hint }),
  options: kinds.map((value) => ({ value, says: FILES[value].says })),
  applies: ({ outputs }) =>
    outputs.some((output) => (output.kind === "map" ? groupOf(output.role) === group : group === "data")),
  read(profile) {
    const found = new Set(
      profile.outputs.flatMap((output) =>
        output.kind === "packed"
          ? group === "data"
            ? [fileValue({ ...output, bitDepth: 8 })]
            : []
          : groupOf(output.role) === group
            ? [fileValue(output)]
            : [],
      ),
    );
    if (found.size > 1) return "other";
    const [value] = found;
    return value ?? fileValue(fileOf(profile, group));
  },
  answer(profile, value) {
    const { format, bitDepth } = FILES[value];
    return {
      ...profile,
      outputs: profile.outputs.map((output) => {
        if (output.kind === "packed") return group === "data" ? { ...output, format } : output;
        return groupOf(output.role) === group ? { ...output, format, bitDepth } : output;
      }),
    };
  },
});

const SIZES = [16384, 8192, 4096, 2048, 1024, 512];

const QUALITIES = [
  [100, "As little as a JPEG can (quality 100)"],
  [JPEG_QUALITY, `Nothing that is seen (${JPEG_QUALITY})`],
  [85, "A little, for somewhat more than half the bytes (85)"],
  [75, "What is seen close up, for 40 % of them (75)"],
] as const;

const JPEG: Question = {
  id: "jpeg-quality",
  asks: "How much may its JPEG files lose?",
  options: QUALITIES.map(([value, says]) => ({ value: String(value), says })),
  applies: ({ outputs, layers }) =>
    outputs.some(({ format }) => format === "jpeg") || layers?.format === "jpeg",
  read: ({ jpegQuality }) =>
    QUALITIES.some(([value]) => value === jpegQuality) ? String(jpegQuality) : "other",
  answer: (profile, value) => ({ ...profile, jpegQuality: Number(value) }),
};

const LARGEST: Question = {
  id: "largest",
  asks: "How large may an image be?",
  options: [
    { value: "any", says: "As large as it is" },
    ...SIZES.map((size) => ({ value: String(size), says: `${size} px at most` })),
  ],
  read({ maxPixels }) {
    if (maxPixels === null) return "any";
    return SIZES.includes(maxPixels) ? String(maxPixels) : "other";
  },
  answer: (profile, value) => ({ ...profile, maxPixels: value === "any" ? null : Number(value) }),
};

const UNIT: Question = {
  id: "unit",
  asks: "In which unit are sizes entered?",
  options: [
    { value: "mm", says: "Millimetres" },
    { value: "cm", says: "Centimetres" },
    { value: "m", says: "Metres" },
    { value: "in", says: "Inches" },
  ],
  read: ({ unit }) => unit,
  answer: (profile, value) => ({ ...profile, unit: value as Profile["unit"] }),
};

const TAG: Question = {
  id: "tag",
  asks: "Does it ask colour files which colours they hold?",
  hint: "Data files never carry anything of the kind.",
  options: [
    { value: "none", says: "No: it takes them as they are" },
    { value: "icc", says: "Yes: they carry an sRGB profile (8 bits)" },
  ],
  read: ({ colorTag }) => colorTag,
  answer: (profile, value) => ({ ...profile, colorTag: value as Profile["colorTag"] }),
};

const WEAR: Question = {
  id: "wear",
  asks: "Can it lay stains and scuffs over a material by itself, in a size of their own?",
  hint: "Otherwise they are worked into the images.",
  options: [
    { value: "yes", says: "Yes" },
    { value: "no", says: "No" },
  ],
  read: ({ layers }) => (layers ? "yes" : "no"),
  answer: (profile, value) => ({
    ...profile,
    layers:
      value === "no"
        ? null
        : (profile.layers ?? {
            effects: ["rougher", "smoother", "tint"],
            slot: "wear",
            suffix: "wear",
            format: fileOf(profile, "data").format,
          }),
  }),
};

const leavesFinish = (delivers: Profile["delivers"]): boolean =>
  delivers !== "images" && containerKind(delivers).leavesFinish === true;

const FINISH: Question = {
  id: "finish",
  asks: "Where does a finish go: tint, brightness, contrast, and what is done to a roughness?",
  hint: "Nodes can still be turned at the receiving end. What has to come before something else stays in the images, and the plan says so.",
  options: [
    { value: "images", says: "Into the images" },
    { value: "nodes", says: "Into nodes of the material file, and the images stay as received" },
  ],
  applies: ({ delivers }) => leavesFinish(delivers),
  read: ({ finishIn }) => finishIn,
  answer: (profile, value) => ({ ...profile, finishIn: value as Profile["finishIn"] }),
};

const MATERIAL_FILE: Question = {
  id: "material-file",
  asks: "Does it read a material file, in which images and values are wired up already?",
  options: [
    { value: "images", says: "No: it gets images, and a sheet of values" },
    ...CONTAINER_NAMES.map((value) => ({ value, says: `Yes: ${containerKind(value).name}` })),
  ],
  read: ({ delivers }) => delivers,
  answer(profile, value) {
    const delivers = value as Profile["delivers"];
    return { ...profile, delivers, finishIn: leavesFinish(delivers) ? profile.finishIn : "images" };
  },
};

const PROOF: Question = {
  id: "proof",
  asks: "Is each delivery proved: drawn from its files as this renderer reads them, and compared with its material?",
  options: [
    { value: "yes", says: "Yes, once the files are there" },
    { value: "no", says: "No" },
  ],
  read: ({ isProved }) => (isProved ? "yes" : "no"),
  answer: (profile, value) => ({ ...profile, isProved: value === "yes" }),
};

/** What some renderers have an input for, and many do not. */
export const MORE_MAPS = [
  "subsurface_color",
  "emission_color",
  "transmission_weight",
  "specular_weight",
  "specular_color",
  "coat_weight",
  "fuzz_weight",
] as const satisfies Role[];

/** Whether a renderer has an input for a map, for those that it may do without. */
export const takesMap = (profile: Profile, role: Role): boolean => mapOf(profile, role) !== undefined;
export const withOrWithoutMap = (profile: Profile, role: Role, takes: boolean): Profile =>
  takes ? withMap(profile, role) : without(profile, role);

/** In the order in which they are asked. */
export const QUESTIONS: readonly Question[] = [
  MATERIAL_FILE,
  FINISH,
  SHINE,
  NORMALS,
  HEIGHT,
  OCCLUSION,
  OPACITY,
  METAL,
  PACKING,
  filesOf("color", "Which files does it take for colours?", ["jpeg", "png", "webp", "tiff"]),
  filesOf(
    "relief",
    "And for normals and heights?",
    ["png", "png16", "tiff", "tiff16", "exr16", "exr32", "jpeg"],
    "16 bits keep smooth slopes smooth.",
  ),
  filesOf("data", "And for the other maps?", ["png", "webp", "tiff", "jpeg"]),
  JPEG,
  TAG,
  LARGEST,
  UNIT,
  WEAR,
  PROOF,
];
