import { describe, expect, test } from "@jest/globals";
import { readRole } from "#core/maps/readRole";
import type { Role } from "#core/roles/roles";

const CASES: [name: string, role: Role | undefined, stem: string][] = [
  ["oakplank_normal-plusY.16bit.tiff", "geometry_normal", "oakplank"],
  ["Brick_Wall-ROUGHNESS.2048.png", "specular_roughness", "brick wall"],
  ["pav_nm.tga", "geometry_normal", "pav"],
  ["brickfloor.tga", undefined, "brickfloor"],
  ["brickfloor_gloss.tga", "gloss", "brickfloor"],
  ["brickfloor_bump.tga", "bump", "brickfloor"],
  ["brickfloor_norm.tga", "geometry_normal", "brickfloor"],
  ["floor_wood01.png", undefined, "floor wood01"],
  ["floor_wood01_nm.png", "geometry_normal", "floor wood01"],
  ["2K-slate_tiles-AO.jpg", "ambient_occlusion", "slate tiles"],
  ["slate tiles 4096x4096 displacement v2.tif", "height", "slate tiles"],
  ["SlateTilesBaseColor.png", "base_color", "slate tiles"],
  ["slate_tiles_Base_Color_4k_16bit.png", "base_color", "slate tiles"],
  ["slate_tiles_metallic.png", "base_metalness", "slate tiles"],
  ["slate_diffuse_2k.jpg", "base_color", "slate"],
  ["slate_COL_3K.jpg", "base_color", "slate"],
  ["slate_disp_2k.png", "height", "slate"],
  ["slate_nor_gl_2k.png", "geometry_normal", "slate"],
  ["normal_map_lime_wash.png", "geometry_normal", "lime wash"],
  ["rough_render_roughness.png", "specular_roughness", "rough render"],
  ["maple_leaf_opacity.png", "geometry_opacity", "maple leaf"],
  ["maple_leaf-Translucency.jpg", "subsurface_color", "maple leaf"],
  ["sign_emissive.png", "emission_color", "sign"],
  ["tile_spec.png", "specular_weight", "tile"],
  ["velvet_sheen.png", "fuzz_weight", "velvet"],
  ["tile_specular_color.png", "specular_color", "tile"],
  ["oak-smoothness_8bit.png", "gloss", "oak"],
  ["oak_normal2k.png", "geometry_normal", "oak"],
  ["textures/oak/oak_n.png", "geometry_normal", "oak"],
  ["single-veneer.jpg", undefined, "single veneer"],
  ["n.png", undefined, "n"],
];

describe("readRole", () => {
  test.each(CASES)("%s", (name, role, stem) => {
    expect(readRole(name)).toMatchObject({ stem });
    expect(readRole(name).role).toBe(role);
  });

  test.each([
    ["oakplank_normal-plusY.16bit.tiff", "+Y"],
    ["oak_normal-Y.png", "-Y"],
    ["oak_normal+Y.png", "+Y"],
    ["oak_NormalGL.png", "+Y"],
    ["oak_normal_dx_2k.png", "-Y"],
    ["oak_2k_Normal_yplus.png", "+Y"],
    ["oak_normal.png", undefined],
  ])("reads the direction of %s", (name, direction) => {
    expect(readRole(name).normalDirection).toBe(direction);
    expect(readRole(name).stem).toContain("oak");
  });

  test("asks about a mark that nobody can be sure of", () => {
    const reading = readRole("floor_wood01_sm.png");
    expect(reading.role).toBeUndefined();
    expect(reading.stem).toBe("floor wood01");
    expect(reading.doubt).toEqual({ mark: "sm", likely: ["specular_weight", "gloss", "specular_roughness"] });
  });

  test("is less sure of a plain English word than of a term", () => {
    expect(readRole("brushed_metal.png").confidence).toBeLessThan(
      readRole("brushed_metallic.png").confidence,
    );
    expect(readRole("brushed_metal.png").wholeStem).toBe("brushed metal");
  });
});
