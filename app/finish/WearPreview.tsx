import { useEffect, useRef, useState } from "react";
import { markOf, proposedPolarity, type Polarity } from "#core/finish/wear";
import type { Wear } from "#server/material/wear";
import { previewUrl } from "../components/previewUrl";
import { pixelsOf } from "./pixelsOf";

const BINS = 32;

/** The marks as they are taken, in the colour of what is looked at, and how the values of the layer spread. */
export function WearPreview({ wear: { mask, name }, polarity }: { wear: Wear; polarity: Polarity }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [image, setImage] = useState<ImageData>();
  const url = previewUrl(mask.sha256, 256, mask.channel);
  useEffect(() => {
    let isGone = false;
    pixelsOf(url).then(
      (read) => isGone || setImage(read),
      () => isGone || setImage(undefined),
    );
    return () => void (isGone = true);
  }, [url]);
  useEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!image || !context) return;
    const shown = new ImageData(image.width, image.height);
    for (let i = 0; i < image.data.length; i += 4) {
      const mark = markOf(image.data[i] / 255, polarity);
      // Paper where there is nothing, brick red where there is a mark.
      shown.data[i] = 247 + (158 - 247) * mark;
      shown.data[i + 1] = 244 + (59 - 244) * mark;
      shown.data[i + 2] = 236 + (46 - 236) * mark;
      shown.data[i + 3] = 255;
    }
    context.putImageData(shown, 0, 0);
  }, [image, polarity]);
  if (!image) return <p className="aside wide">The preview of {name} is not there yet.</p>;
  const values = Float32Array.from({ length: image.data.length / 4 }, (_, i) => image.data[4 * i] / 255);
  const counts = new Float32Array(BINS);
  for (const value of values) counts[Math.min(BINS - 1, Math.floor(value * BINS))]++;
  const most = Math.max(...counts);
  const proposed = proposedPolarity(values);
  return (
    <div className="wear-preview wide">
      <canvas
        ref={canvas}
        width={image.width}
        height={image.height}
        role="img"
        aria-label={`Marks of ${name}, the ${polarity} parts of it`}
      />
      <div>
        <svg
          viewBox={`0 0 ${BINS} 12`}
          preserveAspectRatio="none"
          role="img"
          aria-label="How its values spread, from dark to light"
        >
          {[...counts].map((count, at) => {
            // By its root, so that few marks beside much ground are seen.
            const height = 12 * Math.sqrt(count / most);
            return <rect key={at} x={at} y={12 - height} width={0.85} height={height} />;
          })}
        </svg>
        <p className="aside">
          {proposed.isSure
            ? `By how they spread, its ${proposed.polarity} parts are the marks.`
            : "How they spread does not tell which parts are the marks."}
        </p>
      </div>
    </div>
  );
}
