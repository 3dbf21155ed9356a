import { CONDITIONS, type Condition } from "#core/picture/condition";
import type { DrawnMaterial } from "#core/picture/surfaceReader";
import type { View } from "#core/picture/view";

/** What a delivery is proved under: each light on each shape, since each shows what the others hide. */
export interface Scene {
  name: string;
  condition: Condition;
  shape: "panel" | "block";
}

export const SCENES: readonly Scene[] = (["studio", "grazing", "behind"] as const).flatMap((light) =>
  (["panel", "block"] as const).map((shape) => ({
    name: `${CONDITIONS[light].name}, ${shape}`,
    condition: CONDITIONS[light],
    shape,
  })),
);

export const PROOF_SIZE = { width: 144, height: 108 };

/** Without light from behind where neither lets any through: that would show nothing that the others do not. */
export function scenesFor(material: DrawnMaterial, delivered: DrawnMaterial): Scene[] {
  const isClosed = !letsThrough(material) && !letsThrough(delivered);
  return SCENES.filter(({ condition }) => condition.behind === 0 || !isClosed);
}

const letsThrough = ({ textures, finish }: DrawnMaterial): boolean =>
  textures.geometry_opacity !== undefined ||
  textures.transmission_weight !== undefined ||
  (finish.transmissionWeight ?? 0) > 0 ||
  finish.thinWalled === true;

/** One repeat at most, of which two metres at most, from its upper left corner. */
const MOST_MM = 2000;

export function sceneView(scene: Scene, repeat: { width: number; height: number }): View {
  const { width, height } = PROOF_SIZE;
  const across = Math.min(MOST_MM, Math.max(repeat.width, (repeat.height * width) / height));
  const mmPerPx = across / width;
  const centre =
    scene.shape === "panel" ? { x: across / 2, y: (across * height) / width / 2 } : { x: 0, y: 0 };
  return { shape: scene.shape, width, height, mmPerPx, centre, cards: false };
}
