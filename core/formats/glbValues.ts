import type { Document, Material } from "@gltf-transform/core";
import {
  KHRMaterialsClearcoat,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsSheen,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsVolume,
} from "@gltf-transform/extensions";
import type { Finish } from "#core/finish/finish";
import { hexToLinear } from "#core/raster/srgb";

export const GLB_EXTENSIONS = [
  KHRMaterialsClearcoat,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsSheen,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsVolume,
];

const linear = (hex: string | undefined) => hexToLinear(hex ?? "#ffffff");

/** Writes the values of a finish that are no images; those that nobody set are left out. */
export function writeGlbValues(document: Document, material: Material, finish: Finish): void {
  if (finish.ior !== 1.5)
    material.setExtension(
      "KHR_materials_ior",
      document.createExtension(KHRMaterialsIOR).createIOR().setIOR(finish.ior),
    );
  if (finish.specularWeight !== undefined || finish.specularColor !== undefined)
    material.setExtension(
      "KHR_materials_specular",
      document
        .createExtension(KHRMaterialsSpecular)
        .createSpecular()
        .setSpecularFactor(finish.specularWeight ?? 1)
        .setSpecularColorFactor(linear(finish.specularColor)),
    );
  if (finish.coatWeight)
    material.setExtension(
      "KHR_materials_clearcoat",
      document
        .createExtension(KHRMaterialsClearcoat)
        .createClearcoat()
        .setClearcoatFactor(finish.coatWeight)
        .setClearcoatRoughnessFactor(finish.coatRoughness ?? 0),
    );
  if (finish.fuzzWeight) {
    const { fuzzWeight } = finish;
    const [r, g, b] = linear(finish.fuzzColor);
    material.setExtension(
      "KHR_materials_sheen",
      document
        .createExtension(KHRMaterialsSheen)
        .createSheen()
        .setSheenColorFactor([r * fuzzWeight, g * fuzzWeight, b * fuzzWeight])
        .setSheenRoughnessFactor(0.5),
    );
  }
  writeLight(document, material, finish);
}

function writeLight(document: Document, material: Material, finish: Finish): void {
  if (finish.transmissionWeight) {
    const { transmissionDepthMm } = finish;
    material.setExtension(
      "KHR_materials_transmission",
      document
        .createExtension(KHRMaterialsTransmission)
        .createTransmission()
        .setTransmissionFactor(finish.transmissionWeight),
    );
    if (!finish.thinWalled && (finish.transmissionColor !== undefined || transmissionDepthMm !== undefined)) {
      const volume = document
        .createExtension(KHRMaterialsVolume)
        .createVolume()
        .setAttenuationColor(linear(finish.transmissionColor))
        .setAttenuationDistance((transmissionDepthMm ?? 1) / 1000);
      // Without a thickness light is thought to pass none of it.
      volume.setThicknessFactor((transmissionDepthMm ?? 1) / 1000);
      material.setExtension("KHR_materials_volume", volume);
    }
  }
  if (finish.thinWalled) material.setDoubleSided(true);
  if (finish.emissionNits === undefined) return;
  if (!material.getEmissiveTexture()) material.setEmissiveFactor(linear(finish.emissionColor));
  // The unit of emission is cd/m².
  material.setExtension(
    "KHR_materials_emissive_strength",
    document
      .createExtension(KHRMaterialsEmissiveStrength)
      .createEmissiveStrength()
      .setEmissiveStrength(finish.emissionNits),
  );
}
