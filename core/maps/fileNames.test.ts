import { expect, test } from "@jest/globals";
import { readRole } from "#core/maps/readRole";

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

/** More of them, by answer, separated by bars: other spellings, other languages, packed maps, folders, and names that say nothing. */
const MORE: [answer: string, names: string][] = [
  [
    "base_color",
    `lime_render_albedo_2k.exr | LimeRender_Diffuse_8K.png | lime-render-Base_Color-4096.tif | limerender_diffusemap.jpg | lime render basecol.png |
     LIME_RENDER_COL.tga | lime_render_col_4k.avif | lime_render_albedo01.png | lime_render_diff_1k.webp | limerender_DIFF_3K.jpg |
     Kalkputz_Farbe.png | kalkputz_grundfarbe_4k.tif | Kalkputz-Diffus.jpg | enduit_couleur.png | enduit_couleur_de_base.png | enduit couleur diffuse.jpg |
     revoco_color_base.png | revoco_difuso.jpg | intonaco_colore.png | intonaco_colore_base_2k.png | intonaco_diffuso.tif | Sandstone_Color1.png |
     sandstone_clr.png | sandstone_color_srgb.png | sandstone.albedo.1024.png | sandstone_d.tga | sandstone_c.png | sandstone-bc-8bit.png |
     Sandstone (diffuse).jpg | sandstone_diffuse (1).jpg | sandstone_diffuse - Copy.jpg | Sandstone_DiffuseColor_raw.png | SandstoneAlbedo.png |
     albedo/sandstone_02.png | Diffuse/sandstone_02.jpg | Farbe/sandstein_02.jpg | sandstone/2k/albedo.png | sandstone_albedo_2048x2048.png |
     oak_veneer_colormap.png | OAK-VENEER_ALBEDO-MAP.png | T_Oak_BC.png | tex_oak_d.png | oakAlbedo4k.png | oak_veneer_colour_hq.png`,
  ],
  [
    "specular_roughness",
    `lime_render_roughness_2k.exr | LimeRender_Roughness_8K.png | limerender_rough01.png | lime_render_rgh_4k.tif | lime_render_ROU.tga | lime_render_roughness_16bit.png |
     Kalkputz_Rauheit.png | kalkputz_rauigkeit_4k.tif | Kalkputz-Rauhigkeit.jpg | enduit_rugosité.png | enduit_rugosite.png | revoco_rugosidad.png | intonaco_rugosità.png |
     intonaco_ruvidezza_2k.png | sandstone.rough.1024.png | sandstone_r.tga | SandstoneRoughness.png | sandstoneroughness.png | sandstone_RoughnessMap.png |
     Roughness/sandstone_02.png | rough/sandstone_02.png | Rauheit/sandstein.png | sandstone/roughness.png | sandstone_roughness_linear.png | sandstone roughness (2).png |
     oak_specular_roughness.exr | T_Oak_R.png | oak_veneer_Roughness_raw_4k.png | oak-roughnes.png | oak_rghns_512px.png`,
  ],
  [
    "gloss",
    `lime_render_gloss_2k.jpg | LimeRender_Glossiness.png | lime_render_GLOSS_3K.jpg | lime_render_smoothness.png | limerender_gls.tga | limerender_glo.tga |
     Kalkputz_Glanz.png | kalkputz_glanzgrad.tif | enduit_brillance.png | revoco_brillo.png | intonaco_lucidità.png | intonaco_lucentezza.png |
     sandstone_glossmap.png | sandstoneglossiness.png | Gloss/sandstone_02.png | sandstone_smooth.png | oak_gloss_8bit.png | oak-GLOSSY.png`,
  ],
  [
    "base_metalness",
    `zinc_metalness_2k.jpg | ZincSheet_Metallic.png | zinc_MTL.tga | zinc_metal_4k.png | zinc_metl.png | zinc_met.png | Zink_Metallisch.png | zinc_métallique.png |
     zinc_metallicite.png | cinc_metalico.png | cinc_metalicidad.png | zinco_metallico.png | zinco_metallicità.png | zincmetalness.png | Metallic/zinc_02.png |
     zinc_metallness.png | zinc_metallicMap.png | zinc_MetallicMap_1k.png | zinc_metalness_raw.png`,
  ],
  [
    "geometry_normal",
    `lime_render_nor_dx_2k.exr | lime_render_nor_gl_2k.exr | LimeRender_Normal_8K.png | lime_render_nrm16.png | lime_render_NRM_3K.png | limerender_normal01.png |
     lime_render_normal_opengl.png | lime_render_normal_directx.png | lime_render_NormalOpenGL_2k.png | lime_render_NormalDirectX.png | lime_render_nrmgl.png | limerender_nordx.png |
     Kalkputz_Normale.png | kalkputz_normalen_4k.tif | enduit_normale.png | revoco_normales.png | revoco_mapa_normal.png | intonaco_normali.png | intonaco_mappa_normale.png |
     sandstone.normal.1024.png | sandstone_n.tga | SandstoneNormals.png | sandstonenormal.png | Normal/sandstone_02.png | Normals_GL/sandstone.png | sandstone/normal.png |
     sandstone_normal_yneg.png | sandstone-Normal-Y.png | sandstone_normal_Y+.png | sandstone_tangent_normal.png | T_Oak_N.png | oak_nmap.png | oak_nrml.png | oak_NML_4k.tif |
     oak_normalmap.png | oak_Normal_Map_GL.png | oak_normal_32bit.exr | oak_normal_v003.png | OakNormalGL4K.png | oak_nm_512.png`,
  ],
  [
    "height",
    `lime_render_disp_2k.exr | LimeRender_Displacement_8K.png | lime_render_DISP16_3K.tif | lime_render_height01.png | lime_render_dsp.tga | lime_render_hght.png | lime_render_hgt_16.png |
     Kalkputz_Höhe.png | kalkputz_hoehe_4k.tif | kalkputz_hoehenkarte.png | enduit_hauteur.png | enduit_déplacement.png | revoco_altura.png | revoco_desplazamiento.png |
     intonaco_altezza.png | intonaco_spostamento.png | sandstone.height.1024.png | sandstone_h.tga | SandstoneHeight.png | sandstoneheight.png | sandstonedisplacement.png |
     Displacement/sandstone_02.png | Hoehe/sandstein.png | sandstone/height.exr | sandstone_depth.png | sandstone_HeightMap.png | sandstone_displace.png | T_Oak_H.png |
     oak_height_32bit.tif | oak_displacement_map_4k.exr | oak_dispmap.png | oak_parallax.png`,
  ],
  [
    "bump",
    `lime_render_bump_2k.jpg | LimeRender_BUMP.png | lime_render_bmp.tga | lime_bumpmap.png | intonaco_rilievo.png | revoco_relieve.png | Bump/sandstone_02.png | sandstone_b.png | enduit_relief.png`,
  ],
  [
    "ambient_occlusion",
    `lime_render_ao_2k.jpg | LimeRender_AmbientOcclusion_8K.png | lime_render_AO16.png | lime_render_occ.tga | lime_render_occlusion01.png | lime_render_ambient_occlusion.png |
     Kalkputz_Umgebungsverdeckung.png | kalkputz_verdeckung.png | enduit_occlusion_ambiante.png | enduit_occlusion.png | revoco_oclusion_ambiental.png | revoco_oclusión.png |
     intonaco_occlusione.png | intonaco_occlusione_ambientale.png | sandstone.ao.1024.png | SandstoneAO.png | AO/sandstone_02.png | ao/sandstone_02.png | sandstone/ao.png |
     sandstone_aomap.png | sandstone_mixed_ao.png | sandstone_cavity.png | oak_amb_occ.png | oak_AmbientOcclusionMap.png`,
  ],
  [
    "geometry_opacity",
    `maple_leaf_opacity_4k.png | MapleLeaf_Opacity.png | maple_leaf_alpha.tga | maple_leaf_transparency.png | maple_leaf_cutout.png | maple_leaf_opac.png | Ahorn_Deckkraft.png |
     ahorn_transparenz.png | erable_opacité.png | erable_transparence.png | arce_opacidad.png | arce_transparencia.png | acero_opacità.png | acero_trasparenza.png |
     Opacity/leaf_02.png | leaf_alphamap.png | leaf_alpha_mask.png | leaf_mask.png | leaf_opacity_mask.png | leafopacity.png`,
  ],
  [
    "subsurface_color",
    `maple_leaf_translucency_4k.png | MapleLeaf_Translucent.png | maple_leaf_sss.tga | maple_leaf_transl.png | ahorn_transluzenz.png | erable_translucidité.png | arce_translucidez.png |
     acero_traslucenza.png | leaf_subsurface.png | leaf_SubsurfaceColor.png | Translucency/leaf_02.png`,
  ],
  [
    "transmission_weight",
    `glass_brick_transmission.png | GlassBrick_Transmission_2k.exr | glass_brick_transmissive.png`,
  ],
  [
    "emission_color",
    `exit_sign_emissive.png | ExitSign_Emission_2k.png | exit_sign_emit.tga | exit_sign_glow.png | exit_sign_emis.png | schild_leuchten.png | schild_emission.png | enseigne_émission.png |
     cartel_emision.png | insegna_emissione.png | sign_selfillum.png | sign_illum.png | Emissive/sign.png | signemissive.png`,
  ],
  [
    "specular_weight",
    `lime_render_spec_2k.jpg | LimeRender_Specular.png | lime_render_REFL_3K.jpg | lime_render_reflection.png | limerender_specularity.png | kalkputz_spekular.png | kalkputz_spiegelung.png |
     enduit_spéculaire.png | revoco_especular.png | intonaco_speculare.png | sandstone_SpecularLevel.png | sandstonespecular.png | Specular/sandstone_02.png | sandstone_spc.tga | sandstone_f0.png`,
  ],
  [
    "specular_color",
    `sandstone_specular_color.png | SandstoneSpecularColor.png | sandstone_spec_color_2k.png`,
  ],
  [
    "coat_weight",
    `car_panel_clearcoat.png | panel_clear_coat_2k.png | panel_coat.png | panel_CoatWeight.exr`,
  ],
  [
    "reference",
    `lime_render_preview.png | lime_render_thumb.jpg | lime_render_Thumbnail.png | lime_plaster_render.png | kalkputz_vorschau.jpg | enduit_aperçu.jpg | intonaco_anteprima.png |
     sandstone_reference.jpg | sandstone_sphere.png | Preview/sandstone.png | sandstone_ref_preview.jpg | revoco_vista_previa.png`,
  ],
  [
    "ambient_occlusion+specular_roughness+base_metalness",
    `lime_render_ORM.png | lime_render_arm_2k.jpg | LimeRender_ORM_8K.png | T_Oak_ORM.tga | oak_orm_16bit.png | oak_occlusionRoughnessMetallic.png | OakFloor-ARM-4K.exr`,
  ],
  [
    "base_metalness+specular_roughness+ambient_occlusion",
    `lime_render_MRA.png | oak_mra_2k.tga | oak_MRAO.png`,
  ],
  [
    "specular_roughness+base_metalness+ambient_occlusion",
    `lime_render_RMA.png | oak_rma_2k.tga | OakFloor_RMA_4k.png`,
  ],
  [
    "-+specular_roughness+base_metalness",
    `oak_metallicRoughness.png | oak_metalRough.png | OakFloor_roughnessMetallic_2k.png`,
  ],
  ["base_metalness+-+-+gloss", `oak_metallicSmoothness.png`],
  ["base_metalness+ambient_occlusion+-+gloss", `oak_MaskMap.png`],
  [
    "?",
    `lime_render_sm.png | lime_render_s.tga | oak_g.png | oak_M.png | sign_e.png | leaf_o.png | lime_render_t.png | SM_sm.png`,
  ],
  [
    "-",
    `oak_floor.jpg | Oak Floor 02.png | IMG_2034.JPG | DSC00012.tif | scan-0003.tif | eiche.jpg | chêne massif.jpg | кирпич.png | 煉瓦.png | レンガ_02.jpg |
     brick_wall_04_2k.png | marble-01.webp | terrazzo (3).png | travertine_v2.png | p1020304.jpg | charm_stone.png | farm_boards.png | abnormal_marble.png |
     standard.png | armour_plate.png | oak🌳.png | granite 60x60.png | Zement.png | panel_12.png | asphalt-8k.jpg | image.png | 004.png`,
  ],
];

const ROWS = [
  ...TABLE,
  ...MORE.flatMap(([answer, names]) => names.split("|").map((name) => ({ name: name.trim(), answer }))),
];

test("the table is long enough to mean something", () => {
  expect(ROWS.length).toBeGreaterThanOrEqual(400);
  expect(new Set(ROWS.map(({ name }) => name)).size).toBe(ROWS.length);
});

test(`of ${ROWS.length} file names, 98 in 100 or more are read rightly`, () => {
  const wrong = ROWS.flatMap(({ name, answer }) => {
    const { role, doubt, packed } = readRole(name);
    const read = packed?.map((one) => one ?? "-").join("+") ?? role ?? (doubt ? "?" : "-");
    return read === answer ? [] : [`${name}: ${read}, not ${answer}`];
  });
  const share = (ROWS.length - wrong.length) / ROWS.length;
  console.log(
    `File names: ${ROWS.length - wrong.length} of ${ROWS.length} right (${(share * 100).toFixed(1)} %).`,
  );
  expect({ enough: share >= 0.98, wrong: wrong.slice(0, 12) }).toEqual({
    enough: true,
    wrong: wrong.slice(0, 12),
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
