import { finishSchema } from "#core/finish/finish";
import type { EncodedImage } from "#core/formats/container";
import { containerKind } from "#core/formats/containers";
import type { Role } from "#core/roles/roles";

const KINDS = ["materialx", "usda", "mtl", "ifc"] as const;
const ROLES: Role[] = ["base_color", "specular_roughness", "geometry_normal", "height", "ambient_occlusion"];
const RUNS = 50;

/** Seconds that the four material files whose images stay beside them take to be written, all together. */
export async function containersAdd(): Promise<number> {
  const images = ROLES.map((role): EncodedImage => ({
    role,
    channels: null,
    fileName: `wall_${role}.png`,
    format: "png",
    read: async () => new Uint8Array(),
  }));
  const material = {
    name: "Wall",
    fileName: "wall",
    repeat: { width: 900, height: 600 },
    heightMm: 8,
    finish: finishSchema.parse({}),
  };
  const start = performance.now();
  for (let run = 0; run < RUNS; run++)
    for (const name of KINDS) {
      const kind = containerKind(name);
      await kind.write(
        material,
        images.filter((image) => kind.takes(image)),
      );
    }
  return (performance.now() - start) / 1000 / RUNS;
}
