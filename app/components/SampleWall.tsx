import { useEffect, useRef, useState, type ReactNode, type RefObject } from "react";
import { useView } from "../view/viewContext";
import { Ruler, RULER_PX } from "./Ruler";

export const SIDE = 214;
export const GAP = 18;
/** Under the last row. */
const BELOW = 16;

interface SampleWallProps {
  children: ReactNode;
  label: string;
  /** Of a wall of which only a part is drawn, how many pixels lie before and behind that part. */
  left?: { before: number; after: number };
  list?: RefObject<HTMLUListElement | null>;
}

const NOTHING_LEFT = { before: 0, after: 0 };

/** Samples side by side at one drawing scale, with rulers of real units along the top and the left edge. */
export function SampleWall({ children, label, left = NOTHING_LEFT, list }: SampleWallProps) {
  const { pxPerMm, unit, greyGround } = useView();
  const own = useRef<HTMLUListElement>(null);
  const wall = list ?? own;
  const [size, setSize] = useState({ width: 1180, height: 600 });
  useEffect(() => {
    const element = wall.current;
    if (!element) return;
    const observer = new ResizeObserver(() =>
      setSize({ width: element.clientWidth, height: element.clientHeight }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, [wall]);
  // A ruler along a hundred thousand samples would have more ticks than anything else on the page.
  const drawn = Math.max(size.height - left.before - left.after, 200);
  return (
    <div className="wall" style={{ gridTemplateColumns: `${RULER_PX}px 1fr` }}>
      <span className="ruler-corner">{unit}</span>
      <div className="ruler-rail across">
        <Ruler direction="across" length={size.width} pxPerMm={pxPerMm} unit={unit} />
      </div>
      <div className="ruler-rail down" style={{ paddingTop: left.before }}>
        <Ruler direction="down" length={drawn} pxPerMm={pxPerMm} unit={unit} from={left.before / pxPerMm} />
      </div>
      <ul
        ref={wall}
        className={`samples${greyGround ? " on-grey" : ""}`}
        aria-label={label}
        style={{ gap: GAP, paddingTop: left.before, paddingBottom: left.after + BELOW }}
      >
        {children}
      </ul>
    </div>
  );
}
