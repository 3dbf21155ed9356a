import { likelyCauses } from "#core/proof/causes";
import { differenceOf, type Difference } from "#core/proof/difference";
import { PROOF_SIZE, scenesFor, sceneView, type Scene } from "#core/proof/scenes";
import { makePicture } from "#core/picture/picture";
import type { DrawnMaterial } from "#core/picture/surfaceReader";
import { createRaster, type Raster } from "#core/raster/raster";

/** How far a delivery may look from its material on the whole, in ΔE2000, before it is to be looked at. */
export const PROOF_LIMIT = 1;

/** How one scene came out. */
export type ProvedScene = { name: string } & Omit<Difference, "picture">;

export interface Proof {
  scenes: ProvedScene[];
  /** The one that counts: where the mean is largest. */
  worst: number;
  /** In words, the surest first; none where nothing is to be looked at. */
  causes: string[];
}

/**
 * Draws a material and what a renderer sees of its delivery under each scene.
 * @param intended the size that the delivered images are meant to have
 * @returns the figures, and a sheet: a row for each scene, in it the material, the delivery, and their difference
 */
export function prove(
  material: DrawnMaterial,
  delivered: DrawnMaterial,
  intended: { width: number; height: number },
  scenes: readonly Scene[] = scenesFor(material, delivered),
): { proof: Proof; sheet: Raster } {
  const { width, height } = PROOF_SIZE;
  const sheet = createRaster(width * 3, height * scenes.length, 3, 8);
  const proved = scenes.map((scene, row): ProvedScene => {
    const view = sceneView(scene, material.repeat);
    const pictures = [material, delivered].map((one) => makePicture(one, view, scene.condition));
    const { picture, ...figures } = differenceOf(pictures[0], pictures[1]);
    for (const [column, part] of [...pictures, picture].entries())
      for (let y = 0; y < height; y++)
        sheet.data.set(
          part.data.subarray(y * width * 3, (y + 1) * width * 3),
          ((row * height + y) * width * 3 + column * width) * 3,
        );
    return { name: scene.name, ...figures };
  });
  const worst = proved.reduce((at, scene, i) => (scene.mean > proved[at].mean ? i : at), 0);
  const causes = proved[worst].mean > PROOF_LIMIT ? likelyCauses(material, delivered, intended) : [];
  return { proof: { scenes: proved, worst, causes }, sheet };
}
