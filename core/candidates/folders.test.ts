import { expect, test } from "@jest/globals";
import { planCandidates } from "#core/candidates/planCandidates";
import { image } from "#core/candidates/testing";

/**
 * Whole folders with the sets in them, a line each, and the role of each file where it is not plain: written down before the code
 * that joins them. "?": asked; "-": in no set with others, whatever it is.
 */
const FOLDERS: string[] = [
  // Letters that are part of a name.
  `pc_a.png=base_color
   pc_b.png=base_color
   pc_c.png=base_color
   pc_d.png=base_color
   pc_e.png=base_color`,
  `kerbstone_a.jpg=base_color
   kerbstone_b.jpg=base_color
   kerbstone_c.jpg=base_color
   kerbstone_d.jpg=base_color
   kerbstone_e.jpg=base_color
   kerbstone_f.jpg=base_color`,
  `ab_crate_e.png=base_color ab_crate_e_nm.png=geometry_normal ab_crate_e_sm.png=?`,
  `roof_a.png=base_color roof_a_n.png=geometry_normal roof_a_r.png=specular_roughness
   roof_b.png=base_color roof_b_n.png=geometry_normal roof_b_r.png=specular_roughness
   roof_d.png=base_color roof_d_n.png=geometry_normal roof_d_r.png=specular_roughness`,
  `gate_m_diffuse.png=base_color gate_m_normal.png=geometry_normal
   gate_s_diffuse.png=base_color gate_s_normal.png=geometry_normal
   gate_l_diffuse.png=base_color gate_l_normal.png=geometry_normal`,
  `wallset_n_color.png=base_color wallset_n_height.png=height
   wallset_s_color.png=base_color wallset_s_height.png=height`,
  `tiles-h.jpg=base_color
   tiles-i.jpg=base_color
   tiles-j.jpg=base_color
   tiles-k.jpg=base_color`,
  `moss_b.tga=base_color moss_b_nor.tga=geometry_normal moss_b_spec.tga=specular_weight
   moss_c.tga=base_color moss_c_nor.tga=geometry_normal moss_c_spec.tga=specular_weight`,
  // A letter that is a role, because its siblings are.
  `clinker_d.tga=base_color clinker_n.tga=geometry_normal clinker_h.tga=height`,
  `clay_c.png=base_color clay_n.png=geometry_normal clay_r.png=specular_roughness clay_h.png=height`,
  `lawn_d.png=base_color lawn_n.png=geometry_normal
   turf_d.png=base_color turf_n.png=geometry_normal`,
  // An unknown suffix on a known stem joins the set, and is asked.
  `lamp.png=base_color lamp_nm.png=geometry_normal lamp_sm.png=? lamp_gm.png=?
   post.png=base_color post_nm.png=geometry_normal post_sm.png=? post_gm.png=?`,
  `panel.tga=base_color panel_local.tga=geometry_normal panel_glow.tga=emission_color panel_xq.tga=?`,
  `door_diff.png=base_color door_norm.png=geometry_normal door_zz.png=?`,
  `base02.png=base_color base02_n.png=geometry_normal base02_z.png=?
   base03.png=base_color base03_n.png=geometry_normal base03_z.png=?
   base04.png=base_color base04_n.png=geometry_normal base04_z.png=?`,
  `paint_nm.png=geometry_normal
   paint_red.jpg=base_color
   paint_blue.jpg=base_color
   paint_tan.jpg=base_color`,
  `fabric_diffuse_albedo.png=base_color fabric_normal_nrm.png=geometry_normal fabric_rough_roughness.png=specular_roughness`,
  `mixed-color_base_color.png=base_color mixed-color_height.png=height`,
  `vent_color.png=base_color vent_normal.png=geometry_normal vent_curvature.png=?`,
  // A prefix that looks like a role.
  `mtl_brick.png=base_color
   mtl_slate.png=base_color
   mtl_plaster.png=base_color
   mtl_granite.png=base_color
   mtl_oak.png=base_color`,
  `tex_brick_color.jpg=base_color tex_brick_normal.jpg=geometry_normal
   tex_slate_color.jpg=base_color tex_slate_normal.jpg=geometry_normal`,
  `metal_grate_diffuse.png=base_color metal_grate_normal.png=geometry_normal metal_grate_metalness.png=base_metalness
   metal_sheet_diffuse.png=base_color metal_sheet_normal.png=geometry_normal metal_sheet_metalness.png=base_metalness`,
  // A single letter on a single picture is asked.
  `kerb_n.png=?`,
  `quay_r.png=?`,
  // Strangers without a common stem are not joined.
  `granite.jpg=base_color
   oak.jpg=base_color
   slate_normal.png=geometry_normal`,
  `IMG_2041.jpg=base_color
   IMG_2042.jpg=base_color
   IMG_2043.jpg=base_color
   IMG_2047.jpg=base_color`,
  `wall01.jpg=base_color
   wall02.jpg=base_color
   wall03.jpg=base_color wall03_n.jpg=geometry_normal`,
  // Colours with variants share the other maps of their set, or are sets of their own where they have their own.
  `felt_color_red.jpg=base_color felt_normal.png=geometry_normal felt_roughness.png=specular_roughness`,
  `awning_01_color.jpg=base_color awning_01_normal.png=geometry_normal
   awning_02_color.jpg=base_color awning_02_normal.png=geometry_normal
   awning_03_color.jpg=base_color awning_03_normal.png=geometry_normal`,
  // Folders.
  `brick/basecolor.png=base_color brick/normal.png=geometry_normal brick/height.png=height
   slate/basecolor.png=base_color slate/normal.png=geometry_normal slate/height.png=height`,
  `set1/01_color.jpg=base_color set1/02_normal.jpg=geometry_normal set1/03_roughness.jpg=specular_roughness
   set2/01_color.jpg=base_color set2/02_normal.jpg=geometry_normal set2/03_roughness.jpg=specular_roughness`,
  `Parkett/Parkett_Farbe.jpg=base_color Parkett/Parkett_Normalenkarte.png=geometry_normal Parkett/Parkett_Rauheitskarte.png=specular_roughness`,
  `textures/yard/yard_base.png=base_color textures/yard/yard_nrm.png=geometry_normal textures/yard/yard_orm.png=packed`,
  `2k/ridge_diff.jpg=base_color 2k/ridge_nor.jpg=geometry_normal 2k/ridge_disp.jpg=height`,
  // Glued words.
  `brickwalldiffuse.jpg=base_color brickwallnormal.jpg=geometry_normal brickwallrough.jpg=specular_roughness
   oakfloordiffuse.jpg=base_color oakfloornormal.jpg=geometry_normal oakfloorrough.jpg=specular_roughness`,
  `MARBLECOLOR.JPG=base_color MARBLENORMAL.JPG=geometry_normal MARBLEHEIGHT.JPG=height`,
  // Glued letters, where the same ones stand behind several names.
  `sandstone2.jpg=base_color sandstone2n.jpg=geometry_normal sandstone2z.jpg=? sandstone2s.jpg=?
   sandstone3.jpg=base_color sandstone3n.jpg=geometry_normal sandstone3z.jpg=? sandstone3s.jpg=?
   oldbrick.jpg=base_color oldbrickn.jpg=geometry_normal oldbrickz.jpg=? oldbricks.jpg=?
   shale01d.jpg=base_color shale01n.jpg=geometry_normal shale01z.jpg=? shale01s.jpg=?`,
  `v1.2/dune1=base_color v1.2/dune1n=geometry_normal
   v1.2/dune2=base_color v1.2/dune2n=geometry_normal
   v1.2/dune3=base_color v1.2/dune3n=geometry_normal`,
  `moder.jpg=base_color
   modern.jpg=base_color
   step1.jpg=base_color
   step1n.jpg=base_color
   tile.jpg=base_color
   tiles.jpg=base_color`,
  // The one picture of several that share the other maps.
  `panel2a.jpg=base_color panel2_n.png=geometry_normal panel2_s.jpg=?
   ribs1a.jpg=base_color ribs1_n.png=geometry_normal`,
  `gate4a.jpg=base_color
   gate4b.jpg=base_color
   gate4_n.png=?`,
  `lamp1a.jpg=base_color lamp1a_g.jpg=? lamp1_n.png=geometry_normal lamp1_s.jpg=?`,
  // A mark that no role is known of, which several names have.
  `hatch1a_d.png=base_color hatch1a_kxl.png=?
   hatch1b_d.png=base_color hatch1b_kxl.png=?
   hatch2_d.png=base_color hatch2_kxl.png=?`,
  // Nothing but what is a mark elsewhere.
  `map.png=base_color map_n.png=geometry_normal`,
  // A letter that nobody knows beside two that are known.
  `fiber.png=base_color fiber_n.png=geometry_normal fiber_s.png=? fiber_z.png=?`,
  // Numbers.
  `deck1.png=base_color deck1_nm.png=geometry_normal
   deck2.png=base_color deck2_nm.png=geometry_normal
   deck10.png=base_color deck10_nm.png=geometry_normal`,
  `floor_1_a.png=base_color floor_1_a_normal.png=geometry_normal
   floor_1_b.png=base_color floor_1_b_normal.png=geometry_normal
   floor_2_a.png=base_color floor_2_a_normal.png=geometry_normal`,
];

interface Expected {
  file: string;
  answer: string;
}

const sets = FOLDERS.map((folder) =>
  folder.split("\n").map((line) =>
    line
      .trim()
      .split(/\s+/)
      .map((entry): Expected => {
        const [file, answer] = entry.split("=");
        return { file, answer };
      }),
  ),
);

test("whole folders are joined to the sets that they hold, 97 files in 100 or more", () => {
  const files = sets.flat(2);
  expect(files.length).toBeGreaterThanOrEqual(150);
  let joined = 0;
  let read = 0;
  const wrong: string[] = [];
  for (const folder of sets) {
    const { candidates } = planCandidates(folder.flat().map(({ file }) => image(file)));
    const found = candidates.map(({ maps }) => maps);
    for (const set of folder) {
      const names = set.map(({ file }) => file).sort();
      for (const { file, answer } of set) {
        const group = found.find((maps) => maps.some((map) => map.file.split("#")[0] === file)) ?? [];
        const together = [...new Set(group.map((map) => map.file.split("#")[0]))].sort();
        if (together.join() === names.join()) joined++;
        else wrong.push(`${file} is with ${together.join(" ")}, not ${names.join(" ")}`);
        const map = group.find((map) => map.file.split("#")[0] === file);
        const role = map?.file.includes("#") ? "packed" : map?.role === "unknown" ? "?" : map?.role;
        if (role === answer) read++;
        else wrong.push(`${file}: ${role}, not ${answer}`);
      }
    }
  }
  console.log(`Folders: ${joined} of ${files.length} files in the right set, ${read} in the right role.`);
  expect({
    joined: joined / files.length >= 0.97,
    read: read / files.length >= 0.97,
    wrong: wrong.slice(0, 30),
  }).toEqual({ joined: true, read: true, wrong: wrong.slice(0, 30) });
});
