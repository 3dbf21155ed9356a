import { carryOut } from "#core/convert/carryOut";
import type { PlannedFile } from "#core/convert/plan";
import { isColorRole } from "#core/maps/roles";
import type { AlphaContent } from "#core/maps/planCandidates";
import { alphaContent } from "#server/images/alphaContent";
import { decode, readFacts, type ImageFacts } from "#server/images/decode";
import { encode } from "#server/images/encode";
import { makePreviews, type PreviewSize } from "#server/images/previews";

/** Work on pixels that runs in threads of its own; arguments and results can be sent between threads. */

export interface IdentifiedImage extends ImageFacts {
  alpha: AlphaContent;
}

/** Decodes an image once: what it is, and whether it is whole. @throws with a sentence for people. */
export async function identify({ path }: { path: string }): Promise<IdentifiedImage> {
  const facts = await readFacts(path);
  const raster = await decode(path, facts.format, "data").catch((error: Error) => {
    throw new Error(
      facts.format === "tga" ? error.message : `The ${facts.format.toUpperCase()} is damaged or cut short.`,
    );
  });
  return { ...facts, alpha: alphaContent(raster) };
}

export interface PreviewTask {
  path: string;
  format: string;
  channel: "color" | "alpha";
  use: "color" | "data";
}

export async function preview(task: PreviewTask): Promise<{ size: PreviewSize; data: Uint8Array }[]> {
  return makePreviews(await decode(task.path, task.format, task.use), task.channel, task.use);
}

export interface ConvertTask {
  file: PlannedFile;
  /** Where each source file lies, and its format, by hash. */
  sources: Record<string, { path: string; format: string }>;
  wrap: boolean;
}

export interface Converted {
  data: Uint8Array;
  width: number;
  height: number;
  bitDepth: 8 | 16;
  channels: number;
}

/** Carries out the plan of one delivered image and encodes it. */
export async function convert({ file, sources, wrap }: ConvertTask): Promise<Converted> {
  const raster = await carryOut(
    file.image,
    (map) => {
      const { path, format } = sources[map.sha256];
      return decode(path, format, isColorRole(map.role) && map.channel === "color" ? "color" : "data");
    },
    { wrap },
  );
  const { width, height, bitDepth, channels } = raster;
  return { data: await encode(raster, file.format), width, height, bitDepth, channels };
}
