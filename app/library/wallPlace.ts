/** Where on a wall somebody was: a sample of the topmost row in view, and how far that row is scrolled away. */
export interface WallPlace {
  item: number;
  within: number;
}

const nameOf = (visit: string) => `wall ${visit}`;

/** Keeps where somebody was on a page that they may come back to. @param visit the page, and the visit as the history of the browser knows it */
export function keepPlace(visit: string, place: WallPlace): void {
  try {
    sessionStorage.setItem(nameOf(visit), JSON.stringify(place));
  } catch {
    // A browser that keeps nothing begins at the top.
  }
}

export function placeKept(visit: string): WallPlace | undefined {
  try {
    const kept = sessionStorage.getItem(nameOf(visit));
    return kept === null ? undefined : (JSON.parse(kept) as WallPlace);
  } catch {
    return undefined;
  }
}
