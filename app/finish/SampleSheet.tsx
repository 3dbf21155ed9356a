import {
  useEffect,
  useState,
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
  type RefObject,
} from "react";
import { partBetween, partOnCanvas, type OnCanvas, type Part } from "./parts";
import type { useMoved } from "./useMoved";

/** Side by side, or over each other with a line between them. */
export type Arrangement = "line" | "beside";
/** What the pointer does: moves the view, marks a part, or picks a colour. */
export type Mode = "move" | "mark" | "pick";
export type Side = "now" | "other";
export type Parts = Partial<Record<Side, Part>>;

/** Each is shown for so long while they are swapped. */
const BLINK_MS = 450;

interface SampleSheetProps {
  box: RefObject<HTMLDivElement | null>;
  label: string;
  isWhole: boolean;
  /** Of one picture on the screen, and as it is drawn. */
  size: { width: number; height: number } | undefined;
  pixels: { width: number; height: number } | undefined;
  /** Of the screen. */
  mmPerPx: number;
  canvas(slot: string): (element: HTMLCanvasElement | null) => void;
  /** The name of what is beside it. */
  other: string | undefined;
  arrangement: Arrangement;
  split: number;
  mode: Mode;
  move: ReturnType<typeof useMoved>;
  parts: Parts;
  onParts(parts: Parts): void;
  /** @param place 0..1 from the picture's left and top */
  onPick(side: Side, place: { x: number; y: number }): void;
  children: ReactNode;
}

/** The sheet that both pictures lie on. While B is held, each is shown in turn. */
export function SampleSheet({
  box,
  label,
  isWhole,
  size,
  pixels,
  mmPerPx,
  canvas,
  other,
  arrangement,
  split,
  mode,
  move,
  parts,
  onParts,
  onPick,
  children,
}: SampleSheetProps) {
  const blink = useBlink();
  const isBeside = arrangement === "beside" && other !== undefined;
  const on: OnCanvas | undefined = size && { ...size, mmPerPx, middle: move.moved };
  const [from, setFrom] = useState<{ side: Side; x: number; y: number }>();

  /** Which picture a place of the sheet belongs to, and where it is on it. */
  function placeOf(event: PointerEvent<HTMLElement>): { side: Side; x: number; y: number } {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const [x, y] = [event.clientX - left, event.clientY - top];
    if (!size || !other) return { side: "now", x, y };
    if (isBeside) return x < size.width ? { side: "other", x, y } : { side: "now", x: x - size.width, y };
    return { side: x < (size.width * split) / 100 ? "other" : "now", x, y };
  }
  const handlers =
    mode === "move"
      ? move.handlers
      : {
          ...move.handlers,
          onPointerDown(event: PointerEvent<HTMLElement>) {
            if (event.button !== 0 || !size) return;
            const place = placeOf(event);
            if (mode === "pick")
              return onPick(place.side, { x: place.x / size.width, y: place.y / size.height });
            event.currentTarget.setPointerCapture(event.pointerId);
            setFrom(place);
          },
          onPointerMove(event: PointerEvent<HTMLElement>) {
            if (!from || !on) return;
            const to = placeOf(event);
            const x = isBeside && to.side !== from.side ? (from.side === "other" ? on.width : 0) : to.x;
            onParts({ ...parts, [from.side]: partBetween(from, { x, y: to.y }, on) });
          },
          onPointerUp() {
            // A click takes the mark away.
            if (from && on && !partOnCanvas(parts[from.side] ?? NOTHING, on))
              onParts({ ...parts, [from.side]: undefined });
            setFrom(undefined);
          },
        };
  const covered = blink.shown === "other" ? 100 : blink.shown === "now" ? 0 : isBeside ? 100 : split;
  return (
    <div
      ref={box}
      className={`finish-sample ${mode}${move.isHeld ? " held" : ""}`}
      role="img"
      aria-busy={!isWhole}
      aria-label={label}
      {...handlers}
      onKeyDown={(event) => (other && blink.onKeyDown(event)) || move.handlers.onKeyDown(event)}
      onKeyUp={blink.onKeyUp}
      onBlur={blink.end}
    >
      {size && (
        <>
          <canvas
            ref={canvas("now")}
            {...pixels}
            style={{ ...size, left: isBeside && !blink.shown ? size.width : 0 }}
          />
          {other !== undefined && (
            <>
              <canvas
                ref={canvas("other")}
                className="other"
                {...pixels}
                style={{ ...size, clipPath: `inset(0 ${100 - covered}% 0 0)` }}
              />
              {!blink.shown && (
                <span
                  className="split-line"
                  style={{ left: isBeside ? size.width : (size.width * split) / 100 }}
                />
              )}
              {blink.shown !== "now" && <span className="split-name left">{other}</span>}
              {blink.shown !== "other" && <span className="split-name right">now</span>}
            </>
          )}
          {on &&
            (["now", "other"] as const).map((side) => {
              const at = parts[side] && (side === "now" || other) && partOnCanvas(parts[side], on);
              const shift = side === "now" && isBeside ? size.width : 0;
              return (
                at && (
                  <span
                    key={side}
                    className={`marked-part ${side}`}
                    style={{ left: at.x + shift, top: at.y, width: at.width, height: at.height }}
                  >
                    {side === "now" ? "now" : other}
                  </span>
                )
              );
            })}
        </>
      )}
      {children}
    </div>
  );
}

const NOTHING: Part = { x: 0, y: 0, width: 0, height: 0 };

/** Shows one after the other for as long as a key is held; who asked for less motion sees the other one still. */
function useBlink() {
  const [shown, setShown] = useState<Side>();
  const isOn = shown !== undefined;
  useEffect(() => {
    if (!isOn || matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    const timer = setInterval(
      () => setShown((before) => before && (before === "other" ? "now" : "other")),
      BLINK_MS,
    );
    return () => clearInterval(timer);
  }, [isOn]);
  const isKey = (event: KeyboardEvent) =>
    event.key.toLowerCase() === "b" && !event.ctrlKey && !event.metaKey && !event.altKey;
  return {
    shown,
    end: () => setShown(undefined),
    onKeyDown(event: KeyboardEvent): boolean {
      if (!isKey(event)) return false;
      event.preventDefault();
      if (!event.repeat) setShown("other");
      return true;
    },
    onKeyUp(event: KeyboardEvent) {
      if (isKey(event)) setShown(undefined);
    },
  };
}
