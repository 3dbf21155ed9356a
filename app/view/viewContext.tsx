import {
  createContext,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
  type ReactNode,
} from "react";
import { useFetcher } from "react-router";
import type { LengthUnit } from "#core/length/parseLength";
import { CSS_PX_PER_MM } from "./scales";

type Unit = Exclude<LengthUnit, "ft">;

interface View {
  /** 10 is 1:10. */
  scale: number;
  unit: Unit;
  /** Pixels of this screen for one real millimetre on paper. */
  screenPxPerMm: number;
  /** Pixels of this screen for one real millimetre of the surface, at the scale. */
  pxPerMm: number;
  setScale(scale: number): void;
  setUnit(unit: Unit): void;
  setScreenPxPerMm(value: number): void;
  /** Samples on a neutral grey, since a coloured surround changes how a texture looks. */
  greyGround: boolean;
  setGreyGround(grey: boolean): void;
}

const ViewContext = createContext<View | null>(null);

const GROUND = "kalonomy-grey-ground";
const CALIBRATION = "kalonomy-screen-px-per-mm";

/** The scale and unit in which a person looks at things, kept for the person; the calibration belongs to the screen. */
export function ViewProvider({
  person,
  children,
}: {
  person: { scale: number; unit: Unit };
  children: ReactNode;
}) {
  const keep = useKeeper();
  const [scale, setScaleNow] = useState(person.scale);
  const [unit, setUnitNow] = useState(person.unit);
  const [screenPxPerMm, setCalibration] = useState(CSS_PX_PER_MM);
  const [greyGround, setGround] = useState(false);
  useEffect(() => {
    setGround(localStorage.getItem(GROUND) === "on");
    const kept = Number(localStorage.getItem(CALIBRATION));
    if (kept > 1 && kept < 40) setCalibration(kept);
  }, []);
  const view = useMemo<View>(
    () => ({
      scale,
      unit,
      screenPxPerMm,
      pxPerMm: screenPxPerMm / scale,
      setScale(next) {
        setScaleNow(next);
        keep({ scale: String(next) });
      },
      setUnit(next) {
        setUnitNow(next);
        keep({ unit: next });
      },
      setScreenPxPerMm(next) {
        setCalibration(next);
        localStorage.setItem(CALIBRATION, String(next));
      },
      greyGround,
      setGreyGround(grey) {
        setGround(grey);
        localStorage.setItem(GROUND, grey ? "on" : "off");
      },
    }),
    [scale, unit, screenPxPerMm, greyGround, keep],
  );
  return <ViewContext.Provider value={view}>{children}</ViewContext.Provider>;
}

/**
 * Keeps the view with the person, one request after another: of two that are under way at once the server
 * may end with the older one. Nothing that is on the screen was loaded for the view, so nothing loads again.
 */
function useKeeper(): (view: Record<string, string>) => void {
  const { submit } = useFetcher();
  const waiting = useRef<Record<string, string> | null>(null);
  const isUnderWay = useRef(false);
  const send = useCallback(
    (view: Record<string, string>) => {
      isUnderWay.current = true;
      void submit(view, { method: "post", action: "/view", defaultShouldRevalidate: false }).finally(() => {
        isUnderWay.current = false;
        const next = waiting.current;
        waiting.current = null;
        if (next) send(next);
      });
    },
    [submit],
  );
  return useCallback(
    (view) => {
      if (isUnderWay.current) waiting.current = { ...waiting.current, ...view };
      else send(view);
    },
    [send],
  );
}

export function useView(): View {
  const view = useContext(ViewContext);
  if (!view) throw new Error("useView needs a ViewProvider around it.");
  return view;
}
