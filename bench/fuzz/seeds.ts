import sharp from "sharp";
import { DataTexture, FloatType, HalfFloatType, RGBAFormat } from "three";
import {
  EXRExporter,
  NO_COMPRESSION,
  ZIP_COMPRESSION,
  ZIPS_COMPRESSION,
} from "three/examples/jsm/exporters/EXRExporter.js";
import { DEFAULT_FINISH } from "#core/finish/finish";
import { writeGlb } from "#core/formats/writeGlb";
import { SHEET_NAME } from "#core/supply/productSheet";
import { zipOf } from "#server/testing/testStudio";
import { tiffOf } from "#server/testing/tiffOf";

/** A whole file of one format, made here, that mutants are made of. */
export interface Seed {
  kind: string;
  ending: string;
  bytes: Buffer;
}

const SIDE = 24;
const noise = { type: "gaussian" as const, mean: 120, sigma: 40 };
const image = (channels: 3 | 4 = 3) =>
  sharp({
    create: {
      width: SIDE,
      height: SIDE,
      channels,
      background: { r: 1, g: 2, b: 3, alpha: 0.5 },
      noise: channels === 3 ? noise : undefined,
    },
  });

async function exr(type: typeof FloatType | typeof HalfFloatType, compression: number): Promise<Buffer> {
  const data = new Float32Array(SIDE * SIDE * 4).map((_, i) => (i % 17) / 17);
  const texture = new DataTexture(data, SIDE, SIDE, RGBAFormat, FloatType);
  return Buffer.from(await new EXRExporter().parse(texture, { type, compression }));
}

function bmp(): Buffer {
  const row = Math.ceil((SIDE * 3) / 4) * 4;
  const file = Buffer.alloc(54 + row * SIDE, 0x55);
  file.fill(0, 0, 54);
  file.write("BM", "latin1");
  file.writeUInt32LE(file.length, 2);
  file.writeUInt32LE(54, 10);
  file.writeUInt32LE(40, 14);
  file.writeInt32LE(SIDE, 18);
  file.writeInt32LE(SIDE, 22);
  file.writeUInt16LE(1, 26);
  file.writeUInt16LE(24, 28);
  return file;
}

/** Uncompressed, or with runs. */
function tga(runs: boolean): Buffer {
  const head = Buffer.alloc(18);
  head.writeUInt8(runs ? 10 : 2, 2);
  head.writeUInt16LE(SIDE, 12);
  head.writeUInt16LE(SIDE, 14);
  head.writeUInt8(24, 16);
  if (!runs) return Buffer.concat([head, Buffer.alloc(SIDE * SIDE * 3, 0x66)]);
  const packet = Buffer.from([0x80 | (SIDE - 1), 10, 20, 30]);
  return Buffer.concat([head, ...Array<Buffer>(SIDE).fill(packet)]);
}

function radiance(): Buffer {
  const pixels = Buffer.alloc(SIDE * SIDE * 4, 0x80);
  return Buffer.concat([
    Buffer.from(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${SIDE} +X ${SIDE}\n`),
    pixels,
  ]);
}

const USDA = `#usda 1.0
(
    defaultPrim = "World"
    metersPerUnit = 1
)
def Xform "World" {
    def Material "Wall" {
        token outputs:surface.connect = </World/Wall/s.outputs:surface>
        def Shader "s" {
            uniform token info:id = "UsdPreviewSurface"
            color3f inputs:diffuseColor.connect = </World/Wall/t.outputs:rgb>
            float inputs:roughness = 0.5
        }
        def Shader "t" {
            uniform token info:id = "UsdUVTexture"
            asset inputs:file = @wall.png@
        }
    }
}
`;
const MTLX = `<?xml version="1.0"?><materialx version="1.38" fileprefix="tex/"><nodegraph name="g"><image name="i" type="color3"><input name="file" type="filename" value="wall.png"/></image><output name="o" type="color3" nodename="i"/></nodegraph><standard_surface name="s" type="surfaceshader"><input name="base_color" type="color3" nodegraph="g" output="o"/><input name="specular_roughness" type="float" value="0.4"/></standard_surface><surfacematerial name="m" type="material"><input name="surfaceshader" type="surfaceshader" nodename="s"/></surfacematerial></materialx>`;
const OBJ =
  "mtllib wall.mtl\nv 0 0 0\nv 4 0 0\nv 4 2 0\nvt 0 0\nvt 4 0\nvt 4 2\nusemtl Wall\nf 1/1 2/2 3/3\n";
const MTL = "newmtl Wall\nKd 0.5 0.4 0.3\nPr 0.7\nmap_Kd -s 2 2 1 wall.png\nnorm wall_n.png\n";
const LICENCE =
  "This texture is licensed under the Creative Commons Attribution licence (CC BY 4.0). You must credit: A. Maker.\n";

function gltf(embedded: Buffer): Buffer {
  const uri = `data:image/png;base64,${embedded.toString("base64")}`;
  const json = {
    asset: { version: "2.0" },
    images: [{ uri }, { uri: "wall.png" }],
    textures: [{ source: 0 }, { source: 1 }],
    materials: [
      { name: "Wall", pbrMetallicRoughness: { baseColorTexture: { index: 0 } }, normalTexture: { index: 1 } },
    ],
  };
  return Buffer.from(JSON.stringify(json));
}

const sheet = () =>
  Buffer.from(
    JSON.stringify({
      sheet: 1,
      supplier: { name: "A maker", page: "https://maker.example/" },
      line: {
        ...{
          name: "Line",
          family: "brick",
          text: "Words.",
          page: "https://maker.example/line",
          layout: "plain",
        },
        licence: { name: "Free", price: "free", credit: null },
        properties: { grade: null, use: [], frost: null, slip: null, fire: null, thicknessMm: null },
        ...{ workSize: null, jointMm: null, coverSize: null, picture: null },
      },
      products: [
        {
          code: "A-1",
          name: "Red",
          variant: {},
          color: "#aa3322",
          sheen: 10,
          heightAmplitudeMm: 2,
          files: [],
        },
      ],
    }),
  );

export async function seeds(): Promise<Seed[]> {
  const png = await image().png().toBuffer();
  const glb = Buffer.from(
    await writeGlb({
      name: "Wall",
      repeat: { width: 900, height: 600 },
      finish: DEFAULT_FINISH,
      images: [{ role: "base_color", bytes: new Uint8Array(png), mimeType: "image/png" }],
    } as never),
  );
  const inner = await zipOf({ "deep_basecolor.png": png });
  const floats = new Float32Array(SIDE * SIDE).map((_, i) => i / 100);
  const seed = (kind: string, ending: string, bytes: Buffer): Seed => ({ kind, ending, bytes });
  return [
    seed("png", ".png", png),
    seed("png", ".png", await image(4).png({ palette: true }).toBuffer()),
    seed("png", ".png", await image().toColourspace("rgb16").png().toBuffer()),
    seed("jpeg", ".jpg", await image().jpeg().toBuffer()),
    seed("jpeg", ".jpg", await image().jpeg({ progressive: true }).toBuffer()),
    seed("tiff", ".tif", await image().tiff({ compression: "deflate", predictor: "horizontal" }).toBuffer()),
    seed("tiff", ".tif", await image().tiff({ compression: "lzw", tile: true }).toBuffer()),
    seed("float tiff", ".tiff", tiffOf([{ width: SIDE, height: SIDE, data: floats }])),
    seed("webp", ".webp", await image().webp({ lossless: true }).toBuffer()),
    seed("webp", ".webp", await image().webp().toBuffer()),
    seed("avif", ".avif", await image().avif({ effort: 0 }).toBuffer()),
    seed("tga", ".tga", tga(false)),
    seed("tga", ".tga", tga(true)),
    seed("bmp", ".bmp", bmp()),
    seed("exr", ".exr", await exr(FloatType, NO_COMPRESSION)),
    seed("exr", ".exr", await exr(HalfFloatType, ZIP_COMPRESSION)),
    seed("exr", ".exr", await exr(FloatType, ZIPS_COMPRESSION)),
    seed("hdr", ".hdr", radiance()),
    seed("glb", ".glb", glb),
    seed("gltf", ".gltf", gltf(png)),
    seed("obj", ".obj", Buffer.from(OBJ)),
    seed("mtl", ".mtl", Buffer.from(MTL)),
    seed("materialx", ".mtlx", Buffer.from(MTLX)),
    seed("usd", ".usda", Buffer.from(USDA)),
    seed("licence", "_license.txt", Buffer.from(LICENCE)),
    seed(
      "zip",
      ".zip",
      await zipOf({ "wall_basecolor.png": png, "wall_roughness.png": png, "read me.txt": "words" }),
    ),
    seed(
      "zip",
      ".zip",
      await zipOf({ "m/wall.obj": OBJ, "m/wall.mtl": MTL, "m/wall.png": png, "license.txt": LICENCE }),
    ),
    seed("zip", ".zip", await zipOf({ "inner.zip": inner, [`s/${SHEET_NAME}`]: sheet() })),
    seed("zip", ".zip", await zipOf({ "a_basecolor.png": png }, { compress: false })),
  ];
}
