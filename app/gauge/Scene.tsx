import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { formatLength } from "#core/length/formatLength";
import type { Point } from "#core/gauge/repeat";
import type { Repeat } from "#core/length/repeat";
import { useView } from "../view/viewContext";

/** A material as the scene shows it. */
export interface Shown {
  name: string;
  repeat: Repeat;
  /** Address of a picture of one repeat; a plain colour in place of it. */
  picture?: string;
  color?: string;
}

interface SceneProps {
  /** Width and height that are looked at, mm. */
  width: number;
  height: number;
  /** One material all over, or two side by side. */
  materials: Shown[];
}

/** Things whose size everybody knows, mm, standing on the ground from the left. */
const DOOR = { width: 885, height: 2110 };
const FIGURE = 1700;
const A4 = { width: 210, height: 297 };

/** What an arrow key moves an end of the rod by, mm; with Shift ten times as far. */
const KEY_MM = 10;
const KEYS: Record<string, [number, number]> = {
  ArrowLeft: [-KEY_MM, 0],
  ArrowRight: [KEY_MM, 0],
  ArrowUp: [0, -KEY_MM],
  ArrowDown: [0, KEY_MM],
};

/** Two materials at one scale beside a door, a figure and a sheet of paper, with a rod to measure them. */
export function Scene({ width, height, materials }: SceneProps) {
  const { unit } = useView();
  const drawing = useRef<SVGSVGElement>(null);
  const [rod, setRod] = useState<{ from: Point; to: Point }>();
  const at = ({ clientX, clientY }: PointerEvent): Point => {
    const { x, y } = new DOMPoint(clientX, clientY).matrixTransform(
      drawing.current!.getScreenCTM()!.inverse(),
    );
    return { x, y };
  };
  const key = (event: KeyboardEvent) => {
    const by = KEYS[event.key];
    if (event.key === "Enter") setRod((before) => before && { from: before.to, to: before.from });
    else if (by) {
      const times = event.shiftKey ? 10 : 1;
      setRod((before) => {
        const { from, to } = before ?? {
          from: { x: width / 2, y: height / 2 },
          to: { x: width / 2 + 1000, y: height / 2 },
        };
        const moved = { x: to.x + times * by[0], y: to.y + times * by[1] };
        return {
          from,
          to: { x: Math.min(width, Math.max(0, moved.x)), y: Math.min(height, Math.max(0, moved.y)) },
        };
      });
    } else return;
    event.preventDefault();
  };
  const share = width / materials.length;
  const length = rod && Math.hypot(rod.to.x - rod.from.x, rod.to.y - rod.from.y);
  const line = width / 400;
  return (
    <figure className="scene">
      <svg
        ref={drawing}
        viewBox={`0 0 ${width} ${height}`}
        role="application"
        tabIndex={0}
        aria-label={`${materials.map(({ name }) => name).join(" beside ")}, ${formatLength(width, unit)} wide, with a door, a figure and a sheet of paper. Arrow keys move the rod's end, with Shift ten times as far; Enter takes its other end.`}
        onKeyDown={key}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setRod({ from: at(event), to: at(event) });
        }}
        onPointerMove={(event) =>
          event.buttons === 1 && setRod((before) => before && { ...before, to: at(event) })
        }
      >
        {materials.map(({ picture, color, repeat }, i) => (
          <g key={i}>
            {picture && (
              <pattern
                id={`scene-${i}`}
                patternUnits="userSpaceOnUse"
                x={i * share}
                y={height}
                width={repeat.width}
                height={repeat.height}
              >
                <image
                  href={picture}
                  width={repeat.width}
                  height={repeat.height}
                  preserveAspectRatio="none"
                />
              </pattern>
            )}
            <rect
              x={i * share}
              width={share}
              height={height}
              fill={picture ? `url(#scene-${i})` : (color ?? "#888888")}
            />
          </g>
        ))}
        {materials.length > 1 && (
          <path d={`M${share} 0V${height}`} stroke="#fbf9f4" strokeWidth={2 * line} fill="none" />
        )}
        <g className="known-things" strokeWidth={line}>
          <rect x={0.06 * width} y={height - DOOR.height} {...DOOR} />
          <circle cx={0.06 * width + 795} cy={height - 1050} r={28} />
          <Figure x={0.06 * width + DOOR.width + 420} ground={height} />
          <rect x={0.06 * width + DOOR.width + 820} y={height - 1500} {...A4} />
        </g>
        {rod && length! > 0 && (
          <g className="scene-rod">
            <path d={`M${rod.from.x} ${rod.from.y}L${rod.to.x} ${rod.to.y}`} strokeWidth={2.5 * line} />
            <text
              x={rod.to.x + 4 * line}
              y={rod.to.y - 4 * line}
              fontSize={height / 32}
              strokeWidth={3 * line}
            >
              {formatLength(length!, unit)}
            </text>
          </g>
        )}
      </svg>
      <figcaption>
        Door {DOOR.width} × {DOOR.height} mm, figure {FIGURE / 1000} m, sheet A4. Drag over the picture to
        measure, or use the arrow keys.
        {length !== undefined && length > 0 && (
          <span role="status" className="number">
            {" "}
            {formatLength(length, unit)}
          </span>
        )}
      </figcaption>
    </figure>
  );
}

/** An outline 1.7 m high: head, shoulders, trunk and legs in proportion. */
function Figure({ x, ground }: { x: number; ground: number }) {
  return (
    <g transform={`translate(${x} ${ground - FIGURE})`}>
      <ellipse cx={0} cy={115} rx={82} ry={115} />
      <path d="M-60 245 C-200 270 -225 330 -230 480 L-245 860 L-190 870 L-165 560 L-160 900 L-150 1690 L-25 1690 L0 960 L25 1690 L150 1690 L160 900 L165 560 L190 870 L245 860 L230 480 C225 330 200 270 60 245 Z" />
    </g>
  );
}
