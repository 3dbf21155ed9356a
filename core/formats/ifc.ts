import type { MaterialFacts } from "#core/finish/material";
import type { ContainedMaterial, ContainerImage, ContainerKind, EncodedImage } from "#core/formats/container";
import { colorOf, imageOf, roughnessOf, textFile } from "#core/formats/valuesBeside";
import { linearToSrgb } from "#core/raster/srgb";
import type { Role } from "#core/roles/roles";

/** The modes of textures: those of IFC 4.3 where it has one, and of the enumeration before it. */
const MODES = {
  base_color: "DIFFUSE",
  geometry_normal: "NORMAL",
  ambient_occlusion: "OCCLUSION",
  emission_color: "EMISSIVE",
  geometry_opacity: "OPACITY",
  height: "BUMP",
} as const satisfies Partial<Record<Role, string>>;
type ModeRole = keyof typeof MODES;
const hasMode = (role: Role | null): role is ModeRole => role !== null && role in MODES;

/** Occlusion, roughness and metalness in red, green and blue, as IFC 4.3 has it from glTF. */
const PACKED: readonly Role[] = ["ambient_occlusion", "specular_roughness", "base_metalness"];
const isPacked = ({ channels }: ContainerImage): boolean =>
  channels?.every((role, at) => role === null || role === PACKED[at]) ?? false;

/** What an image is used for: an occlusion map in the red of a packed one lights as well. */
function modesOf(image: ContainerImage): string[] {
  const { role, channels } = image;
  if (channels === null) return hasMode(role) ? [MODES[role]] : [];
  if (!isPacked(image)) return [];
  return ["METALLICROUGHNESS", ...(channels[0] === null ? [] : [MODES.ambient_occlusion])];
}

const takes = (image: ContainerImage): boolean => modesOf(image).length > 0;

/**
 * An IFC 4 file (ISO 16739-1) in metres: a surface style with its textures at their real size, a material layer with its thickness, what is
 * known of the product, and all of it on a sample slab of one metre. Colours are written as they are encoded, which the standard leaves open.
 */
export const IFC: ContainerKind = {
  name: "IFC 4",
  extension: "ifc",
  images: "beside",
  formats: ["png", "jpeg"],
  hasThreshold: false,
  takes,
  carries: (field) => field === "ior",
  async write(material, images) {
    const bytes = textFile(fileOf(material, images.filter(takes)));
    return [{ extension: "ifc", mediaType: "application/x-step", bytes }];
  },
};

/** A layer whose thickness nobody knows is 0 thick; the slab that shows it still has to be seen. */
const SAMPLE_THICK_M = 0.02;

function fileOf(material: ContainedMaterial, images: EncodedImage[]): string {
  const { name, fileName, facts } = material;
  const lines: string[] = [];
  /** @returns the reference of what was written */
  const put = (entity: string, ...values: string[]) => {
    lines.push(`#${lines.length + 1}=${entity}(${values.join(",")});`);
    return `#${lines.length}`;
  };
  const rooted = (entity: string, what: string, ...values: string[]) =>
    put(entity, text(globalId(`${fileName} ${what}`)), NONE, ...values);
  const point = (...at: number[]) => put("IFCCARTESIANPOINT", listOf(at.map(real)));

  const origin = put("IFCAXIS2PLACEMENT3D", point(0, 0, 0), NONE, NONE);
  const context = put(
    "IFCGEOMETRICREPRESENTATIONCONTEXT",
    NONE,
    text("Model"),
    "3",
    real(1e-5),
    origin,
    NONE,
  );
  const units = put(
    "IFCUNITASSIGNMENT",
    listOf(
      (
        [
          ["LENGTHUNIT", "METRE"],
          ["AREAUNIT", "SQUARE_METRE"],
          ["VOLUMEUNIT", "CUBIC_METRE"],
          ["PLANEANGLEUNIT", "RADIAN"],
        ] as const
      ).map(([kind, unit]) => put("IFCSIUNIT", "*", `.${kind}.`, NONE, `.${unit}.`)),
    ),
  );
  const project = rooted(
    "IFCPROJECT",
    "project",
    text(name),
    NONE,
    NONE,
    NONE,
    NONE,
    listOf([context]),
    units,
  );
  const placement = put("IFCLOCALPLACEMENT", NONE, origin);
  const building = rooted(
    "IFCBUILDING",
    "building",
    text("Samples"),
    ...[NONE, NONE, placement, NONE, NONE],
    ".ELEMENT.",
    ...[NONE, NONE, NONE],
  );
  rooted("IFCRELAGGREGATES", "parts", NONE, NONE, project, listOf([building]));

  const textures = texturesOf(material, images, put, point);
  const style = styleOf(material, textures, images, put);
  const thickM = (facts?.thicknessMm ?? 0) / 1000;
  const body = slabBody(thickM || SAMPLE_THICK_M, textures, put);
  put("IFCSTYLEDITEM", body, listOf([style]), NONE);
  const shape = put(
    "IFCPRODUCTDEFINITIONSHAPE",
    ...[NONE, NONE],
    listOf([put("IFCSHAPEREPRESENTATION", context, text("Body"), text("Tessellation"), listOf([body]))]),
  );
  const slab = rooted(
    "IFCSLAB",
    "slab",
    text(name),
    ...[NONE, NONE, put("IFCLOCALPLACEMENT", placement, origin), shape, NONE],
    ".FLOOR.",
  );
  rooted("IFCRELCONTAINEDINSPATIALSTRUCTURE", "place", NONE, NONE, listOf([slab]), building);

  const made = put("IFCMATERIAL", text(name), NONE, NONE);
  const styled = put("IFCSTYLEDITEM", NONE, listOf([style]), NONE);
  put(
    "IFCMATERIALDEFINITIONREPRESENTATION",
    ...[NONE, NONE],
    listOf([put("IFCSTYLEDREPRESENTATION", context, text("Style"), text("Material"), listOf([styled]))]),
    made,
  );
  const known = factLines(facts).map(([what, value]) =>
    put("IFCPROPERTYSINGLEVALUE", text(what), NONE, value, NONE),
  );
  if (known.length > 0) put("IFCMATERIALPROPERTIES", text("Product"), NONE, listOf(known), made);
  const layer = put("IFCMATERIALLAYER", made, real(thickM), NONE, text(name), NONE, NONE, NONE);
  const layers = put("IFCMATERIALLAYERSET", listOf([layer]), text(name), NONE);
  const usage = put("IFCMATERIALLAYERSETUSAGE", layers, ".AXIS3.", ".POSITIVE.", real(0), NONE);
  rooted("IFCRELASSOCIATESMATERIAL", "material", NONE, NONE, listOf([slab]), usage);

  return `ISO-10303-21;
HEADER;
FILE_DESCRIPTION(('A material on a sample slab of one metre'),'2;1');
FILE_NAME(${text(`${fileName}.ifc`)},'',(''),(''),'','Kalonomy','');
FILE_SCHEMA(('IFC4'));
ENDSEC;
DATA;
${lines.join("\n")}
ENDSEC;
END-ISO-10303-21;
`;
}

type Put = (entity: string, ...values: string[]) => string;

/** Each scaled from metres to repeats. @returns their references */
function texturesOf(
  { repeat }: ContainedMaterial,
  images: EncodedImage[],
  put: Put,
  point: (...at: number[]) => string,
): string[] {
  if (images.length === 0) return [];
  const scale = repeat
    ? put(
        "IFCCARTESIANTRANSFORMATIONOPERATOR2DNONUNIFORM",
        ...[NONE, NONE, point(0, 0)],
        real(1000 / repeat.width),
        real(1000 / repeat.height),
      )
    : NONE;
  return images.flatMap((image) =>
    modesOf(image).map((mode) =>
      put("IFCIMAGETEXTURE", ".T.", ".T.", text(mode), scale, NONE, text(image.fileName)),
    ),
  );
}

function styleOf(
  { name, finish }: ContainedMaterial,
  textures: string[],
  images: EncodedImage[],
  put: Put,
): string {
  const color = (imageOf(images, "base_color") ? undefined : colorOf(finish)) ?? [1, 1, 1];
  const shown = put("IFCCOLOURRGB", NONE, ...color.map((value) => real(linearToSrgb(value))));
  const rendering = put(
    "IFCSURFACESTYLERENDERING",
    ...[shown, real(0), NONE, NONE, NONE, NONE, NONE],
    images.some(isPacked) ? NONE : `IFCSPECULARROUGHNESS(${real(roughnessOf(finish))})`,
    !images.some(isPacked) && finish.metalness > 0.5 ? ".METAL." : ".NOTDEFINED.",
  );
  const parts = [rendering, put("IFCSURFACESTYLEREFRACTION", real(finish.ior), NONE)];
  if (textures.length > 0) parts.push(put("IFCSURFACESTYLEWITHTEXTURES", listOf(textures)));
  return put("IFCSURFACESTYLE", text(name), ".BOTH.", listOf(parts));
}

/** A slab of one metre from below its upper face, with coordinates of textures in metres as they lie on that. */
function slabBody(thickM: number, textures: string[], put: Put): string {
  const corners = [-thickM, 0].flatMap((z) => [
    [-0.5, -0.5, z],
    [0.5, -0.5, z],
    [0.5, 0.5, z],
    [-0.5, 0.5, z],
  ]);
  const points = put("IFCCARTESIANPOINTLIST3D", listOf(corners.map((corner) => listOf(corner.map(real)))));
  const faces = [
    [5, 6, 7],
    [5, 7, 8],
    [1, 3, 2],
    [1, 4, 3],
    [1, 2, 6],
    [1, 6, 5],
    [2, 3, 7],
    [2, 7, 6],
    [3, 4, 8],
    [3, 8, 7],
    [4, 1, 5],
    [4, 5, 8],
  ];
  const indices = listOf(faces.map((face) => listOf(face.map(String))));
  const body = put("IFCTRIANGULATEDFACESET", points, NONE, ".T.", indices, NONE);
  if (textures.length > 0) {
    const vertices = put(
      "IFCTEXTUREVERTEXLIST",
      listOf(corners.map(([x, y]) => listOf([real(x + 0.5), real(y + 0.5)]))),
    );
    put("IFCINDEXEDTRIANGLETEXTUREMAP", listOf(textures), body, vertices, indices);
  }
  return body;
}

function factLines(facts: MaterialFacts | undefined): [string, string][] {
  if (!facts) return [];
  const words: [string, string | null][] = [
    ["Supplier", facts.supplier],
    ["Product", facts.product],
    ["Product code", facts.productCode],
    ["Page", facts.page],
    ["Frost resistance (EN 771-1)", facts.frost],
    ["Slip resistance (DIN 51130)", facts.slip],
    ["Reaction to fire (EN 13501-1)", facts.fire],
  ];
  const lines = words.flatMap(([what, value]): [string, string][] =>
    // A label holds no more than 255 characters.
    value === null ? [] : [[what, `${value.length > 255 ? "IFCTEXT" : "IFCLABEL"}(${text(value)})`]],
  );
  if (facts.thicknessMm !== null)
    lines.push(["Thickness", `IFCLENGTHMEASURE(${real(facts.thicknessMm / 1000)})`]);
  return lines;
}

const NONE = "$";
const listOf = (values: string[]) => `(${values.join(",")})`;

/** A number of ISO 10303-21 always has its point. */
function real(value: number): string {
  const [whole, exponent] = Number(value.toPrecision(9)).toString().split("e");
  const dotted = whole.includes(".") ? whole : `${whole}.`;
  return exponent === undefined ? dotted : `${dotted}E${Number(exponent)}`;
}

/** A string of ISO 10303-21: what is not plain ASCII as UTF-16 in hexadecimal. */
function text(value: string): string {
  const escaped = value
    .replaceAll(/\p{Cc}/gu, " ")
    .replaceAll("\\", "\\\\")
    .replaceAll("'", "''")
    .replaceAll(/[^ -~]+/g, (run) => {
      const units = Array.from({ length: run.length }, (_, at) =>
        run.charCodeAt(at).toString(16).toUpperCase().padStart(4, "0"),
      );
      return `\\X2\\${units.join("")}\\X0\\`;
    });
  return `'${escaped}'`;
}

const DIGITS = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz_$";

/** An identifier of 22 digits that is the same for the same words, and another one for others. */
function globalId(words: string): string {
  let [a, b] = [0x811c9dc5, 0x9e3779b9];
  const id: string[] = [];
  for (let digit = 0; digit < 22; digit++) {
    for (let at = 0; at < words.length; at++) {
      a = Math.imul(a ^ words.charCodeAt(at), 0x01000193) >>> 0;
      b = Math.imul(b ^ (a >>> 7) ^ digit, 0x85ebca6b) >>> 0;
    }
    // The first one has two bits: 128 in all.
    id.push(DIGITS[((a ^ (b >>> 11)) >>> 0) % (digit === 0 ? 4 : 64)]);
  }
  return id.join("");
}
