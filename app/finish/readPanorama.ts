import type { Panorama } from "#core/picture/environment";
import { panoramaOfBytes } from "#core/picture/panorama";

const read = new Map<string, Promise<Panorama>>();

/** An environment of the library, read once. @throws {Error} in words where it cannot light anything */
export function readPanorama(sha256: string): Promise<Panorama> {
  const known = read.get(sha256);
  if (known) return known;
  const reading = ask(sha256);
  read.set(sha256, reading);
  // Asked for again where it failed.
  reading.catch(() => read.delete(sha256));
  return reading;
}

async function ask(sha256: string): Promise<Panorama> {
  const response = await fetch(`/api/v1/environments/${sha256}/panorama`);
  if (response.ok) return panoramaOfBytes(await response.arrayBuffer());
  const { detail } = (await response.json().catch(() => ({}))) as { detail?: string };
  throw new Error(detail ?? "The environment cannot be read.");
}
