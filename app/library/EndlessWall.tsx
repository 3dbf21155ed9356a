import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { useLocation } from "react-router";
import { DragHandle } from "../components/DragHandle";
import { SamplePatch } from "../components/SamplePatch";
import { GAP, SampleWall, SIDE } from "../components/SampleWall";
import { useSelection } from "../view/selection";
import type { DraggedSample } from "./PlaceByDrag";
import type { WallPages } from "./useWallPages";
import { keepPlace, placeKept, type WallPlace } from "./wallPlace";

interface EndlessWallProps {
  label: string;
  pages: WallPages;
  /** The first that is shown before anybody scrolls. */
  startsAt: number;
  /** Whether they may be dragged to other places. */
  mayDrag: boolean;
}

/** A row of patches with their tags, until it is measured. */
const ROW_PX = 256;
/** Rows that are drawn beyond those in view: a small library is drawn whole, and can be searched by the browser. */
const BEYOND = 12;
/** So long it takes at most until what is in view is measured, once it has come. */
const SETTLES_MS = 1500;
/** By which somebody scrolls. */
const BY_HAND = ["wheel", "touchstart", "pointerdown", "keydown"] as const;

/**
 * All that a search finds, as one wall: rows are drawn as they come into view, and on return it stands where it was left.
 * Samples are selected, and dragged where they may be.
 */
export function EndlessWall({ label, pages, startsAt, mayDrag }: EndlessWallProps) {
  const selection = useSelection();
  const { key, pathname, search } = useLocation();
  const visit = `${key} ${pathname}${search}`;
  const list = useRef<HTMLUListElement>(null);
  // Nothing is known of the screen until the page is alive; until then the first ones stand there as they came.
  const [laid, setLaid] = useState<{ columns: number; top: number }>();
  const { columns = 1, top = 0 } = laid ?? {};
  const rows = useWindowVirtualizer({
    count: Math.ceil(pages.total / columns),
    estimateSize: () => ROW_PX,
    gap: GAP,
    overscan: BEYOND,
    scrollMargin: top,
    enabled: laid !== undefined,
  });

  useLayoutEffect(() => {
    const lay = () => {
      const element = list.current;
      if (!element) return;
      const columns = Math.max(1, Math.floor((element.clientWidth + GAP) / (SIDE + GAP)));
      const top = Math.round(element.getBoundingClientRect().top + window.scrollY);
      setLaid((before) => (before?.columns === columns && before.top === top ? before : { columns, top }));
    };
    lay();
    // What comes and goes above the wall moves it.
    const observer = new ResizeObserver(lay);
    observer.observe(document.body);
    return () => observer.disconnect();
  }, []);

  const isLaid = laid !== undefined;
  // Rows turn out higher or lower than they were taken for: until they are measured, or somebody scrolls, it is put right again.
  const held = useRef<WallPlace>(undefined);
  useEffect(() => {
    const kept = placeKept(visit) ?? { item: startsAt, within: 0 };
    // At its beginning nothing has to be put right.
    held.current = kept.item > 0 || kept.within > 0 ? kept : undefined;
    const letGo = () => (held.current = undefined);
    for (const event of BY_HAND) window.addEventListener(event, letGo, { once: true, passive: true });
    return () => {
      for (const event of BY_HAND) window.removeEventListener(event, letGo);
    };
  }, [visit, startsAt]);
  const { range } = rows;
  const isAwaited =
    !isLaid ||
    !range ||
    Array.from({ length: (range.endIndex - range.startIndex + 1) * columns }, (_, n) => n).some((n) => {
      const at = range.startIndex * columns + n;
      return at < pages.total && !pages.at(at);
    });
  useEffect(() => {
    if (isAwaited) return;
    const timer = window.setTimeout(() => (held.current = undefined), SETTLES_MS);
    return () => window.clearTimeout(timer);
  }, [visit, startsAt, isAwaited]);
  useLayoutEffect(() => {
    if (!isLaid || !held.current) return;
    const { item, within } = held.current;
    const [start] = rows.getOffsetForIndex(Math.floor(item / columns), "start") ?? [0];
    if (Math.abs(window.scrollY - start - within) > 1) window.scrollTo(0, start + within);
  });

  // Before the window is measured no row is known to be in view: what stands there stays, or clicks on it would be lost.
  const shown = isLaid ? rows.getVirtualItems() : [];
  const isDrawn = shown.length > 0;
  const { want } = pages;
  useEffect(() => {
    if (!isLaid || !range) return;
    want(range.startIndex * columns, (range.endIndex + 1) * columns);
    if (held.current) return;
    const [start] = rows.getOffsetForIndex(range.startIndex, "start") ?? [0];
    keepPlace(visit, { item: range.startIndex * columns, within: window.scrollY - start });
  });

  const [from, to] = isDrawn
    ? [(shown.at(0)?.index ?? 0) * columns, ((shown.at(-1)?.index ?? -1) + 1) * columns]
    : [startsAt, startsAt + pages.pageRows];
  const left = {
    before: (shown.at(0)?.start ?? top) - top,
    after: isDrawn ? Math.max(0, rows.getTotalSize() - ((shown.at(-1)?.end ?? top) - top)) : 0,
  };
  const places = Array.from({ length: Math.max(0, Math.min(to, pages.total) - from) }, (_, n) => from + n);
  return (
    <>
      <SampleWall label={label} list={list} left={left}>
        {places.map((at) => {
          const sample = pages.at(at);
          const measured =
            isDrawn && at % columns === 0 ? { row: at / columns, by: rows.measureElement } : undefined;
          if (!sample) return <Awaited key={at} measured={measured} />;
          const { id, name, preview } = sample;
          return (
            <SamplePatch
              key={id}
              sample={sample}
              side={SIDE}
              selected={selection.ids.has(id)}
              onToggle={() => selection.toggle(id)}
              act={mayDrag && <DragHandle id={id} data={{ id, name, preview } satisfies DraggedSample} />}
              place={{ at: at + 1, of: pages.total }}
              measured={measured}
            />
          );
        })}
      </SampleWall>
      {pages.isFailed && (
        <p role="alert" className="wall-failed">
          Some of it could not be loaded.{" "}
          <Button size="sm" variant="outline-secondary" onClick={pages.tryAgain}>
            Try again
          </Button>
        </p>
      )}
    </>
  );
}

/** The place of one that has not come yet. */
const Awaited = ({ measured }: Pick<Parameters<typeof SamplePatch>[0], "measured">) => (
  <li
    className="sample awaited"
    aria-hidden="true"
    style={{ height: ROW_PX }}
    data-index={measured?.row}
    ref={measured?.by}
  >
    <span className="patch" style={{ width: SIDE, height: SIDE }} />
  </li>
);
