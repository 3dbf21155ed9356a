import type { Repeat } from "#core/length/repeat";
import type { MapChannel } from "#core/roles/channel";
import { closePreviewUrl } from "../components/previewUrl";
import type { ModuleOnSurface } from "./moduleOf";
import { surfaceLines } from "./surfaceLines";

interface SurfacePlanProps {
  surface: { width: number | undefined; height: number | undefined };
  module: ModuleOnSurface;
  repeat: Repeat;
  /** Where the first whole module begins, mm from the left and from the bottom. */
  origin: { left: number; bottom: number };
  /** Of each course against the one above, or of each column against the one to its left, as a part of a module. */
  shift: number;
  upright: boolean;
  /** By how much the maps will be moved, in shares of the repeat. */
  start: { right: number; down: number };
  map: { sha256: string; channel: MapChannel; width: number; height: number } | undefined;
}

const WIDTH = 640;
const HEIGHT = 440;

/** The surface with the material on it at scale, joints drawn as they will lie, and cut pieces marked. */
export function SurfacePlan({
  surface,
  module,
  repeat,
  origin,
  shift,
  upright,
  start,
  map,
}: SurfacePlanProps) {
  const { width, height } = surface;
  if (!width || !height) return <p className="page">Type the width and the height of the surface.</p>;
  const scale = Math.min(WIDTH / width, HEIGHT / height);
  const [w, h] = [width * scale, height * scale];
  const step = { x: (module.across?.coordinating ?? 0) * scale, y: (module.up?.coordinating ?? 0) * scale };
  const joints = surfaceLines({
    width: w,
    height: h,
    step,
    origin: { left: origin.left * scale, bottom: origin.bottom * scale },
    shift,
    upright,
  })
    .map(({ x1, y1, x2, y2 }) => `M${x1} ${y1}L${x2} ${y2}`)
    .join("");
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
      <path className="casing" d={joints} />
      <path d={joints} />
      <rect width={w} height={h} className="rim" />
    </svg>
  );
}
