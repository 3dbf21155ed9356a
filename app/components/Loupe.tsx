import type { Point } from "#core/gauge/repeat";
import { wholePreviewUrl } from "./previewUrl";
import { Tiles, type TiledMap } from "./Tiles";

const SIDE = 132;
/** So many pixels of the screen for one of the image, or twice as many as the view shows. */
const LEAST_ZOOM = 6;

interface LoupeProps {
  map: TiledMap;
  stretch: number;
  at: Point;
  zoom: number;
}

/** What lies under the pointer, enlarged, with a cross on the very place. It keeps to the corner that is out of the way. */
export function Loupe({ map, stretch, at, zoom }: LoupeProps) {
  const enlarged = Math.max(LEAST_ZOOM, 2 * zoom);
  const [width, height] = [map.width * enlarged, map.height * stretch * enlarged];
  const place = { zoom: enlarged, x: SIDE / 2 - at.x * enlarged, y: SIDE / 2 - at.y * stretch * enlarged };
  const left = at.x / map.width > 0.6 && at.y / map.height < 0.4;
  return (
    <div className={`loupe${left ? " left" : ""}`} aria-hidden="true" style={{ width: SIDE, height: SIDE }}>
      <img
        src={wholePreviewUrl(map, Infinity)}
        alt=""
        draggable={false}
        style={{
          width,
          height,
          transform: `translate(${place.x}px, ${place.y}px)`,
        }}
      />
      <Tiles map={map} place={place} stretch={stretch} box={{ width: SIDE, height: SIDE }} density={1} />
      <span className="loupe-reading number">
        {at.x.toFixed(1)}, {at.y.toFixed(1)}
      </span>
    </div>
  );
}
