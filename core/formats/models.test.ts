import { describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import { finishSchema } from "#core/finish/finish";
import { metresPerUv } from "#core/formats/metresPerUv";
import { resolvePath } from "#core/formats/modelMaterial";
import { readGltf } from "#core/formats/readGltf";
import { readIfc } from "#core/formats/readIfc";
import { readMaterialX } from "#core/formats/readMaterialX";
import { readObj } from "#core/formats/readObj";
import { readUsd } from "#core/formats/readUsd";
import { writeGlb } from "#core/formats/writeGlb";

const nothing = () => Promise.resolve(undefined);
const png = async () => ({
  bytes: new Uint8Array(
    await sharp({ create: { width: 4, height: 4, channels: 3, background: "#885533" } })
      .png()
      .toBuffer(),
  ),
  mimeType: "image/png" as const,
});
const json = (value: unknown) => new TextEncoder().encode(JSON.stringify(value));

describe("metres for one unit of UV", () => {
  const quad = (width: number, height: number, u: number, v: number) => {
    const [a, b, c, d] = [
      [0, 0, 0],
      [width, 0, 0],
      [width, height, 0],
      [0, height, 0],
    ];
    const [ta, tb, tc, td] = [
      [0, 0],
      [u, 0],
      [u, v],
      [0, v],
    ];
    return [
      {
        positions: [a, b, c] as [number[], number[], number[]],
        uvs: [ta, tb, tc] as [number[], number[], number[]],
      },
      {
        positions: [a, c, d] as [number[], number[], number[]],
        uvs: [ta, tc, td] as [number[], number[], number[]],
      },
    ];
  };
  test("each direction on its own, by the median of the area", () => {
    expect(metresPerUv(quad(3, 2, 6, 2))).toEqual({ u: 0.5, v: 1 });
    expect(metresPerUv([...quad(4, 4, 4, 4), ...quad(0.1, 0.1, 9, 9)])).toEqual({ u: 1, v: 1 });
    expect(metresPerUv(quad(1, 1, 0, 0))).toBeNull();
    expect(metresPerUv([])).toBeNull();
  });
});

test("paths stay inside the download", () => {
  expect(resolvePath("scene/chair.gltf", "tex/../oak.png")).toBe("scene/oak.png");
  expect(resolvePath("scene/chair.gltf", "../tex\\oak.png")).toBe("tex/oak.png");
  expect(resolvePath("scene/chair.gltf", "../../etc/passwd")).toBeUndefined();
  expect(resolvePath("chair.gltf", "/etc/passwd")).toBeUndefined();
  expect(resolvePath("chair.gltf", "https://host.example/x.png")).toBeUndefined();
  expect(resolvePath("chair.gltf", "C:\\x.png")).toBeUndefined();
});

describe("glTF", () => {
  test("a GLB of our own gives its maps and the repeat that it was made with", async () => {
    const bytes = await writeGlb({
      name: "Paving",
      repeat: { width: 812, height: 824 },
      finish: finishSchema.parse({}),
      baseColor: { ...(await png()) },
      packed: { ...(await png()), hasOcclusion: true },
      normal: await png(),
    } as Parameters<typeof writeGlb>[0]);
    const { materials, problems } = await readGltf("paving.glb", bytes, nothing);
    expect(problems).toEqual([]);
    expect(materials).toHaveLength(1);
    expect(materials[0].repeat!.width).toBeCloseTo(812, 3);
    expect(materials[0].repeat!.height).toBeCloseTo(824, 3);
    expect(materials[0].maps.map(({ role, channel }) => `${role} ${channel}`).sort()).toEqual([
      "ambient_occlusion red",
      "base_color color",
      "base_metalness blue",
      "geometry_normal color",
      "specular_roughness green",
    ]);
    expect(materials[0].maps.every(({ image }) => "bytes" in image && image.bytes[1] === 0x50)).toBe(true);
  });

  test("files that lie, are missing or lead out are said, and the rest is read", async () => {
    const { materials, problems } = await readGltf(
      "in/chair.gltf",
      json({
        asset: { version: "2.0" },
        buffers: [{ byteLength: 2 ** 31, uri: "chair.bin" }],
        images: [{ uri: "../../../secret.png" }, { uri: "oak.png" }],
        textures: [{ source: 0 }, { source: 1 }],
        materials: [
          { name: "Out", pbrMetallicRoughness: { baseColorTexture: { index: 0 } } },
          {
            name: "Oak",
            pbrMetallicRoughness: { baseColorTexture: { index: 1 }, roughnessFactor: 7 },
            normalTexture: { index: 9 },
          },
        ],
      }),
      () => Promise.resolve(new Uint8Array(10)),
    );
    expect(problems.join(" ")).toMatch(
      /says that it has 2147483648 bytes and has 10.*outside the download.*does not have/,
    );
    expect(materials.map(({ maps }) => maps.length)).toEqual([0, 1]);
    expect(materials[1].maps[0].image).toEqual({ path: "in/oak.png" });
    expect(materials[1].values.roughness).toBe(1);
  });

  test.each([
    ["nothing", new Uint8Array()],
    ["a text", new TextEncoder().encode("glTF but not really, only words")],
    ["an old version", json({ asset: { version: "1.0" } })],
    ["null", json(null)],
  ])("%s is refused in words", async (_, bytes) => {
    await expect(readGltf("x.gltf", bytes, nothing)).rejects.toThrow("no glTF 2.0 model");
  });
});

describe("OBJ with MTL", () => {
  const OBJ = `mtllib wall.mtl
v 0 0 0\nv 4 0 0\nv 4 2 0\nv 0 2 0
vt 0 0\nvt 2 0\nvt 2 1\nvt 0 1
usemtl brick
f 1/1 2/2 3/3 4/4`;
  test("maps, values and the metres of a repeat, with the scale of the map", async () => {
    const MTL =
      "newmtl brick\nKd 1 0 0\nPr 0.25\nPc 0\nPcr 0\nPs 0.5\nNi 1\nmap_Kd -s 2 2 1 textures/brick.png\nmap_Bump -bm 0.5 textures/brick_b.png\nmap_Ks ../../../x.png";
    const { materials, problems } = await readObj("model/wall.obj", OBJ, (path) =>
      Promise.resolve(path === "model/wall.mtl" ? MTL : undefined),
    );
    expect(materials[0]).toMatchObject({
      name: "brick",
      repeat: { width: 1000, height: 1000 },
      maps: [
        { role: "base_color", image: { path: "model/textures/brick.png" } },
        { role: "bump", image: { path: "model/textures/brick_b.png" } },
      ],
    });
    // What shows nothing is no value.
    expect(materials[0].values).toEqual({ color: "#ff0000", roughness: 0.25, fuzzWeight: 0.5 });
    expect(problems[0]).toContain("outside the download");
  });

  test("a missing library is said", async () => {
    expect((await readObj("wall.obj", OBJ, nothing)).problems[0]).toContain("missing");
    expect((await readObj("x.obj", "f 1 2 3\nf a/b c/d -9/-9", nothing)).materials).toEqual([]);
  });
});

describe("MaterialX", () => {
  const doc = (inside: string) =>
    `<?xml version="1.0"?><materialx version="1.39" fileprefix="maps/">${inside}</materialx>`;

  test("OpenPBR with images through a graph, a channel taken, a value, and a real size", () => {
    const { materials, problems } = readMaterialX(
      "oak.mtlx",
      doc(`<nodegraph name="g">
          <tiledimage name="c" type="color3"><input name="file" type="filename" value="oak_c.png" colorspace="srgb_texture"/><input name="realworldimagesize" type="vector2" value="0.9, 0.45" unittype="distance" unit="meter"/></tiledimage>
          <image name="orm" type="color3"><input name="file" type="filename" value="oak_orm.png"/></image>
          <extract name="e" type="float"><input name="in" type="color3" nodename="orm"/><input name="index" type="integer" value="1"/></extract>
          <image name="n" type="vector3"><input name="file" type="filename" value="oak_n.png"/></image>
          <normalmap name="nm" type="vector3"><input name="in" type="vector3" nodename="n"/></normalmap>
          <output name="co" type="color3" nodename="c"/><output name="ro" type="float" nodename="e"/><output name="no" type="vector3" nodename="nm"/>
        </nodegraph>
        <open_pbr_surface name="s" type="surfaceshader">
          <input name="base_color" type="color3" nodegraph="g" output="co"/>
          <input name="specular_roughness" type="float" nodegraph="g" output="ro"/>
          <input name="geometry_normal" type="vector3" nodegraph="g" output="no"/>
          <input name="base_metalness" type="float" value="0.75"/>
        </open_pbr_surface>
        <surfacematerial name="Oak" type="material"><input name="surfaceshader" type="surfaceshader" nodename="s"/></surfacematerial>`),
    );
    expect(problems).toEqual([]);
    expect(materials).toEqual([
      {
        name: "Oak",
        values: { metalness: 0.75 },
        repeat: { width: 900, height: 450 },
        maps: [
          { role: "base_color", channel: "color", colorSpace: "srgb", image: { path: "maps/oak_c.png" } },
          {
            role: "specular_roughness",
            channel: "green",
            colorSpace: "raw",
            image: { path: "maps/oak_orm.png" },
          },
          {
            role: "geometry_normal",
            channel: "color",
            colorSpace: "raw",
            normalDirection: "+Y",
            image: { path: "maps/oak_n.png" },
          },
        ],
      },
    ]);
  });

  test("a surface of which everything is written says only what changes something", () => {
    const input = (name: string, type: string, value: string) =>
      `<input name="${name}" type="${type}" value="${value}"/>`;
    const { materials } = readMaterialX(
      "x.mtlx",
      doc(`<standard_surface name="s" type="surfaceshader">
        ${input("base_color", "color3", "0.2, 0.2, 0.2")}${input("specular", "float", "1")}
        ${input("specular_color", "color3", "1, 1, 1")}${input("specular_IOR", "float", "1.45")}
        ${input("coat", "float", "0")}${input("coat_roughness", "float", "0.1")}${input("coat_IOR", "float", "9")}
        ${input("sheen", "float", "0.5")}${input("sheen_color", "color3", "1, 0, 0")}
        ${input("emission", "float", "0")}${input("emission_color", "color3", "1, 1, 1")}
        ${input("transmission", "float", "none")}${input("thin_walled", "boolean", "false")}
        </standard_surface>`),
    );
    expect(materials[0].values).toEqual({
      color: "#7c7c7c",
      ior: 1.45,
      fuzzWeight: 0.5,
      fuzzColor: "#ff0000",
    });
  });

  test("names that every object has mean nothing", () => {
    const words = ["constructor", "__proto__", "toString"];
    const { materials } = readMaterialX(
      "x.mtlx",
      doc(`<image name="i" type="color3"><input name="file" type="filename" value="a.png"/>
        <input name="realworldimagesize" type="vector2" value="1, 1" unit="constructor"/></image>
        <open_pbr_surface name="s" type="surfaceshader">
        ${words.map((word) => `<input name="${word}" type="float" value="0.5"/><input name="${word}" type="color3" nodename="i"/>`).join("")}
        <input name="base_color" type="color3" nodename="i"/></open_pbr_surface>`),
    );
    expect(materials[0]).toMatchObject({ values: {}, repeat: null });
    expect(materials[0].maps.map(({ role }) => role)).toEqual(["base_color"]);
  });

  test("a circle ends, entities are refused, and what is no document is said", () => {
    const circle = readMaterialX(
      "x.mtlx",
      doc(`<multiply name="a" type="color3"><input name="in1" type="color3" nodename="b"/></multiply>
        <multiply name="b" type="color3"><input name="in1" type="color3" nodename="a"/></multiply>
        <standard_surface name="s" type="surfaceshader"><input name="base_color" type="color3" nodename="a"/></standard_surface>`),
    );
    expect(circle.problems[0]).toContain("circle");
    expect(() =>
      readMaterialX("x.mtlx", `<!DOCTYPE m [<!ENTITY x SYSTEM "file:///etc/passwd">]><materialx/>`),
    ).toThrow("entities");
    expect(() => readMaterialX("x.mtlx", "<html/>")).toThrow("no MaterialX");
    expect(readMaterialX("x.mtlx", doc("")).problems[0]).toContain("no standard surface");
  });
});

describe("OpenUSD in text form", () => {
  const LAYER = `#usda 1.0
def Xform "Root" (
    kind = "component"
) {
    def Material "Slate" {
        token outputs:surface.connect = </Root/Slate/P.outputs:surface>
        def Shader "P" {
            uniform token info:id = "UsdPreviewSurface"
            color3f inputs:diffuseColor.connect = </Root/Slate/C.outputs:rgb> # the colour
            float inputs:roughness.connect = </Root/Slate/R.outputs:g>
            float inputs:metallic = 0.5
        }
        def Shader "C" {
            uniform token info:id = "UsdUVTexture"
            asset inputs:file = @./tex/slate_#1.png@
        }
        def Shader "R" {
            uniform token info:id = "UsdUVTexture"
            asset inputs:file = @../../../outside.png@
        }
    }
}`;
  test("images by their channel, values, and what leads out", () => {
    const { materials, problems } = readUsd("slate.usda", LAYER.replace("_#1", "_1"));
    expect(materials).toEqual([
      {
        name: "Slate",
        repeat: null,
        values: { metalness: 0.5 },
        maps: [{ role: "base_color", channel: "color", image: { path: "tex/slate_1.png" } }],
      },
    ]);
    expect(problems[0]).toContain("outside the download");
  });

  test("unclosed braces and other texts end", () => {
    expect(readUsd("x.usda", `#usda 1.0\ndef Material "A" {{{{ "`).materials).toEqual([]);
    expect(() => readUsd("x.usda", "PXR-USDC")).toThrow("text form");
  });
});

describe("IFC", () => {
  const file = (body: string) =>
    `ISO-10303-21;\nHEADER;FILE_SCHEMA(('IFC4'));ENDSEC;\nDATA;\n${body}\nENDSEC;`;
  const STYLE = String.raw`#1=IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.);
    #10=IFCSURFACESTYLE('Klinker \X2\00E4\X0\ ''rot''',.BOTH.,(#11,#12));
    #11=IFCSURFACESTYLERENDERING(#13,0.,$,$,$,$,$,IFCSPECULARROUGHNESS(0.25),.METAL.);
    #12=IFCSURFACESTYLEWITHTEXTURES((#20,#21,#22));
    #13=IFCCOLOURRGB($,1.,0.,0.5);
    #20=IFCIMAGETEXTURE(.T.,.T.,'TEXTURE',#30,$,'tex/brick.png');
    #21=IFCIMAGETEXTURE(.T.,.T.,'BUMP',#30,$,'../../secret.png');
    #22=IFCIMAGETEXTURE(.T.,.T.,'SPARKLE',$,$,'tex/other.png');
    #30=IFCCARTESIANTRANSFORMATIONOPERATOR2D($,$,#31,2.);
    #40=IFCCARTESIANPOINTLIST3D(((0.,0.,0.),(3000.,0.,0.),(0.,3000.,0.)));
    #41=IFCTRIANGULATEDFACESET(#40,$,.T.,((1,2,3)),$);
    #42=IFCTEXTUREVERTEXLIST(((0.,0.),(3.,0.),(0.,6.)));
    #43=IFCINDEXEDTRIANGLETEXTUREMAP((#20),#41,#42,((1,2,3)));`;

  test("a style with its images, values and size, and what is wrong with it in words", () => {
    const { materials, problems } = readIfc("house/a.ifc", file(STYLE));
    expect(materials).toEqual([
      {
        name: "Klinker ä 'rot'",
        maps: [{ role: "base_color", channel: "color", image: { path: "house/tex/brick.png" } }],
        values: { color: "#ff0080", roughness: 0.25, metalness: 1 },
        // A unit of the coordinates is 1 m by 0.5 m; the texture repeats twice within it.
        repeat: { width: 500, height: 250 },
      },
    ]);
    expect(problems).toEqual([
      expect.stringMatching(/outside the download \(..\/..\/secret.png\)/),
      expect.stringMatching(/for “SPARKLE”, which is not known/),
    ]);
  });

  test("what refers to nothing, to itself, or to something else is left out", () => {
    const broken = `#1=IFCSURFACESTYLE($,.BOTH.,(#2,#1,#99,'x'));#2=IFCSURFACESTYLEWITHTEXTURES((#1,#3));
      #3=IFCIMAGETEXTURE(.T.,.T.,'NORMAL',#3,$,'n.png');#4=IFCINDEXEDTRIANGLETEXTUREMAP((#3),#4,#4,((1,2,9)));`;
    const { materials } = readIfc("a.ifc", file(broken));
    expect(materials).toHaveLength(1);
    expect(materials[0]).toMatchObject({ name: "Material", values: {}, repeat: null });
    expect(materials[0].maps.map(({ role }) => role)).toEqual(["geometry_normal"]);
    expect(() => readIfc("a.ifc", "solid stl")).toThrow(/no IFC file/);
    expect(readIfc("a.ifc", file("")).problems).toEqual(["It has no surface styles."]);
  });
});

describe("the size that an OpenUSD layer tells", () => {
  const layer = (mesh: string, head = "metersPerUnit = 0.1") => `#usda 1.0
( ${head} )
def Xform "World" {
  def Material "Oak" {
    def Shader "S" { uniform token info:id = "UsdPreviewSurface"
      color3f inputs:diffuseColor.connect = </World/Oak/T.outputs:rgb> }
    def Shader "T" { uniform token info:id = "UsdUVTexture"
      asset inputs:file = @oak.png@
      float2 inputs:st.connect = </World/Oak/P.outputs:result> }
    def Shader "P" { uniform token info:id = "UsdTransform2d"
      float2 inputs:scale = (2, 4) }
  }
  def Mesh "M" { rel material:binding = </World/Oak>
    ${mesh} }
}`;
  const QUAD = `int[] faceVertexCounts = [4]
    int[] faceVertexIndices = [0, 1, 2, 3]
    point3f[] points = [(0,0,0), (10,0,0), (10,20,0), (0,20,0)]`;
  const sizeOf = (text: string) => readUsd("a.usda", text).materials[0].repeat;

  test("is that of its meshes, by point or by corner, in its unit", () => {
    const byPoint = `${QUAD} texCoord2f[] primvars:st = [(0,0), (1,0), (1,1), (0,1)]`;
    // 1 m by 2 m a unit of the coordinates, which repeat twice and four times.
    expect(sizeOf(layer(byPoint))).toEqual({ width: 500, height: 500 });
    expect(sizeOf(layer(byPoint, "upAxis = 'Y'"))).toEqual({ width: 50, height: 50 });
    const byCorner = `int[] faceVertexCounts = [3, 3]
      int[] faceVertexIndices = [0, 1, 2, 0, 2, 3]
      point3f[] points = [(0,0,0), (10,0,0), (10,20,0), (0,20,0)]
      texCoord2f[] primvars:st = [(0,0), (2,0), (2,2), (0,2)]
      int[] primvars:st:indices = [0, 1, 2, 0, 2, 3]`;
    expect(sizeOf(layer(byCorner))!.width).toBeCloseTo(250, 6);
  });

  test("is none where there is nothing to tell it, or that is broken", () => {
    expect(sizeOf(layer(QUAD))).toBeNull();
    expect(sizeOf(layer("int[] faceVertexCounts = [9000000000]\n point3f[] points = [1,2]"))).toBeNull();
    expect(sizeOf(layer(`${QUAD} texCoord2f[] primvars:st = [(0,0), (0,0), (0,0), (0,0)]`))).toBeNull();
  });
});
