import { lazy, Suspense, useEffect, useMemo, useState } from "react";
import type { Finish } from "#core/finish/finish";
import type { MaterialMap } from "#core/finish/material";
import { roughnessSpread } from "#core/finish/roughnessSpread";
import { previewUrl } from "../components/previewUrl";
import { pixelsOf } from "./pixelsOf";

const RoughnessChart = lazy(() => import("./RoughnessChart"));

/** What a roughness map holds, before and after what is done to it. */
export function RoughnessClause({ maps, finish }: { maps: readonly MaterialMap[]; finish: Finish }) {
  const map =
    maps.find(({ role }) => role === "gloss") ?? maps.find(({ role }) => role === "specular_roughness");
  const [values, setValues] = useState<Float32Array>();
  const url = map && previewUrl(map.sha256, 256, map.channel);
  const isGloss = map?.role === "gloss";
  useEffect(() => {
    if (!url) return;
    let isGone = false;
    pixelsOf(url).then(
      ({ data }) =>
        isGone ||
        setValues(
          Float32Array.from({ length: data.length / 4 }, (_, i) => {
            const value = data[4 * i] / 255;
            return isGloss ? 1 - value : value;
          }),
        ),
      () => isGone || setValues(undefined),
    );
    return () => void (isGone = true);
  }, [url, isGloss]);
  const { roughnessScale, roughnessShift, roughnessRange } = finish;
  const spread = useMemo(
    () => values && roughnessSpread(values, { roughnessScale, roughnessShift, roughnessRange }),
    [values, roughnessScale, roughnessShift, roughnessRange],
  );
  if (!spread) return null;
  const { mean, flattened } = spread;
  return (
    <div className="roughness-spread">
      <Suspense fallback={<div className="roughness-chart" />}>
        <RoughnessChart spread={spread} />
      </Suspense>
      <p className="aside">
        mean {mean.before.toFixed(2)} as it came, {mean.after.toFixed(2)} now
        {flattened > 0.01 && (
          <span className="mark look">, {Math.round(flattened * 100)} % of it flattened at a limit</span>
        )}
      </p>
    </div>
  );
}
