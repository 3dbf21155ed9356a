import type { Point } from "#core/gauge/repeat";

/** Where an image lies on the table: its top left corner in the view, and pixels of the view for one horizontal image pixel. */
export interface Placement {
  zoom: number;
  x: number;
  y: number;
}

export interface Size {
  width: number;
  height: number;
}

const LEAST = 0.02;
const MOST = 64;
/** Room around an image that is shown whole. */
const MARGIN = 12;

/** The whole image in the middle of the view. `drawn` is its size at zoom 1, after a stretch. */
export function fitWhole(view: Size, drawn: Size): Placement {
  const room = { width: Math.max(1, view.width - 2 * MARGIN), height: Math.max(1, view.height - 2 * MARGIN) };
  const zoom = clamp(Math.min(room.width / drawn.width, room.height / drawn.height));
  return { zoom, x: (view.width - drawn.width * zoom) / 2, y: (view.height - drawn.height * zoom) / 2 };
}

/** Larger or smaller by a factor; what lies at `at` stays there. */
export function zoomAt(place: Placement, factor: number, at: Point): Placement {
  const zoom = clamp(place.zoom * factor);
  const ratio = zoom / place.zoom;
  return { zoom, x: at.x - (at.x - place.x) * ratio, y: at.y - (at.y - place.y) * ratio };
}

/** From image pixels to pixels of the view; `stretch` is how much taller a pixel is drawn than wide. */
export function toView(place: Placement, stretch: number, point: Point): Point {
  return { x: place.x + point.x * place.zoom, y: place.y + point.y * stretch * place.zoom };
}

/** From pixels of the view to image pixels, on the image's edge where the pointer has left it. */
export function toImage(place: Placement, stretch: number, size: Size, point: Point): Point {
  return {
    x: within((point.x - place.x) / place.zoom, size.width),
    y: within((point.y - place.y) / place.zoom / stretch, size.height),
  };
}

/** How much taller a pixel is drawn than wide, so that an image has its real proportions. */
export function stretchOfPixels(size: Size, repeat: Size | null): number {
  return repeat ? repeat.height / size.height / (repeat.width / size.width) : 1;
}

const within = (value: number, most: number) => Math.min(most, Math.max(0, value));
const clamp = (zoom: number) => Math.min(MOST, Math.max(LEAST, zoom));
