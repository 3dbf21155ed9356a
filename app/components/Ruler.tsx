import { rulerTicks, type RulerUnit } from "../view/rulerTicks";

interface RulerProps {
  direction: "across" | "down";
  /** Pixels of screen. */
  length: number;
  /** Pixels of screen for one real millimetre, or for one pixel of the image where the unit is "px". */
  pxPerMm: number;
  /** What lies at the ruler's beginning, in millimetres or pixels of the image. */
  from?: number;
  unit: RulerUnit;
}

export const RULER_PX = 22;

/** A ruler along an edge, with real units. */
export function Ruler({ direction, length, pxPerMm, from = 0, unit }: RulerProps) {
  const across = direction === "across";
  return (
    <svg
      className={`ruler ${direction}`}
      width={across ? length : RULER_PX}
      height={across ? RULER_PX : length}
      aria-hidden="true"
    >
      {rulerTicks({ pxPerMm, unit, from, length }).map(({ at, label }) => {
        const size = label === undefined ? 5 : 10;
        const [x, y] = across ? [at, RULER_PX - size] : [RULER_PX - size, at];
        const place = across
          ? `translate(${at + 3} ${RULER_PX - 11})`
          : `translate(${RULER_PX - 11} ${at - 3}) rotate(-90)`;
        return (
          <g key={at}>
            <line x1={x} y1={y} x2={across ? at : RULER_PX} y2={across ? RULER_PX : at} />
            {label && <text transform={place}>{label}</text>}
          </g>
        );
      })}
    </svg>
  );
}
