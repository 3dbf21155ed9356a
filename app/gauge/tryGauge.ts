import { GaugeError, gaugeRepeat, type GaugeResult, type PixelSize } from "#core/gauge/repeat";
import type { readGauge } from "./readGauge";

/** The size that comes of what is typed, or why none does; neither as long as something is missing. */
export function tryGauge(
  image: PixelSize,
  reading: ReturnType<typeof readGauge>,
): { result?: GaugeResult; trouble?: string } {
  if ("waiting" in reading) return {};
  if ("field" in reading) return { trouble: reading.message };
  try {
    return { result: gaugeRepeat(image, reading.request, reading.request.keep) };
  } catch (error) {
    if (error instanceof GaugeError) return { trouble: error.message };
    throw error;
  }
}
