import type { Point } from "#core/gauge/repeat";

const SIDE = 132;
/** So many pixels of the screen for one of the image, or twice as many as the view shows. */
const LEAST_ZOOM = 6;

interface LoupeProps {
  url: string;
  size: { width: number; height: number };
  stretch: number;
  at: Point;
  zoom: number;
}

/** What lies under the pointer, enlarged, with a cross on the very place. It keeps to the corner that is out of the way. */
export function Loupe({ url, size, stretch, at, zoom }: LoupeProps) {
  const enlarged = Math.max(LEAST_ZOOM, 2 * zoom);
  const [width, height] = [size.width * enlarged, size.height * stretch * enlarged];
  const left = at.x / size.width > 0.6 && at.y / size.height < 0.4;
  return (
    <div className={`loupe${left ? " left" : ""}`} aria-hidden="true" style={{ width: SIDE, height: SIDE }}>
      <img
        src={url}
        alt=""
        draggable={false}
        style={{
          width,
          height,
          transform: `translate(${SIDE / 2 - at.x * enlarged}px, ${SIDE / 2 - at.y * stretch * enlarged}px)`,
        }}
      />
      <span className="loupe-reading number">
        {at.x.toFixed(1)}, {at.y.toFixed(1)}
      </span>
    </div>
  );
}
