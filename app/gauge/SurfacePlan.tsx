import type { Repeat } from "#core/gauge/repeat";
import type { MapChannel } from "#core/maps/channel";
import { closePreviewUrl } from "../components/previewUrl";
import type { ModuleOnSurface } from "./moduleOf";

interface SurfacePlanProps {
  surface: { width: number | undefined; height: number | undefined };
  module: ModuleOnSurface;
  repeat: Repeat;
  /** Where the first whole module begins, mm from the left and from the bottom. */
  origin: { left: number; bottom: number };
  /** Of each course against the one below, as a part of a module. */
  shift: number;
  /** By how much the maps will be moved, in shares of the repeat. */
  start: { right: number; down: number };
  map: { sha256: string; channel: MapChannel; width: number; height: number } | undefined;
}

const WIDTH = 640;
const HEIGHT = 440;
/** More lines than this are no drawing any more. */
const MOST_LINES = 4000;

/** The surface with the material on it at scale, joints drawn as they will lie, and cut pieces marked. */
export function SurfacePlan({ surface, module, repeat, origin, shift, start, map }: SurfacePlanProps) {
  const { width, height } = surface;
  if (!width || !height) return <p className="page">Type the width and the height of the surface.</p>;
  const scale = Math.min(WIDTH / width, HEIGHT / height);
  const [w, h] = [width * scale, height * scale];
  const step = { x: (module.across?.coordinating ?? 0) * scale, y: (module.up?.coordinating ?? 0) * scale };
  const courses = step.y > 0 ? Math.ceil(h / step.y) + 1 : 1;
  const columns = step.x > 0 ? Math.ceil(w / step.x) + 1 : 0;
  const isDrawn = courses * Math.max(1, columns) < MOST_LINES;
  const lines: string[] = [];
  if (isDrawn)
    for (let course = -1; course < courses; course++) {
      const bottom = step.y > 0 ? h - origin.bottom * scale - course * step.y : h;
      const top = step.y > 0 ? bottom - step.y : 0;
      if (bottom <= 0 || top >= h) continue;
      if (step.y > 0 && top > 0) lines.push(`M0 ${top}H${w}`);
      if (step.x === 0) continue;
      const first = (((origin.left * scale - course * shift * step.x) % step.x) + step.x) % step.x;
      for (let x = first; x < w; x += step.x)
        if (x > 0) lines.push(`M${x} ${Math.max(0, top)}V${Math.min(h, bottom)}`);
    }
  return (
    <svg
      className="surface-plan"
      viewBox={`-4 -4 ${w + 8} ${h + 8}`}
      style={{ maxWidth: w + 8 }}
      role="img"
      aria-label="The surface with the courses on it"
    >
      {map && (
        <>
          <defs>
            <pattern
              id="on-surface"
              patternUnits="userSpaceOnUse"
              x={start.right * repeat.width * scale}
              y={h + start.down * repeat.height * scale}
              width={repeat.width * scale}
              height={repeat.height * scale}
            >
              <image
                href={closePreviewUrl(map)}
                width={repeat.width * scale}
                height={repeat.height * scale}
                preserveAspectRatio="none"
              />
            </pattern>
          </defs>
          <rect width={w} height={h} fill="url(#on-surface)" />
        </>
      )}
      <path className="casing" d={lines.join("")} />
      <path d={lines.join("")} />
      <rect width={w} height={h} className="rim" />
    </svg>
  );
}
