import { ENTERED_VALUES } from "#core/finish/enteredValues";
import { EMITS_NITS, type FinishField } from "#core/finish/finish";
import type { ContainedMaterial, ContainerImage, ContainerKind, EncodedImage } from "#core/formats/container";
import { usdNetwork } from "#core/formats/usdNetwork";
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

/** Inputs of the preview surface that take an image: their type, and which of its outputs. */
const INPUTS = {
  base_color: { input: "diffuseColor", type: "color3f", output: "rgb" },
  base_metalness: { input: "metallic", type: "float", output: "r" },
  specular_roughness: { input: "roughness", type: "float", output: "r" },
  geometry_normal: { input: "normal", type: "normal3f", output: "rgb" },
  height: { input: "displacement", type: "float", output: "r" },
  ambient_occlusion: { input: "occlusion", type: "float", output: "r" },
  geometry_opacity: { input: "opacity", type: "float", output: "r" },
  emission_color: { input: "emissiveColor", type: "color3f", output: "rgb" },
  coat_weight: { input: "clearcoat", type: "float", output: "r" },
} as const satisfies Partial<Record<Role, { input: string; type: string; output: string }>>;
type InputRole = keyof typeof INPUTS;
const isInput = (role: Role | null): role is InputRole => role !== null && role in INPUTS;

const VALUES: readonly FinishField[] = [
  "ior",
  "coatWeight",
  "coatRoughness",
  "emissionNits",
  "emissionColor",
  "opacityMode",
  "opacityThreshold",
  "heightAmplitudeMm",
  "heightMiddle",
];

/** What the MaterialX surface beside it has an input for. */
const NETWORK_VALUES: readonly FinishField[] = ENTERED_VALUES.filter((field) => !VALUES.includes(field));

const takes = ({ role, channels }: ContainerImage): boolean => channels === null && isInput(role);

/** Side of the flat sample in metres. */
const SAMPLE = 1;

/**
 * An OpenUSD layer in text form with a preview surface: images beside it, coordinates of one metre a unit that are scaled to the repeat,
 * and a flat sample of one metre. 100 cd/m² are an emission of 1, since the surface knows no unit.
 */
export const USDA: ContainerKind = {
  name: "OpenUSD layer",
  extension: "usda",
  images: "beside",
  formats: ["png", "jpeg"],
  hasThreshold: true,
  takes,
  carries: (field) => VALUES.includes(field),
  inSecond: (field) =>
    NETWORK_VALUES.includes(field)
      ? "the preview surface has no input for it, only the MaterialX surface beside it in the file"
      : undefined,
  async write(material, images) {
    const bytes = textFile(layerOf(material, images.filter(takes)));
    return [{ extension: "usda", mediaType: "model/vnd.usda", bytes }];
  },
};

function layerOf(material: ContainedMaterial, images: EncodedImage[]): string {
  const name = identifier(material.fileName);
  // Called after itself: programs list a layer's materials by this name.
  const path = `/${name}/${name}`;
  const texture = (image: EncodedImage) => `${path}/${image.role!}`;
  const surface = images.flatMap((image) => {
    if (!isInput(image.role) || image.role === "height") return [];
    const { input, type, output } = INPUTS[image.role];
    return [`${type} inputs:${input}.connect = <${texture(image)}.outputs:${output}>`];
  });
  const network = usdNetwork(material, images, path);
  const height = imageOf(images, "height");
  if (height) surface.push(`float inputs:displacement.connect = <${texture(height)}.outputs:r>`);
  return `#usda 1.0
(
    defaultPrim = "${name}"
    metersPerUnit = 1
    upAxis = "Y"
)

def Xform "${name}" (
    kind = "component"
)
{
    def Material "${name}"
    {
        token outputs:surface.connect = <${path}/Surface.outputs:surface>
${height ? `        token outputs:displacement.connect = <${path}/Surface.outputs:displacement>\n` : ""}${network.outputs.join("\n")}

        def Shader "Surface"
        {
            uniform token info:id = "UsdPreviewSurface"
${lines([...surface, ...values(material, images)])}
            token outputs:surface
${height ? "            token outputs:displacement\n" : ""}        }

        def Shader "Coordinates"
        {
            uniform token info:id = "UsdPrimvarReader_float2"
            string inputs:varname = "st"
            float2 outputs:result
        }

        def Shader "Place"
        {
            uniform token info:id = "UsdTransform2d"
            float2 inputs:in.connect = <${path}/Coordinates.outputs:result>
            float2 inputs:scale = (${scaleOf(material).map(digits).join(", ")})
            float2 outputs:result
        }
${images.map((image) => textureShader(image, material, path)).join("")}${network.prim}    }

${sample(path)}}
`;
}

const lines = (all: string[]) => all.map((line) => `            ${line}`).join("\n");

const scaleOf = ({ repeat }: ContainedMaterial): [number, number] =>
  repeat ? [1000 / repeat.width, 1000 / repeat.height] : [1, 1];

function textureShader(image: EncodedImage, { finish, heightMm }: ContainedMaterial, path: string): string {
  const { role, fileName } = image;
  if (!isInput(role)) return "";
  const { type, output } = INPUTS[role];
  const isColor = type === "color3f";
  const metres = heightMm / 1000;
  // Read as scale × value + bias.
  const change =
    role === "geometry_normal"
      ? ["float4 inputs:scale = (2, 2, 2, 1)", "float4 inputs:bias = (-1, -1, -1, 0)"]
      : role === "height"
        ? [
            `float4 inputs:scale = (${[metres, metres, metres, 1].map(digits).join(", ")})`,
            `float4 inputs:bias = (${[1, 1, 1].map(() => digits(-finish.heightMiddle * metres)).join(", ")}, 0)`,
          ]
        : role === "emission_color"
          ? [emissionScale(finish.emissionNits ?? EMITS_NITS)]
          : [];
  return `
        def Shader "${role}"
        {
            uniform token info:id = "UsdUVTexture"
            asset inputs:file = @./${fileName}@
            float2 inputs:st.connect = <${path}/Place.outputs:result>
            token inputs:wrapS = "repeat"
            token inputs:wrapT = "repeat"
            token inputs:sourceColorSpace = "${isColor ? "sRGB" : "raw"}"
${lines([...change, output === "rgb" ? "float3 outputs:rgb" : "float outputs:r"])}
        }
`;
}

const emissionScale = (nits: number) =>
  `float4 inputs:scale = (${[nits / 100, nits / 100, nits / 100, 1].map(digits).join(", ")})`;

function values({ finish }: ContainedMaterial, images: EncodedImage[]): string[] {
  const shows = (role: Role) => imageOf(images, role) !== undefined;
  const list: string[] = [];
  const color = colorOf(finish);
  const tuple = (rgb: readonly number[]) => `(${rgb.map(digits).join(", ")})`;
  if (!shows("base_color") && color) list.push(`color3f inputs:diffuseColor = ${tuple(color)}`);
  if (!shows("base_metalness")) list.push(`float inputs:metallic = ${digits(finish.metalness)}`);
  if (!shows("specular_roughness")) list.push(`float inputs:roughness = ${digits(roughnessOf(finish))}`);
  list.push(`float inputs:ior = ${digits(finish.ior)}`);
  if (!shows("coat_weight") && finish.coatWeight !== undefined)
    list.push(`float inputs:clearcoat = ${digits(finish.coatWeight)}`);
  if (finish.coatRoughness !== undefined)
    list.push(`float inputs:clearcoatRoughness = ${digits(finish.coatRoughness)}`);
  if (shows("geometry_opacity") && finish.opacityMode === "cut-out")
    list.push(`float inputs:opacityThreshold = ${digits(finish.opacityThreshold ?? 0.5)}`);
  if (!shows("emission_color") && finish.emissionNits !== undefined) {
    const emitted = linearOf(finish.emissionColor) ?? [1, 1, 1];
    list.push(
      `color3f inputs:emissiveColor = ${tuple(emitted.map((value) => (value * finish.emissionNits!) / 100))}`,
    );
  }
  return list;
}

/** A square of one metre, whose coordinates are metres. */
const sample = (path: string) => {
  const h = SAMPLE / 2;
  return `    def Mesh "Sample" (
        prepend apiSchemas = ["MaterialBindingAPI"]
    )
    {
        rel material:binding = <${path}>
        int[] faceVertexCounts = [4]
        int[] faceVertexIndices = [0, 1, 2, 3]
        point3f[] points = [(${-h}, ${-h}, 0), (${h}, ${-h}, 0), (${h}, ${h}, 0), (${-h}, ${h}, 0)]
        normal3f[] normals = [(0, 0, 1), (0, 0, 1), (0, 0, 1), (0, 0, 1)] (
            interpolation = "vertex"
        )
        texCoord2f[] primvars:st = [(0, 0), (${SAMPLE}, 0), (${SAMPLE}, ${SAMPLE}), (0, ${SAMPLE})] (
            interpolation = "vertex"
        )
        uniform token subdivisionScheme = "none"
    }
`;
};
