import { useEffect, useState, type RefObject } from "react";
import type { Finish } from "#core/finish/finish";
import type { Repeat } from "#core/length/repeat";
import type { Condition } from "#core/picture/condition";
import type { ColorMatch } from "#core/picture/matchColor";
import { ownColor } from "#core/picture/pickedColor";
import type { View } from "#core/picture/view";
import { linearToHex } from "#core/raster/srgb";
import type { Rgb } from "#core/shade/rgb";
import { meanOfPixels, partOnCanvas, type Part } from "./parts";
import { differenceWords, type Rough } from "./pictureFigures";
import type { SentMap } from "./pictureWorker";
import type { Parts, Side } from "./SampleSheet";
import type { Drawn, DrawnReference, usePicture } from "./usePicture";

/** So far around a picked spot its colour is read, in pixels. */
const RADIUS_PX = 4;

interface Compared {
  box: RefObject<HTMLElement | null>;
  view: View | undefined;
  /** Of the view, in mm from where it began. */
  middle: { x: number; y: number };
  parts: Parts;
  drawn: Record<string, Drawn | DrawnReference>;
  isWhole: boolean;
  ask: ReturnType<typeof usePicture>["ask"];
  condition: Condition;
}

/** How two pictures differ in the parts that are marked, what would match them, and a colour that was picked. */
export function useCompared({ box, view, middle, parts, drawn, isWhole, ask, condition }: Compared) {
  const [words, setWords] = useState("");
  const [match, setMatch] = useState<ColorMatch | "busy">();
  const [picked, setPicked] = useState<{ hex: string; of: string }>();
  const hasOther = drawn.other !== undefined;

  /** The part of a side in pixels of its canvas: all of it, unless one is marked. */
  function partOf(side: Side): Part | undefined {
    if (!view) return undefined;
    const marked = view.shape === "panel" ? parts[side] : undefined;
    if (!marked) return { x: 0, y: 0, width: view.width, height: view.height };
    return partOnCanvas(marked, { width: view.width, height: view.height, mmPerPx: view.mmPerPx, middle });
  }
  function pixelsOf(side: Side, part: Part): Uint8ClampedArray | undefined {
    const canvases = box.current?.querySelectorAll("canvas");
    const canvas = canvases?.[side === "now" ? 0 : 1];
    return canvas?.getContext("2d")?.getImageData(part.x, part.y, part.width, part.height).data;
  }
  function meanOf(side: Side): Rgb | undefined {
    const part = partOf(side);
    const pixels = part && pixelsOf(side, part);
    return pixels && meanOfPixels(pixels);
  }
  /** What a part shows, as a view of its own. */
  function viewOf(part: Part): View {
    const { width, height, mmPerPx, centre } = view!;
    return {
      ...view!,
      width: part.width,
      height: part.height,
      centre: {
        x: centre.x + (part.x + part.width / 2 - width / 2) * mmPerPx,
        y: centre.y + (part.y + part.height / 2 - height / 2) * mmPerPx,
      },
    };
  }
  const roughnessOf = async (side: Side): Promise<Rough | undefined> => {
    const part = partOf(side);
    if (!part || view?.shape !== "panel") return undefined;
    const answer = await ask(side, viewOf(part));
    return answer && "spread" in answer ? answer : undefined;
  };

  const asked = JSON.stringify([view, middle, parts]);
  useEffect(() => {
    setMatch(undefined);
    if (!hasOther) return setWords("");
    if (!isWhole) return;
    const [mine, theirs] = [meanOf("now"), meanOf("other")];
    if (!mine || !theirs) return setWords("What is marked is not in view.");
    let isGone = false;
    setWords(differenceWords({ mean: mine }, { mean: theirs }));
    void Promise.all([roughnessOf("now"), roughnessOf("other")]).then(([own, its]) => {
      if (!isGone)
        setWords(differenceWords({ mean: mine, roughness: own }, { mean: theirs, roughness: its }));
    });
    return () => void (isGone = true);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once both are whole, and for what is marked
  }, [isWhole, hasOther, asked]);

  return {
    words,
    match,
    picked,
    canMatch: isWhole && hasOther && view?.shape === "panel" && match !== "busy",
    leaveMatch: () => setMatch(undefined),
    leavePicked: () => setPicked(undefined),
    /** Finds what brings the mean of the own part to that of the other one. */
    async findMatch() {
      const [part, target] = [partOf("now"), meanOf("other")];
      if (!part || !target) return;
      setMatch("busy");
      const answer = await ask("now", viewOf(part), { condition, target });
      setMatch(answer && "after" in answer ? answer : undefined);
    },
    /**
     * Of a material its own colour, without light; of a picture what it shows.
     * @param material that side's, where it is one
     */
    pick(
      place: { x: number; y: number },
      material: { finish: Finish; base: SentMap | undefined; repeat: Repeat } | undefined,
    ) {
      if (!view) return;
      if (material) {
        const x = view.centre.x + (place.x - 0.5) * view.width * view.mmPerPx;
        const y = view.centre.y + (place.y - 0.5) * view.height * view.mmPerPx;
        const { finish, base, repeat } = material;
        const map = base && {
          ...base,
          channels: 4 as const,
          bitDepth: 8 as const,
          data: new Uint8Array(base.data),
        };
        const spot = { x: x / repeat.width, y: y / repeat.height, radiusPx: RADIUS_PX };
        const color = ownColor(finish, map, spot);
        return setPicked(color && { hex: linearToHex(color), of: "the material itself" });
      }
      const [x, y] = [Math.round(place.x * view.width), Math.round(place.y * view.height)];
      const spot: Part = {
        x: Math.max(0, x - RADIUS_PX),
        y: Math.max(0, y - RADIUS_PX),
        width: 2 * RADIUS_PX + 1,
        height: 2 * RADIUS_PX + 1,
      };
      const pixels = pixelsOf("other", spot);
      const mean = pixels && meanOfPixels(pixels);
      setPicked(mean && { hex: linearToHex(mean), of: "what the picture shows" });
    },
  };
}
