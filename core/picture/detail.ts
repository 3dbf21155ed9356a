/**
 * How often a map is halved before it is drawn: about as fine as the pixels of the picture, so that it neither flickers nor blurs. Whole
 * halves, as the levels of a graphics card are.
 * @param map in pixels @param size of it in millimetres
 */
export const detailLevel = (
  map: { width: number; height: number },
  size: { width: number; height: number },
  mmPerPx: number,
): number =>
  Math.max(0, Math.round(Math.log2(mmPerPx / Math.min(size.width / map.width, size.height / map.height))));
