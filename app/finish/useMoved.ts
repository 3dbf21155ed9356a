import { useState, type KeyboardEvent, type PointerEvent } from "react";

/** Of what is in view, for one press of an arrow key. */
const STEP = 0.1;

/**
 * What is seen is moved by dragging it, or by the arrow keys; Home puts it back.
 * @param view in pixels of the screen, and how much of the surface one of them is
 * @param within how far it may be moved; anywhere, unless given
 */
export function useMoved(
  view: { width: number; height: number; mmPerPx: number } | undefined,
  within?: { x: readonly [number, number]; y: readonly [number, number] },
) {
  const [moved, setAnywhere] = useState({ x: 0, y: 0 });
  const [held, setHeld] = useState<{ x: number; y: number; from: typeof moved }>();
  const bounded = (value: number, [least, most]: readonly [number, number]) =>
    Math.min(most, Math.max(least, value));
  const setMoved = ({ x, y }: typeof moved) =>
    setAnywhere(within ? { x: bounded(x, within.x), y: bounded(y, within.y) } : { x, y });
  const by = (x: number, y: number) => setMoved({ x: moved.x + x, y: moved.y + y });
  return {
    /** In millimetres, to the right and down. */
    moved,
    isHeld: held !== undefined,
    back: () => setMoved({ x: 0, y: 0 }),
    handlers: {
      tabIndex: 0,
      onPointerDown(event: PointerEvent<HTMLElement>) {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        setHeld({ x: event.clientX, y: event.clientY, from: moved });
      },
      onPointerMove(event: PointerEvent<HTMLElement>) {
        if (!held || !view) return;
        setMoved({
          x: held.from.x - (event.clientX - held.x) * view.mmPerPx,
          y: held.from.y - (event.clientY - held.y) * view.mmPerPx,
        });
      },
      onPointerUp: () => setHeld(undefined),
      onPointerCancel: () => setHeld(undefined),
      onKeyDown(event: KeyboardEvent) {
        if (!view || event.ctrlKey || event.metaKey || event.altKey) return;
        const [stepX, stepY] = [view.width * view.mmPerPx * STEP, view.height * view.mmPerPx * STEP];
        if (event.key === "ArrowLeft") by(-stepX, 0);
        else if (event.key === "ArrowRight") by(stepX, 0);
        else if (event.key === "ArrowUp") by(0, -stepY);
        else if (event.key === "ArrowDown") by(0, stepY);
        else if (event.key === "Home") setMoved({ x: 0, y: 0 });
        else return;
        event.preventDefault();
      },
    },
  };
}
