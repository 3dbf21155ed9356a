import type { MapChannel } from "#core/roles/channel";
import { levelSize, tileLevelFor, tilesWithin } from "#core/raster/tiles";
import type { Placement, Size } from "../view/placement";

export interface TiledMap extends Size {
  sha256: string;
  channel: MapChannel;
}

interface TilesProps {
  map: TiledMap;
  place: Placement;
  /** How much taller a pixel is drawn than wide. */
  stretch: number;
  /** Room of the view, in its pixels. */
  box: Size;
  /** Pixels of the screen for one of the view. */
  density: number;
}

/** The parts of a large image that are in sight, as fine as they are drawn, over its picture as a whole. */
export function Tiles({ map, place, stretch, box, density }: TilesProps) {
  const { zoom, x, y } = place;
  const level = tileLevelFor(map, zoom * density);
  if (level === undefined) return null;
  const part = {
    left: -x / zoom,
    top: -y / zoom / stretch,
    right: (box.width - x) / zoom,
    bottom: (box.height - y) / zoom / stretch,
  };
  const size = levelSize(map, level);
  const across = (zoom * map.width) / size.width;
  const down = (zoom * stretch * map.height) / size.height;
  return tilesWithin(map, level, part).map((tile) => (
    <img
      key={`${level}-${tile.x}-${tile.y}`}
      className="tile"
      src={`/previews/${map.sha256}/${map.channel}/tile-${level}-${tile.x}-${tile.y}`}
      alt=""
      draggable={false}
      // One that is still to be made shows nothing of its own: the whole picture lies under it.
      onError={(event) => (event.currentTarget.hidden = true)}
      onLoad={(event) => (event.currentTarget.hidden = false)}
      style={{
        width: tile.width * across,
        height: tile.height * down,
        transform: `translate(${x + tile.left * across}px, ${y + tile.top * down}px)`,
        imageRendering: zoom > 2 ? "pixelated" : "auto",
      }}
    />
  ));
}
