import { describe, expect, test } from "@jest/globals";
import { readIfc } from "#core/formats/readIfc";
import { readMaterialX } from "#core/formats/readMaterialX";
import { readObj } from "#core/formats/readObj";
import { readUsd } from "#core/formats/readUsd";

const nothing = () => Promise.resolve(undefined);

/**
 * Readers are linear: four times the text takes about four times as long, and never sixteen. The counted time is the least of
 * several runs, so that a busy machine does not count.
 */
async function growth(read: (text: string) => unknown, make: (size: number) => string): Promise<number> {
  const least = async (text: string) => {
    let best = Infinity;
    for (let n = 0; n < 4; n++) {
      const start = performance.now();
      await Promise.resolve()
        .then(() => read(text))
        .catch(() => undefined);
      best = Math.min(best, performance.now() - start);
    }
    return best;
  };
  await least(make(2000));
  let ratio = Infinity;
  // What is not linear is so each time; a machine that was busy is quieter the next.
  for (let round = 0; round < 3 && ratio > 16; round++) {
    const [small, large] = [await least(make(50_000)), await least(make(400_000))];
    ratio = Math.min(ratio, large / Math.max(small, 0.5));
  }
  return ratio;
}

const usda = (body: string) => `#usda 1.0\n${body}`;

describe("hostile text takes time in proportion to its length", () => {
  test.each([
    ["spaces", (n: number) => " ".repeat(n)],
    ["open strings", (n: number) => '"a\\'.repeat(n / 3)],
    ["long open strings", (n: number) => `${'"""'.repeat(n / 3)}`],
    ["open assets", (n: number) => "@ ".repeat(n / 2)],
    ["open paths", (n: number) => "<".repeat(n)],
    ["open paths on lines", (n: number) => "<a\n".repeat(n / 3)],
    ["headers without bodies", (n: number) => 'def M "a" ('.repeat(n / 11)],
    ["headers", (n: number) => "def ".repeat(n / 4)],
    ["braces", (n: number) => 'def M "a" {'.repeat(n / 11)],
    ["brackets", (n: number) => "[(".repeat(n / 2)],
    ["values", (n: number) => "a = (1, ".repeat(n / 8)],
    ["hashes", (n: number) => "#".repeat(n)],
  ])("OpenUSD with many %s", async (_, make) => {
    expect(
      await growth(
        (text) => readUsd("a.usda", text),
        (n) => usda(make(n)),
      ),
    ).toBeLessThan(30);
  });

  test.each([
    ["libraries", (n: number) => "mtllib a.mtl\n".repeat(n / 13)],
    ["lines", (n: number) => "\n".repeat(n)],
    ["spaces", (n: number) => `v ${" ".repeat(n)}`],
    ["faces without points", (n: number) => "f 1/1 2/2 3/3\n".repeat(n / 14)],
  ])("OBJ with many %s", async (_, make) => {
    expect(await growth((text) => readObj("a.obj", text, nothing), make)).toBeLessThan(30);
  });

  test.each([
    ["open texts", (n: number) => "#1=IFCSURFACESTYLE('".repeat(n / 20)],
    ["open lists", (n: number) => `#1=IFCSURFACESTYLE(${"(".repeat(n)}`],
    ["typed values", (n: number) => `#1=IFCSURFACESTYLE(${"A(".repeat(n / 2)}`],
    ["records that are passed over", (n: number) => "#1=IFCWALL('a;',$);\n".repeat(n / 19)],
    ["records without an end", (n: number) => "#1=IFCWALL(".repeat(n / 11)],
    ["hashes", (n: number) => "#1 ".repeat(n / 3)],
    ["digits", (n: number) => `#${"1".repeat(n)}`],
    ["marks of letters", (n: number) => `#1=IFCSURFACESTYLE('${"\\X2\\00".repeat(n / 6)}');`],
    [
      "textures of one style",
      (n: number) =>
        `#1=IFCSURFACESTYLE('a',.BOTH.,(#2));#2=IFCSURFACESTYLEWITHTEXTURES((${"#3,".repeat(n / 3)}));#3=IFCIMAGETEXTURE(.T.,.T.,'DIFFUSE',$,$,'../a.png');`,
    ],
  ])("IFC with many %s", async (_, make) => {
    expect(
      await growth(
        (text) => readIfc("a.ifc", text),
        (n) => `ISO-10303-21;DATA;${make(n)}`,
      ),
    ).toBeLessThan(30);
  });

  test.each([
    [
      "numbers of a mesh",
      (n: number) =>
        `def Mesh "m" { rel material:binding = </a>\n point3f[] points = [${"1,".repeat(n / 2)}]\n int[] faceVertexCounts = [${"3,".repeat(n / 20)}]\n int[] faceVertexIndices = [${"0,".repeat(n / 7)}]\n float2[] primvars:st = [${"1,".repeat(n / 4)}] }`,
    ],
    [
      "meshes",
      (n: number) =>
        'def Mesh "m" { rel material:binding = </a>\n point3f[] points = [0,0,0] }\n'.repeat(n / 70),
    ],
  ])("OpenUSD with many %s", async (_, make) => {
    expect(
      await growth(
        (text) => readUsd("a.usda", text),
        (n) => usda(make(n)),
      ),
    ).toBeLessThan(30);
  });

  test("MaterialX with many inputs of one graph", async () => {
    const make = (n: number) => {
      const nodes = Array.from({ length: n / 200 }, (_, i) => `<image name="n${i}" type="color3"/>`).join("");
      const inputs = Array.from(
        { length: n / 200 },
        (_, i) => `<input name="base_color" type="color3" nodegraph="g" output="o${i}"/>`,
      ).join("");
      return `<materialx><nodegraph name="g">${nodes}<output name="o" nodename="n1"/></nodegraph><standard_surface name="s">${inputs}</standard_surface></materialx>`;
    };
    expect(await growth((text) => readMaterialX("a.mtlx", text), make)).toBeLessThan(60);
  });
});

test("a library that is named a thousand times is read once", async () => {
  let asked = 0;
  const { materials } = await readObj("a.obj", "mtllib a.mtl\n".repeat(1000), () => {
    asked++;
    return Promise.resolve("newmtl Wall\nmap_Kd wall.png\n".repeat(50));
  });
  expect(asked).toBe(1);
  expect(materials).toHaveLength(50);
});

test("prims that lie deeper than anything real does are left out, and what follows is read", () => {
  const deep = `${'def Xform "x" {'.repeat(500)}def Material "Lost" {}${"}".repeat(500)}`;
  const shader = (name: string, body: string) => `def Shader "${name}" {${body}}`;
  const material = `def Material "Found" {
    ${shader("s", 'uniform token info:id = "UsdPreviewSurface"\n color3f inputs:diffuseColor.connect = </Found/t.outputs:rgb>')}
    ${shader("t", 'uniform token info:id = "UsdUVTexture"\n asset inputs:file = @wall.png@')} }`;
  expect(readUsd("a.usda", usda(deep + material)).materials).toMatchObject([
    { name: "Found", maps: [{ role: "base_color", image: { path: "wall.png" } }] },
  ]);
});
