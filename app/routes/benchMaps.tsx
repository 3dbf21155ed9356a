import { useState } from "react";
import { ROLE_NAMES } from "#core/maps/roles";
import { densityOf } from "#core/gauge/repeat";
import { Findings } from "../components/Findings";
import { ImageTable } from "../components/ImageTable";
import { closePreviewUrl } from "../components/previewUrl";
import { look } from "../guard";
import { useBench } from "../view/useBench";
import { useView } from "../view/viewContext";

export const loader = look(async () => null);

/** The maps of the material, one at a time, large. */
export default function BenchMaps() {
  const { material } = useBench();
  const { unit } = useView();
  const maps = material.maps.toSorted(
    (a, b) => Number(b.role === "base_color") - Number(a.role === "base_color"),
  );
  const [shown, setShown] = useState(maps[0]?.role);
  const map = maps.find(({ role }) => role === shown) ?? maps[0];
  if (!map)
    return (
      <div className="plain-face" style={{ background: material.finish.color }}>
        <p>
          <span className="number">{material.finish.color}</span> · roughness{" "}
          <span className="number">{material.finish.roughness}</span>
        </p>
      </div>
    );
  return (
    <>
      <div className="map-tabs" role="group" aria-label="Maps">
        {maps.map(({ role }) => (
          <button key={role} type="button" aria-pressed={role === map.role} onClick={() => setShown(role)}>
            {ROLE_NAMES[role]}
          </button>
        ))}
      </div>
      <ImageTable
        url={closePreviewUrl(map)}
        alt={`${ROLE_NAMES[map.role]} map`}
        size={map}
        repeat={material.repeat}
        unit={unit}
        tools={
          <span className="map-facts">
            <span className="file">{map.fileName.replace(/#alpha$/, ", fourth channel")}</span>
            <span className="number">
              {map.width} × {map.height} px, {map.bitDepth}-bit
            </span>
            {map.normalDirection && <span className="number">{map.normalDirection.replace("-", "−")}</span>}
            {material.repeat && (
              <span className="number">{Math.round(densityOf(map.width, material.repeat.width))} px/m</span>
            )}
          </span>
        }
      />
      <Findings findings={material.findings} />
    </>
  );
}
