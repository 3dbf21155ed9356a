import { gaugeRepeat, type PixelSize, type RepeatMethod } from "#core/gauge/repeat";
import type { Repeat } from "#core/length/repeat";
import type { LineFacts } from "#core/supply/catalogue";

export interface SheetRepeat {
  repeat: Repeat;
  method: RepeatMethod;
  /** Stretch in percent that the sheet's sizes ask of the picture. */
  stretchPercent: number;
  /** Whether sizes and proportions go together: else one of them is not true, and the size is a guess. */
  agrees: boolean;
}

const LARGEST_STRETCH_PERCENT = 3;

/**
 * The repeat that a product sheet tells: modules in the picture times their coordinating size, or their cover size where
 * they lap. Undefined where the sheet does not say how many modules the picture holds.
 */
export function sheetRepeat(line: LineFacts, pixels: PixelSize): SheetRepeat | undefined {
  const { picture, workSize, coverSize, jointMm } = line;
  if (!picture || !(coverSize ?? workSize)) return undefined;
  const method: RepeatMethod = {
    method: "modules",
    ...picture,
    ...(coverSize ? { coverSize } : { workSize: workSize!, joint: jointMm ?? 0 }),
  };
  const { repeat, stretchPercent } = gaugeRepeat(pixels, method);
  return { repeat, method, stretchPercent, agrees: Math.abs(stretchPercent) <= LARGEST_STRETCH_PERCENT };
}
