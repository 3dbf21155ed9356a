import { expect, test } from "@jest/globals";
import { readRole } from "#core/maps/readRole";
import type { Role } from "#core/maps/roles";

/** File names as they come, made up after the conventions that exist, with the right answer. "-": no role; "?": asked. */
const TABLE = `
bark_birch_diff_4k.jpg                    base_color
bark_birch_nor_gl_4k.exr.png              geometry_normal
bark_birch_rough_4k.jpg                   specular_roughness
bark_birch_disp_4k.png                    height
bark_birch_ao_4k.jpg                      ambient_occlusion
bark_birch_spec_4k.jpg                    specular_weight
bark_birch_translucent_4k.jpg             subsurface_color
Bricks_017_2K_Color.jpg                   base_color
Bricks_017_2K_Displacement.png            height
Bricks_017_2K_NormalGL.png                geometry_normal
Bricks_017_2K_NormalDX.png                geometry_normal
Bricks_017_2K_Roughness.png               specular_roughness
Bricks_017_2K_AmbientOcclusion.png        ambient_occlusion
Metal-Plates-006_1K-PNG_Metalness.png     base_metalness
Metal-Plates-006_1K-PNG_Color.png         base_color
Metal_Plates_006_1K_Roughness.png         specular_roughness
leaf-set-09_opacity_2k.png                geometry_opacity
leaf-set-09_alpha.png                     geometry_opacity
leaf-set-09-mask.png                      geometry_opacity
TexturedWall_basecolor.png                base_color
TexturedWall_baseColor_v2.png             base_color
TexturedWall_BASE_COLOR.PNG               base_color
TexturedWall_Base-Colour.tif              base_color
TexturedWall_albedo.tga                   base_color
TexturedWall_Albedo_8bit.tga              base_color
TexturedWall-COL-4096.jpeg                base_color
TexturedWall.col.jpeg                     base_color
TexturedWall DIFFUSE.jpg                  base_color
TexturedWall_dif.jpg                      base_color
TexturedWall_BC.png                       base_color
TexturedWall_d.png                        base_color
TexturedWall_Normal_16bit.png             geometry_normal
TexturedWall_NORMALMAP.png                geometry_normal
TexturedWall_Normal_Map.png               geometry_normal
TexturedWall_nrm.png                      geometry_normal
TexturedWall_NRM_2048.png                 geometry_normal
TexturedWall_nml.png                      geometry_normal
TexturedWall_norm.png                     geometry_normal
TexturedWall_n.png                        geometry_normal
TexturedWall_N.tga                        geometry_normal
TexturedWall-normal_yup.png               geometry_normal
TexturedWall_NormalOGL.png                geometry_normal
TexturedWall_normals.jpg                  geometry_normal
TexturedWall_roughness.jpg                specular_roughness
TexturedWall_ROUGH.jpg                    specular_roughness
TexturedWall_Rgh.jpg                      specular_roughness
TexturedWall_specularRoughness.jpg        specular_roughness
TexturedWall_r.jpg                        specular_roughness
TexturedWall_gloss.jpg                    gloss
TexturedWall_Glossiness.jpg               gloss
TexturedWall_GLS.jpg                      gloss
TexturedWall_smoothness.png               gloss
TexturedWall_metallic.png                 base_metalness
TexturedWall_Metal.png                    base_metalness
TexturedWall_MTL.png                      base_metalness
TexturedWall_metalness_1k.png             base_metalness
TexturedWall_height.tif                   height
TexturedWall_HEIGHTMAP.tif                height
TexturedWall_height16.png                 height
TexturedWall_h.png                        height
TexturedWall_displacement_32bit.tif       height
TexturedWall_disp.png                     height
TexturedWall_DISP16.png                   height
TexturedWall_depth.png                    height
TexturedWall_bump.png                     bump
TexturedWall_Bump_Map.png                 bump
TexturedWall_ao.png                       ambient_occlusion
TexturedWall_AO.png                       ambient_occlusion
TexturedWall_occlusion.png                ambient_occlusion
TexturedWall_Occ.png                      ambient_occlusion
TexturedWall_ambientOcclusion_2k.png      ambient_occlusion
TexturedWall_ambient_occlusion.png        ambient_occlusion
TexturedWall_opacity.png                  geometry_opacity
TexturedWall_Transparency.png             geometry_opacity
TexturedWall_cutout.png                   geometry_opacity
TexturedWall_translucency.png             subsurface_color
TexturedWall_SSS.png                      subsurface_color
TexturedWall_transmission.png             transmission_weight
TexturedWall_emissive.png                 emission_color
TexturedWall_EMISSION.png                 emission_color
TexturedWall_emit.png                     emission_color
TexturedWall_glow.png                     emission_color
TexturedWall_specular.png                 specular_weight
TexturedWall_Spec.png                     specular_weight
TexturedWall_specularlevel.png            specular_weight
TexturedWall_specular_level.png           specular_weight
TexturedWall_specularColor.png            specular_color
TexturedWall_reflection.jpg               specular_weight
TexturedWall_clearcoat.png                coat_weight
TexturedWall_coat.png                     coat_weight
TexturedWall_preview.jpg                  reference
TexturedWall_thumbnail.jpg                reference
TexturedWall_Render.jpg                   reference
TexturedWall_sphere.png                   reference
TexturedWall_s.png                        ?
TexturedWall_sm.png                       ?
TexturedWall_g.png                        ?
TexturedWall_m.png                        ?
TexturedWall_t.png                        ?
TexturedWall.png                          -
TexturedWall_2k.png                       -
TexturedWall_v3.png                       -
TexturedWall_01.png                       -
TexturedWall_1024x1024.jpg                -
textured wall seamless.jpg                -
plaster.jpg                               -
IMG_20240311_101512.jpg                   -
DSC01234.JPG                              -
scan (3).png                              -
roughcast_render_diffuse.jpg              base_color
rough_plaster_normal.png                  geometry_normal
smooth_concrete_roughness.png             specular_roughness
normal_brick_bump.png                     bump
metal_grate_opacity.png                   geometry_opacity
glossy_tile_basecolor.png                 base_color
2k_wood_floor_normal_gl.png               geometry_normal
wood-floor_4096_normal+Y_16.tif           geometry_normal
16bit_slate_height_4k.tif                 height
slate_height_4k_16bit_v2_seamless.tif     height
v2-slate-AO-2048.png                      ambient_occlusion
maps/slate/roughness.png                  specular_roughness
maps/slate/normal.png                     geometry_normal
slate/Base Color.png                      base_color
slate\\\\metalness.png                      base_metalness
`
  .trim()
  .split("\n")
  .map((row) => {
    const [, name, answer] = /^(.+?)\s{2,}(\S+)$/.exec(row)!;
    return { name: name.replaceAll("\\\\", "\\"), answer };
  });

test(`of ${TABLE.length} file names, 98 in 100 or more are read rightly`, () => {
  const wrong = TABLE.flatMap(({ name, answer }) => {
    const { role, doubt } = readRole(name);
    const read: Role | "?" | "-" = role ?? (doubt ? "?" : "-");
    return read === answer ? [] : [`${name}: ${read}, not ${answer}`];
  });
  const share = (TABLE.length - wrong.length) / TABLE.length;
  console.log(
    `File names: ${TABLE.length - wrong.length} of ${TABLE.length} right (${(share * 100).toFixed(1)} %).`,
  );
  expect({ enough: share >= 0.98, wrong: wrong.slice(0, 10) }).toEqual({
    enough: true,
    wrong: wrong.slice(0, 10),
  });
});

test("files of one set come to one stem, whatever their marks", () => {
  const sets = [
    ["bark_birch_diff_4k.jpg", "bark_birch_nor_gl_4k.png", "bark_birch_disp_4k.tif", "bark_birch_AO.jpg"],
    [
      "Bricks_017_2K_Color.jpg",
      "Bricks_017_4K_NormalDX.png",
      "Bricks_017_AmbientOcclusion_8bit.png",
      "Bricks_017.png",
    ],
    ["oak-plank.png", "oak-plank_n.png", "oak-plank-Normal+Y-16bit.png", "OAK_PLANK_sm.png"],
    ["TexturedWall_BaseColor.png", "textured_wall_roughness.png", "TexturedWallHeight.png"],
  ];
  for (const names of sets)
    expect([names[0], new Set(names.map((name) => readRole(name).stem)).size]).toEqual([names[0], 1]);
});
