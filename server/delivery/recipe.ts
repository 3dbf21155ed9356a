import { createHash } from "node:crypto";
import type { MaterialPlan, PlannedFile } from "#core/convert/materialPlan";

/** Raised whenever the same plan would give other bytes: a changed kernel, encoder or container. */
const VERSION = 2;

/** A hash of everything that a converted image depends on: its sources by content, and each operation. */
export function imageRecipe(file: PlannedFile, wrap: boolean): string {
  const { image, format, width, height, bitDepth } = file;
  return digest({ image: withoutNames(image), format, width, height, bitDepth, wrap });
}

/** The same for a container: its images by hash, and the values around them. */
export function containerRecipe(plan: MaterialPlan, images: string[]): string {
  const { name, repeat, finish } = plan.material;
  // A GLB is made as ever, so that what was made before is not made again.
  const kind = plan.container?.kind === "glb" ? {} : { kind: plan.container?.kind };
  return digest({
    ...kind,
    values: { name, repeat, finish },
    images,
    roles: plan.files.map(({ role }) => role),
  });
}

function digest(content: unknown): string {
  return createHash("sha256")
    .update(JSON.stringify([VERSION, content]))
    .digest("hex");
}

/** File names do not change pixels. */
function withoutNames(image: unknown): unknown {
  return JSON.parse(JSON.stringify(image, (key, value: unknown) => (key === "fileName" ? undefined : value)));
}
