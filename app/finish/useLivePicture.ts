import { useEffect, useRef } from "react";
import type { Condition } from "#core/picture/condition";
import type { View } from "#core/picture/view";
import type { LiveMaterial, LivePicture, LiveValues } from "../live/livePicture";
import type { LightAnswer, LightMessage, TablesAnswer, TablesMessage } from "./pictureWorker";

/** A picture takes no longer than this; where it would, it has fewer pixels. */
const FRAME_MS = 40;
/** With fewer pixels than this the workers are as quick. */
const LEAST_PIXELS = 60_000;
/** The first frames are small: they tell how quick the card is, once its maps are there. */
const TRIALS = 4;
const TRIAL_PIXELS = 16_000;

/**
 * The picture by the graphics card, for as long as somebody turns something; not there where there is none, where it is slow, or where
 * something that it needs is still being made.
 * @param ask a worker for what takes a while to be computed
 */
export function useLivePicture(ask: (message: TablesMessage | LightMessage) => void) {
  const live = useRef<{ picture: LivePicture; canvas: HTMLCanvasElement }>(undefined);
  const needed = useRef<typeof import("../live/livePicture").tablesFor>(undefined);
  const asked = useRef(new Set<string>());
  const speed = useRef({ frames: 0, msPerPixel: Infinity });

  useEffect(() => {
    let gone = false;
    const known = asked.current;
    void import("../live/livePicture").then(({ LivePicture, tablesFor }) => {
      if (gone) return;
      const canvas = document.createElement("canvas");
      try {
        live.current = { picture: new LivePicture(canvas), canvas };
        needed.current = tablesFor;
      } catch {
        // No WebGL: the workers draw.
      }
    });
    return () => {
      gone = true;
      live.current?.picture.dispose();
      live.current = undefined;
      known.clear();
    };
  }, []);

  const askOnce = (key: string, message: TablesMessage | LightMessage) => {
    if (asked.current.has(key)) return;
    asked.current.add(key);
    ask(message);
  };

  return {
    receive(answer: TablesAnswer | LightAnswer) {
      if (answer.kind === "tables") live.current?.picture.addTables(answer.tables);
      else live.current?.picture.addLight(answer.environment, answer.light);
    },
    /** @returns false where it was not drawn */
    draw(
      target: HTMLCanvasElement,
      material: LiveMaterial,
      values: LiveValues,
      view: View,
      condition: Condition,
    ): boolean {
      if (!live.current || !needed.current) return false;
      const { frames, msPerPixel } = speed.current;
      const room = frames < TRIALS ? TRIAL_PIXELS : FRAME_MS / msPerPixel;
      if (frames >= TRIALS && room < LEAST_PIXELS) return false;
      const { picture, canvas } = live.current;
      const { environment } = condition;
      if (!picture.hasLight(environment)) askOnce(environment, { kind: "light", environment });
      const tables = picture.missingTables(needed.current(material, values.finish));
      if (tables.length > 0) askOnce(`tables ${tables.join()}`, { kind: "tables", tables });
      const factor = Math.max(1, Math.sqrt((view.width * view.height) / room));
      const drawn = {
        ...view,
        width: Math.round(view.width / factor),
        height: Math.round(view.height / factor),
        mmPerPx: view.mmPerPx * factor,
      };
      const begun = performance.now();
      if (!picture.draw(material, values, drawn, condition)) return false;
      picture.settle();
      const ms = (performance.now() - begun) / (drawn.width * drawn.height);
      // One that waited for its maps says little of the next one.
      speed.current = {
        frames: frames + 1,
        msPerPixel: ms < msPerPixel ? ms : 0.8 * msPerPixel + 0.2 * ms,
      };
      const context = target.getContext("2d");
      context?.drawImage(canvas, 0, 0, target.width, target.height);
      return context !== null;
    },
  };
}
