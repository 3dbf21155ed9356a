import { useEffect, useRef, useState, type ReactNode } from "react";
import { useView } from "../view/viewContext";
import { Ruler, RULER_PX } from "./Ruler";

export const SIDE = 214;
const GAP = 18;

/** Samples side by side at one drawing scale, with rulers of real units along the top and the left edge. */
export function SampleWall({ children, label }: { children: ReactNode; label: string }) {
  const { pxPerMm, unit, greyGround } = useView();
  const wall = useRef<HTMLUListElement>(null);
  const [size, setSize] = useState({ width: 1180, height: 600 });
  useEffect(() => {
    const element = wall.current;
    if (!element) return;
    const observer = new ResizeObserver(() =>
      setSize({ width: element.clientWidth, height: element.clientHeight }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return (
    <div className="wall" style={{ gridTemplateColumns: `${RULER_PX}px 1fr` }}>
      <span className="ruler-corner">{unit}</span>
      <div className="ruler-rail across">
        <Ruler direction="across" length={size.width} pxPerMm={pxPerMm} unit={unit} />
      </div>
      <div className="ruler-rail down">
        <Ruler direction="down" length={Math.max(size.height, 200)} pxPerMm={pxPerMm} unit={unit} />
      </div>
      <ul
        ref={wall}
        className={`samples${greyGround ? " on-grey" : ""}`}
        aria-label={label}
        style={{ gap: GAP }}
      >
        {children}
      </ul>
    </div>
  );
}
