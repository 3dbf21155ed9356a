import { EMITS_NITS, type FinishField } from "#core/finish/finish";
import type { ContainedMaterial, ContainerImage, ContainerKind, EncodedImage } from "#core/formats/container";
import {
  colorOf,
  digits,
  identifier,
  imageOf,
  linearOf,
  roughnessOf,
  textFile,
} from "#core/formats/valuesBeside";
import type { Role } from "#core/roles/roles";

/** The statements that name an image; those after the fifth are the widespread lines for physically based shading. */
const STATEMENTS = {
  base_color: "map_Kd",
  geometry_opacity: "map_d",
  emission_color: "map_Ke",
  height: "disp",
  bump: "bump",
  specular_roughness: "map_Pr",
  base_metalness: "map_Pm",
  geometry_normal: "norm",
} as const satisfies Partial<Record<Role, string>>;
type StatementRole = keyof typeof STATEMENTS;
const hasStatement = (role: Role | null): role is StatementRole => role !== null && role in STATEMENTS;

const VALUES: readonly FinishField[] = [
  "ior",
  "coatWeight",
  "coatRoughness",
  "fuzzWeight",
  "emissionNits",
  "emissionColor",
];

const takes = ({ role, channels }: ContainerImage): boolean => channels === null && hasStatement(role);

/**
 * A material library of OBJ, with the lines for physically based shading, and a flat sample of one metre; images beside it, each scaled
 * (`-s`) from metres to repeats. Colours are linear numbers; 100 cd/m² are an emission of 1.
 */
export const MTL: ContainerKind = {
  name: "OBJ with MTL",
  extension: "mtl",
  images: "beside",
  formats: ["png", "jpeg", "tiff", "webp"],
  hasThreshold: false,
  takes,
  carries: (field) => VALUES.includes(field),
  async write(material, images) {
    return [
      {
        extension: "mtl",
        mediaType: "model/mtl",
        bytes: textFile(libraryOf(material, images.filter(takes))),
      },
      { extension: "obj", mediaType: "model/obj", bytes: textFile(sampleOf(material)) },
    ];
  },
};

function libraryOf(material: ContainedMaterial, images: EncodedImage[]): string {
  const { finish, repeat } = material;
  const shows = (role: Role) => imageOf(images, role) !== undefined;
  const color = shows("base_color") ? [1, 1, 1] : (colorOf(finish) ?? [0.8, 0.8, 0.8]);
  const list = [
    `newmtl ${identifier(material.fileName)}`,
    "illum 2",
    `Kd ${color.map(digits).join(" ")}`,
    `Ni ${digits(finish.ior)}`,
    `Pr ${digits(shows("specular_roughness") ? 1 : roughnessOf(finish))}`,
    `Pm ${digits(shows("base_metalness") ? 1 : finish.metalness)}`,
  ];
  const number = (word: string, value: number | undefined) => {
    if (value !== undefined) list.push(`${word} ${digits(value)}`);
  };
  number("Pc", finish.coatWeight);
  number("Pcr", finish.coatRoughness);
  number("Ps", finish.fuzzWeight);
  const nits = finish.emissionNits ?? (shows("emission_color") ? EMITS_NITS : undefined);
  if (nits !== undefined) {
    const emitted = (shows("emission_color") ? undefined : linearOf(finish.emissionColor)) ?? [1, 1, 1];
    list.push(`Ke ${emitted.map((value) => digits((value * nits) / 100)).join(" ")}`);
  }
  const scale = repeat ? `-s ${digits(1000 / repeat.width)} ${digits(1000 / repeat.height)} 1 ` : "";
  for (const { role, fileName } of images)
    if (hasStatement(role)) list.push(`${STATEMENTS[role]} ${scale}${fileName}`);
  return `# Written by Kalonomy. One unit of the coordinates is one metre.\n${list.join("\n")}\n`;
}

/** A square of one metre in the x–y plane, facing +z. */
function sampleOf({ fileName }: ContainedMaterial): string {
  const name = identifier(fileName);
  return `# Written by Kalonomy. Lengths are metres.
mtllib ${fileName}.mtl
o ${name}
v -0.5 -0.5 0
v 0.5 -0.5 0
v 0.5 0.5 0
v -0.5 0.5 0
vt 0 0
vt 1 0
vt 1 1
vt 0 1
vn 0 0 1
usemtl ${name}
f 1/1/1 2/2/1 3/3/1
f 1/1/1 3/3/1 4/4/1
`;
}
