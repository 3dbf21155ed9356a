import {
  useCallback,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
} from "react";
import { ButtonGroup } from "react-bootstrap";
import type { Point } from "#core/gauge/repeat";
import type { Repeat } from "#core/length/repeat";
import type { LengthUnit } from "#core/length/parseLength";
import { Button } from "./Button";
import { Loupe } from "./Loupe";
import { wholePreviewUrl } from "./previewUrl";
import { Tiles, type TiledMap } from "./Tiles";
import { fitWhole, stretchOfPixels, toImage, toView, zoomAt, type Placement } from "../view/placement";
import { useView } from "../view/viewContext";
import { Ruler, RULER_PX } from "./Ruler";

/** What is so near to the pointer is meant by it, in pixels of the view. */
const REACH_PX = 12;

/** Turns image pixels into pixels of the view. */
export type ToView = (point: Point) => Point;

/** What the pointer and the keys do on the image; points in its pixels. */
export interface Drawing {
  /** @param reach what counts as near, in pixels of the image */
  onStart(point: Point, reach: number): void;
  onMove(point: Point, reach: number): void;
  onEnd?(): void;
  /** The point that the arrow keys move by pixels, in place of the image. */
  active?: Point;
  onNudge?(dx: number, dy: number): void;
  /** To the next point, by the Enter key. */
  onNext?(): void;
}

interface ImageTableProps {
  /** The image; all points are given in its own pixels. */
  map: TiledMap;
  alt: string;
  /** Real size: then the image has its real proportions, and the rulers their real units. */
  repeat: Repeat | null;
  unit: LengthUnit;
  /** Draws with the pointer in place of moving the image. */
  drawing?: Drawing;
  /** What lies over the image, in the view's pixels. */
  overlay?(toView: ToView): ReactNode;
  tools?: ReactNode;
  /** Said beside the zoom, where it moves nothing: what is measured. */
  reading?: string;
}

/** An image to look at closely: moved, zoomed, measured on, between rulers. */
export function ImageTable({ map, alt, repeat, unit, drawing, overlay, tools, reading }: ImageTableProps) {
  const view = useView();
  const frame = useRef<HTMLDivElement>(null);
  const [box, setBox] = useState({ width: 0, height: 0 });
  const [place, setPlace] = useState<Placement>({ zoom: 1, x: 0, y: 0 });
  const held = useRef<{ x: number; y: number; place: Placement } | undefined>(undefined);
  const [pointed, setPointed] = useState<Point>();
  const stretch = stretchOfPixels(map, repeat);
  const density = typeof devicePixelRatio === "number" ? devicePixelRatio : 1;
  // Nothing yet, as long as the room for it is not known.
  const drawnPx = box.width && place.zoom * density * Math.max(map.width, map.height);
  const drawn = { width: map.width, height: map.height * stretch };

  /** As long as nobody has moved the image, it is fitted again whenever its room changes. */
  const moved = useRef(false);
  const fit = useCallback(() => {
    const element = frame.current;
    if (!element) return;
    moved.current = false;
    const view = { width: element.clientWidth, height: element.clientHeight };
    setBox(view);
    setPlace(fitWhole(view, { width: drawn.width, height: drawn.height }));
  }, [drawn.width, drawn.height]);
  useLayoutEffect(fit, [fit]);
  useEffect(() => {
    const element = frame.current!;
    const observer = new ResizeObserver(() => {
      if (moved.current) setBox({ width: element.clientWidth, height: element.clientHeight });
      else fit();
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [fit]);

  const zoomBy = useCallback((factor: number, at?: Point) => {
    moved.current = true;
    const { clientWidth, clientHeight } = frame.current!;
    setPlace((before) => zoomAt(before, factor, at ?? { x: clientWidth / 2, y: clientHeight / 2 }));
  }, []);

  useEffect(() => {
    const element = frame.current!;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const rect = element.getBoundingClientRect();
      zoomBy(Math.exp(-event.deltaY * 0.0015), { x: event.clientX - rect.left, y: event.clientY - rect.top });
    };
    // React listens passively, and then the page would scroll along.
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, [zoomBy]);

  const onView: ToView = (point) => toView(place, stretch, point);
  const onImage = (event: PointerEvent): Point => {
    const { left, top } = frame.current!.getBoundingClientRect();
    return toImage(place, stretch, map, { x: event.clientX - left, y: event.clientY - top });
  };

  const down = (event: PointerEvent) => {
    if (event.button > 1) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    if (drawing && event.button === 0) drawing.onStart(onImage(event), REACH_PX / place.zoom);
    held.current = { x: event.clientX, y: event.clientY, place };
  };
  const move = (event: PointerEvent) => {
    if (drawing) setPointed(onImage(event));
    const from = held.current;
    if (!from) return;
    if (drawing && event.buttons === 1) drawing.onMove(onImage(event), REACH_PX / place.zoom);
    else {
      moved.current = true;
      setPlace({
        ...from.place,
        x: from.place.x + event.clientX - from.x,
        y: from.place.y + event.clientY - from.y,
      });
    }
  };
  const up = () => {
    if (held.current && drawing) drawing.onEnd?.();
    held.current = undefined;
  };
  const key = (event: KeyboardEvent) => {
    const step = 40;
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [step, 0],
      ArrowRight: [-step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    };
    const by = moves[event.key];
    const nudge = drawing?.onNudge;
    if (by && nudge) {
      const pixels = event.shiftKey ? 10 : 1;
      nudge((-by[0] / step) * pixels, (-by[1] / step) * pixels);
      setPointed(undefined);
    } else if (event.key === "Enter" && drawing?.onNext) drawing.onNext();
    else if (by) {
      moved.current = true;
      setPlace((before) => ({ ...before, x: before.x + by[0], y: before.y + by[1] }));
    } else if (event.key === "+" || event.key === "=") zoomBy(1.25);
    else if (event.key === "-") zoomBy(0.8);
    else if (event.key === "0") fit();
    else return;
    event.preventDefault();
  };

  const mmPerPixel = repeat ? repeat.width / map.width : 1;
  const pxPerMm = place.zoom / mmPerPixel;
  const rulerUnit = repeat ? unit : "px";
  return (
    <div className="image-table">
      <div className="table-tools">
        {tools}
        <span className="spring" />
        <ButtonGroup size="sm" aria-label="Zoom">
          <Button variant="outline-secondary" onClick={() => zoomBy(0.8)} aria-label="Smaller">
            −
          </Button>
          <Button variant="outline-secondary" onClick={fit}>
            Whole
          </Button>
          <Button variant="outline-secondary" onClick={() => zoomBy(1.25)} aria-label="Larger">
            +
          </Button>
          {repeat && (
            <Button
              variant="outline-secondary"
              onClick={() => zoomBy(view.pxPerMm / pxPerMm)}
              title="At the scale in the title block"
            >
              1:{view.scale}
            </Button>
          )}
        </ButtonGroup>
      </div>
      <div
        className="table-frame"
        style={{ gridTemplateColumns: `${RULER_PX}px 1fr`, gridTemplateRows: `${RULER_PX}px 1fr` }}
      >
        <span className="ruler-corner">{rulerUnit}</span>
        <div className="ruler-rail across">
          {box.width > 0 && (
            <Ruler
              direction="across"
              length={box.width}
              pxPerMm={pxPerMm}
              from={-place.x / pxPerMm}
              unit={rulerUnit}
            />
          )}
        </div>
        <div className="ruler-rail down">
          {box.height > 0 && (
            <Ruler
              direction="down"
              length={box.height}
              pxPerMm={pxPerMm}
              from={-place.y / pxPerMm}
              unit={rulerUnit}
            />
          )}
        </div>
        {/* A drawing surface that is moved and zoomed with keys, as the label says. */}
        <div
          ref={frame}
          className={`table-surface${drawing ? " drawing" : ""}`}
          role="application"
          aria-label={`${alt}. ${
            drawing?.onNudge
              ? "Arrow keys move the chosen point by a pixel, with Shift by ten; Enter chooses the next one"
              : "Arrow keys move it"
          }, plus and minus zoom, 0 shows the whole.`}
          tabIndex={0}
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={up}
          onPointerCancel={up}
          onPointerLeave={() => setPointed(undefined)}
          onKeyDown={key}
        >
          <img
            src={wholePreviewUrl(map, drawnPx)}
            alt={alt}
            draggable={false}
            style={{
              width: drawn.width * place.zoom,
              height: drawn.height * place.zoom,
              transform: `translate(${place.x}px, ${place.y}px)`,
              imageRendering: place.zoom > 2 ? "pixelated" : "auto",
            }}
          />
          <Tiles map={map} place={place} stretch={stretch} box={box} density={density} />
          <p className="table-reading number">
            {repeat && `1:${Number((view.screenPxPerMm / pxPerMm).toPrecision(2))} · `}
            {Math.round(place.zoom * 100)} % of its pixels
            {reading && <span role="status">{reading}</span>}
          </p>
          {overlay && (
            <svg className="table-overlay" width={box.width} height={box.height} aria-hidden="true">
              {overlay(onView)}
            </svg>
          )}
          {drawing && (pointed ?? drawing.active) && (
            <Loupe map={map} stretch={stretch} at={(pointed ?? drawing.active)!} zoom={place.zoom} />
          )}
        </div>
      </div>
    </div>
  );
}
