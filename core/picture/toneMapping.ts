import type { Rgb } from "#core/shade/rgb";
import type { Condition } from "#core/picture/condition";

const START = 0.8 - 0.04;
const DESATURATION = 0.15;

/**
 * Linear light to what is shown, 0..1: cut off, or by the Khronos PBR neutral curve (2024), which takes off what a
 * plain surface mirrors (0.04), leaves what is below 0.8 otherwise as it is, and presses the rest together. */
export function toneMapped(color: Rgb, tone: Condition["tone"]): Rgb {
  if (tone === "none") return color;
  const least = Math.min(...color);
  const offset = least < 0.08 ? least - 6.25 * least * least : 0.04;
  const lowered: Rgb = [color[0] - offset, color[1] - offset, color[2] - offset];
  const peak = Math.max(...lowered);
  if (peak < START) return lowered;
  const room = 1 - START;
  const pressed = 1 - (room * room) / (peak + room - START);
  const share = 1 - 1 / (DESATURATION * (peak - pressed) + 1);
  const toward = (value: number) => {
    const scaled = (value * pressed) / peak;
    return scaled + (pressed - scaled) * share;
  };
  return [toward(lowered[0]), toward(lowered[1]), toward(lowered[2])];
}
