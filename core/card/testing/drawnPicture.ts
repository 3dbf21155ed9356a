import { drawByModel } from "#core/card/testing/ownRenderer";
import { drawnHidden, truthOf, type Hidden, type Readers } from "#core/card/testing/hidden";
import { hold } from "#core/card/testing/hold";
import { drawOtherwise } from "#core/card/testing/otherRenderer";
import { photographed, randomOf } from "#core/card/testing/photographed";
import { CONDITIONS } from "#core/picture/condition";
import type { Raster } from "#core/raster/raster";

/** Who draws a card: the application's shading model, or one that shares nothing with it. */
export type Renderer = "model" | "other";

/**
 * What a renderer of hidden conventions makes of a card, as an artist hands it in before it is compressed: one of three kinds of
 * light, the lamp somewhere up left, one of two tone curves, an exposure, from a little aside, with noise. All follows from the seed.
 * @param side of the drawn card, in pixels
 */
export function drawnPicture(
  renderer: Renderer,
  seed: number,
  { side, readers, number = 1234 }: { side: number; readers: Readers; number?: number },
): { picture: Raster; hidden: Hidden; truth: Record<string, string> } {
  const random = randomOf(seed);
  const hidden = drawnHidden(random, readers);
  const kind = seed % 3;
  const light = {
    around: 105 + random() * 55,
    above: 28 + random() * 40,
    share: 0.4 + random() * 0.4,
    isToned: random() < 0.5,
    stops: random(),
  };
  const held = hold(hidden, number);
  const drawn =
    renderer === "model"
      ? drawByModel(held, side, {
          ...CONDITIONS.studio,
          environment: kind === 2 ? "low-sun" : "overcast",
          lampAround: light.around,
          lampAbove: light.above,
          lampShare: light.share,
          tone: light.isToned ? "neutral" : "none",
          exposureStops: -0.6 + light.stops * 0.5,
          ground: "grey",
        })
      : drawOtherwise(
          held,
          side,
          {
            around: light.around,
            above: light.above,
            lamp: [0.6, 0.9, 0.75][kind],
            sky: [0.5, 0.25, 0.4][kind],
            exposure: 0.7 + light.stops * 0.4,
            tone: light.isToned ? "filmic" : "none",
          },
          { isHarsh: random() < 0.5, isCast: random() < 0.5 },
        );
  return { picture: photographed(drawn, random, 0.05, 2 + random() * 3), hidden, truth: truthOf(hidden) };
}
