import { MM_PER_UNIT, type LengthUnit } from "#core/length/parseLength";

interface RulerProps {
  direction: "across" | "down";
  /** Pixels of screen. */
  length: number;
  /** Pixels of screen for one unit of `per`. */
  pxPerMm: number;
  /** Real millimetre that lies at the ruler's beginning. */
  from?: number;
  /** A real unit, or image pixels where the size is unknown (then `pxPerMm` is pixels of screen for one of the image's). */
  unit: LengthUnit | "px";
}

export const RULER_PX = 22;

/** A ruler along an edge, with real units; divisions are 1, 2 or 5 times a power of ten (inches: halves). */
export function Ruler({ direction, length, pxPerMm, from = 0, unit }: RulerProps) {
  const mmPerUnit = unit === "px" ? 1 : MM_PER_UNIT[unit];
  const pxPerUnit = pxPerMm * mmPerUnit;
  const major = niceStep(70 / pxPerUnit);
  const minor = major / (String(major).includes("2") ? 4 : 5);
  const start = from / mmPerUnit;
  const ticks = [];
  const first = Math.ceil(start / minor - 1e-9);
  const last = Math.floor((start + length / pxPerUnit) / minor);
  for (let n = first; n <= last && ticks.length < 800; n++) {
    const value = n * minor;
    const isMajor = Math.abs(value / major - Math.round(value / major)) < 1e-6;
    ticks.push({
      at: (value - start) * pxPerUnit,
      label: isMajor ? String(Number(value.toFixed(6))) : undefined,
    });
  }
  const across = direction === "across";
  return (
    <svg
      className={`ruler ${direction}`}
      width={across ? length : RULER_PX}
      height={across ? RULER_PX : length}
      aria-hidden="true"
    >
      {ticks.map(({ at, label }) => {
        const size = label === undefined ? 5 : 10;
        return across ? (
          <g key={at}>
            <line x1={at} x2={at} y1={RULER_PX - size} y2={RULER_PX} />
            {label && (
              <text x={at + 3} y={RULER_PX - 11}>
                {label}
              </text>
            )}
          </g>
        ) : (
          <g key={at}>
            <line y1={at} y2={at} x1={RULER_PX - size} x2={RULER_PX} />
            {label && (
              <text x={0} y={0} transform={`translate(${RULER_PX - 11} ${at - 3}) rotate(-90)`}>
                {label}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}

/** The smallest of 1, 2, 5 × 10ⁿ that is at least `least`. */
function niceStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(least));
  return [1, 2, 5, 10].map((factor) => factor * power).find((step) => step >= least * 0.999)!;
}
