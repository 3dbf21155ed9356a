import { describe, expect, test } from "@jest/globals";
import { finishSchema, type Finish } from "#core/finish/finish";
import type { MaterialFacts } from "#core/finish/material";
import type { EncodedImage } from "#core/formats/container";
import { IFC } from "#core/formats/ifc";
import type { Role } from "#core/roles/roles";
import { readIfc } from "#server/testing/ifcLibrary";

const FACTS: MaterialFacts = {
  supplier: "Weir Clay",
  product: "Quay paver, 'moor'",
  productCode: "QP-1",
  page: null,
  thicknessMm: 52,
  frost: "F2",
  slip: null,
  fire: "A1",
};

const PACKED: EncodedImage = {
  role: null,
  channels: ["ambient_occlusion", "specular_roughness", "base_metalness"],
  fileName: "quay-0007_orm.png",
  format: "png",
  read: async () => new Uint8Array(),
};

async function written(roles: Role[], finish: Partial<Finish> = {}, facts?: MaterialFacts) {
  const images = roles.map((role): EncodedImage => ({
    ...{ role, channels: null, fileName: `quay-0007_${role}.png`, format: "png" },
    read: async () => new Uint8Array(),
  }));
  const material = {
    name: "Quay „Öl“ ' \\ 石",
    fileName: "quay-0007",
    repeat: { width: 900, height: 625.5 },
    heightMm: 4,
    finish: finishSchema.parse(finish),
    ...(facts && { facts }),
  };
  const more = images.length > 1 ? [PACKED] : [];
  const [{ bytes, extension }] = await IFC.write(material, [...images, ...more]);
  expect(extension).toBe("ifc");
  return bytes;
}

describe("an IFC file, read by another reader", () => {
  test("is IFC 4 in metres: a slab of one metre as thick as the product, with a shape", async () => {
    const model = await readIfc(await written(["base_color"], {}, FACTS));
    expect(model.schema).toBe("IFC4");
    expect(model.meshes).toBe(1);
    const [length] = model.all("IFCSIUNIT").filter(({ UnitType }) => UnitType.value === "LENGTHUNIT");
    expect([length.Name.value, length.Prefix]).toEqual(["METRE", null]);
    const [slab] = model.all("IFCSLAB");
    expect(slab.Name.value).toBe("Quay „Öl“ ' \\ 石");
    const [points] = model.all("IFCCARTESIANPOINTLIST3D");
    const heights = points.CoordList.map((corner: { value: number }[]) => corner[2].value);
    expect([Math.min(...heights), Math.max(...heights)]).toEqual([-0.052, 0]);
    const ids = [...model.all("IFCPROJECT"), ...model.all("IFCBUILDING"), slab].map(
      ({ GlobalId }) => GlobalId.value,
    );
    expect(new Set(ids).size).toBe(3);
    for (const id of ids) expect(id).toMatch(/^[0-3][\w$]{21}$/);
  });

  test("has each texture at its real size, on coordinates in metres, within the style of the slab and of the material", async () => {
    const model = await readIfc(await written(["base_color", "geometry_normal", "specular_roughness"]));
    const textures = model.all("IFCIMAGETEXTURE");
    // Nothing says where roughness alone would go.
    expect(textures.map(({ Mode, URLReference }) => [Mode.value, URLReference.value])).toEqual([
      ["DIFFUSE", "quay-0007_base_color.png"],
      ["NORMAL", "quay-0007_geometry_normal.png"],
      ["METALLICROUGHNESS", "quay-0007_orm.png"],
      ["OCCLUSION", "quay-0007_orm.png"],
    ]);
    expect(model.all("IFCSURFACESTYLERENDERING")[0].SpecularHighlight).toBeNull();
    for (const { RepeatS, RepeatT, TextureTransform } of textures) {
      expect([RepeatS.value, RepeatT.value]).toEqual([true, true]);
      expect(1000 / TextureTransform.Scale.value).toBeCloseTo(900, 5);
      expect(1000 / TextureTransform.Scale2.value).toBeCloseTo(625.5, 5);
    }
    const [vertices] = model.all("IFCTEXTUREVERTEXLIST");
    const across = vertices.TexCoordsList.map(([u]: { value: number }[]) => u.value);
    expect([Math.min(...across), Math.max(...across)]).toEqual([0, 1]);
    const [map] = model.all("IFCINDEXEDTRIANGLETEXTUREMAP");
    expect(map.Maps).toHaveLength(4);
    const items = model.all("IFCSTYLEDITEM");
    expect(items.map(({ Item }) => Item?.type ?? null).filter((one) => one !== null)).toHaveLength(1);
    for (const { Styles } of items) expect(Styles[0].Styles).toHaveLength(3);
  });

  test("has a plain material's values, and what is known of the product, on a layer of its thickness", async () => {
    const plain = { color: "#8a5030", roughness: 0.35, ior: 1.62 };
    const model = await readIfc(await written([], plain, FACTS));
    const [rendering] = model.all("IFCSURFACESTYLERENDERING");
    const { Red, Green, Blue } = rendering.SurfaceColour;
    expect([Red, Green, Blue].map(({ value }) => Math.round(value * 255))).toEqual([0x8a, 0x50, 0x30]);
    expect(rendering.SpecularHighlight.value).toBe(0.35);
    expect(model.all("IFCSURFACESTYLEREFRACTION")[0].RefractionIndex.value).toBe(1.62);
    const [layer] = model.all("IFCMATERIALLAYER");
    expect(layer.LayerThickness.value).toBe(0.052);
    const [known] = model.all("IFCMATERIALPROPERTIES");
    expect(known.Material.Name.value).toBe("Quay „Öl“ ' \\ 石");
    expect(
      Object.fromEntries(
        known.Properties.map(({ Name, NominalValue }: Record<string, { value: unknown }>) => [
          Name.value,
          NominalValue.value,
        ]),
      ),
    ).toEqual({
      Supplier: "Weir Clay",
      Product: "Quay paver, 'moor'",
      "Product code": "QP-1",
      "Frost resistance (EN 771-1)": "F2",
      "Reaction to fire (EN 13501-1)": "A1",
      Thickness: 0.052,
    });
  });

  test("of nothing known has no facts, a layer without thickness, and a slab that can be seen; always the same bytes", async () => {
    const bytes = await written([]);
    expect(bytes).toEqual(await written([]));
    const model = await readIfc(bytes);
    expect(model.all("IFCMATERIALPROPERTIES")).toEqual([]);
    expect(model.all("IFCMATERIALLAYER")[0].LayerThickness.value).toBe(0);
    expect(model.meshes).toBe(1);
  });
});
