import { Refusal } from "#core/text/refusal";
import type { FloatImage } from "#server/pixels/floatImage";

/** Size of a Radiance picture from its text header; undefined where it is none. @throws where the size is missing. */
export function readRadianceHeader(file: Uint8Array): { width: number; height: number } | undefined {
  const head = Buffer.from(file.subarray(0, 4096)).toString("latin1");
  if (!/^#\?(RADIANCE|RGBE)/.test(head)) return undefined;
  const size = /\n-Y (\d{1,6}) \+X (\d{1,6})\n/.exec(head);
  if (!size)
    throw new Refusal(
      "The Radiance picture has no size in its header, or its rows do not run from the top left.",
    );
  return { height: Number(size[1]), width: Number(size[2]) };
}

/** @throws with a sentence where the pixels cannot be read. */
export async function readRadiance(file: Uint8Array): Promise<FloatImage> {
  const size = readRadianceHeader(file)!;
  const [{ FloatType }, { HDRLoader }] = await Promise.all([
    import("three"),
    import("three/examples/jsm/loaders/HDRLoader.js"),
  ]);
  const loader = new HDRLoader();
  loader.setDataType(FloatType);
  let parsed;
  try {
    const bytes = file.buffer.slice(file.byteOffset, file.byteOffset + file.byteLength) as ArrayBuffer;
    parsed = loader.parse(bytes) as unknown as { data: Float32Array; width: number; height: number };
  } catch {
    throw new Refusal("The Radiance picture is damaged: its pixels end before the image does.");
  }
  if (
    parsed.width !== size.width ||
    parsed.height !== size.height ||
    parsed.data.length < size.width * size.height * 4
  )
    throw new Refusal("The Radiance picture is damaged: its pixels end before the image does.");
  const data = new Float32Array(size.width * size.height * 3);
  for (let i = 0, o = 0; o < data.length; i += 4) for (let c = 0; c < 3; c++) data[o++] = parsed.data[i + c];
  return { ...size, channels: 3, data };
}
