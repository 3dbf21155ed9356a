import { describe, expect, test } from "@jest/globals";
import { linksInDocument } from "#core/links/linksInDocument";
import { linksInLine } from "#core/links/linksInLine";

describe("links in a line", () => {
  test.each<[string, string[]]>([
    ["  S:\\Textures\\oak\\oak_color.png  ", ["S:\\Textures\\oak\\oak_color.png"]],
    ['"S:\\Textures\\oak, pale\\oak.png"', ["S:\\Textures\\oak, pale\\oak.png"]],
    ["/mnt/share/oak, pale/oak_color.png", ["/mnt/share/oak, pale/oak_color.png"]],
    ["Floor;S:\\oak.png;diffuse;2048", ["S:\\oak.png"]],
    ["Floor\t//share/oak.png\t//share/oak_normal.png", ["//share/oak.png", "//share/oak_normal.png"]],
    ['7,"oak, pale.png","with ""quotes"".jpg"', ["oak, pale.png", 'with "quotes".jpg']],
    ["/a/one.png,/b/two.png", ["/a/one.png", "/b/two.png"]],
    ["Name;Size;https://studio.example/page.html", []],
    ["", []],
  ])("%s", (line, expected) => {
    expect(linksInLine("list", line)).toEqual(expected);
  });

  test.each<[string, string[]]>([
    ["map_Kd -s 2 2 1 ../tex/oak pale.png", ["../tex/oak pale.png"]],
    ["map_Pr oak_rough.png", ["oak_rough.png"]],
    ["norm -bm 0.8 -clamp on C:\\tex\\oak_n.png", ["C:\\tex\\oak_n.png"]],
    ["disp -imfchan r -mm 0 0.02 height.png", ["height.png"]],
    ["Kd 0.8 0.7 0.6", []],
    ["newmtl map_Kd", []],
  ])("of a material library: %s", (line, expected) => {
    expect(linksInLine("mtl", line)).toEqual(expected);
  });

  test("a line that is made to hurt takes no longer than it is long", () => {
    const started = performance.now();
    linksInLine("mtl", `map_Kd ${"-s 1 1 1 ".repeat(7000)}x.png`);
    linksInLine("list", `${'",'.repeat(30_000)}x.png`);
    linksInLine("list", "a,".repeat(30_000));
    expect(performance.now() - started).toBeLessThan(2000);
  });
});

describe("links in a document", () => {
  test("of MaterialX, with the prefixes around them", () => {
    const text = `<materialx version="1.39" fileprefix="textures/"><nodegraph name="g" fileprefix="oak/">
      <image name="i" type="color3"><input name="file" type="filename" value="color.png"/></image></nodegraph>
      <tiledimage name="j" type="float"><input name="file" type="filename" value="rough.png"/><input name="x" type="string" value="not.png"/></tiledimage>
      </materialx>`;
    expect(linksInDocument("materialx", text)).toEqual(["textures/oak/color.png", "textures/rough.png"]);
  });

  test("of OpenUSD, and of glTF without what lies inside it", () => {
    const usd = '#usda 1.0\ndef Shader "s" { asset inputs:file = @./tex/oak.png@ }\n# @not.png@\n';
    expect(linksInDocument("usd", usd)).toEqual(["./tex/oak.png"]);
    const gltf = {
      images: [{ uri: "tex/oak%20pale.png" }, { bufferView: 1 }, { uri: "data:image/png;base64,AA" }, null],
      buffers: [{ uri: "floor.bin" }, { uri: "100%.bin" }],
    };
    expect(linksInDocument("gltf", JSON.stringify(gltf))).toEqual([
      "tex/oak pale.png",
      "floor.bin",
      "100%.bin",
    ]);
    expect(linksInDocument("gltf", "[1]")).toEqual([]);
  });

  test("of another kind are refused in words", () => {
    expect(() => linksInDocument("gltf", "map_Kd oak.png")).toThrow(/no glTF/);
    expect(() => linksInDocument("usd", "PXR-USDC\0")).toThrow(/#usda/);
    expect(() => linksInDocument("materialx", "<svg/>")).toThrow(/no MaterialX/);
    expect(() => linksInDocument("materialx", "<!DOCTYPE x><materialx/>")).toThrow(/entities/);
  });
});
