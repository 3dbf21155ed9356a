import { createHash } from "node:crypto";
import type { MaterialPlan, PlannedFile } from "#core/convert/materialPlan";

/** Raised whenever the same plan would give other bytes: a changed kernel, encoder or container. */
const VERSION = 2;

/** The same for the texts in a package. */
const TEXTS = 3;

/** A hash of everything that a converted image depends on: its sources by content, and each operation. */
export function imageRecipe(file: PlannedFile, wrap: boolean): string {
  const { image, format, width, height, bitDepth, tag, quality } = file;
  // Without a tag and of usual quality it is made as ever, so that what was made before is not made again.
  const said = { ...(tag !== "none" && { tag }), ...(quality !== undefined && { quality }) };
  return digest({ image: withoutNames(image), format, width, height, bitDepth, wrap, ...said });
}

/** The same for a container: its images by hash, and the values around them. */
export function containerRecipe(plan: MaterialPlan, images: string[]): string {
  const { name, fileName, repeat, finish } = plan.material;
  // A GLB is made as ever, so that what was made before is not made again; it has no file names in it.
  const kind =
    plan.container?.kind === "glb"
      ? {}
      : { kind: plan.container?.kind, written: TEXTS, fileName, files: plan.files.map(({ path }) => path) };
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
