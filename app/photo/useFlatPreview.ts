import { useEffect, useRef, useState } from "react";
import type { FlattenRecipe } from "#core/photo/recipe";
import type { PreviewAnswer, PreviewAsk } from "./flattenWorker";

/** Longest side of the picture that the preview is made from. */
const SIDE = 512;
const WAIT_MS = 120;

/**
 * What a region looks like flattened, small, made in a worker each time something changes.
 * @param photo pixels of the original, in which the recipe's points are
 */
export function useFlatPreview(
  url: string,
  photo: { width: number; height: number },
  recipe: FlattenRecipe | undefined,
) {
  const [shown, setShown] = useState<PreviewAnswer>();
  const worker = useRef<Worker | undefined>(undefined);
  const turn = useRef(0);
  const [picture, setPicture] = useState<ImageData>();
  useEffect(() => {
    const image = new Image();
    image.src = url;
    let gone = false;
    image.decode().then(
      () => {
        if (gone) return;
        const scale = Math.min(1, SIDE / Math.max(image.naturalWidth, image.naturalHeight));
        const canvas = document.createElement("canvas");
        canvas.width = Math.max(1, Math.round(image.naturalWidth * scale));
        canvas.height = Math.max(1, Math.round(image.naturalHeight * scale));
        const context = canvas.getContext("2d")!;
        context.drawImage(image, 0, 0, canvas.width, canvas.height);
        setPicture(context.getImageData(0, 0, canvas.width, canvas.height));
      },
      // The table shows that the picture is missing.
      () => undefined,
    );
    return () => void (gone = true);
  }, [url]);
  useEffect(() => {
    const one = new Worker(new URL("./flattenWorker.ts", import.meta.url), { type: "module" });
    one.onmessage = ({ data }: MessageEvent<PreviewAnswer>) => data.turn === turn.current && setShown(data);
    worker.current = one;
    return () => one.terminate();
  }, []);
  const asked = recipe && JSON.stringify(recipe);
  useEffect(() => {
    if (!picture || asked === undefined) return;
    const timer = setTimeout(() => {
      const scale = { x: picture.width / photo.width, y: picture.height / photo.height };
      const whole = JSON.parse(asked) as FlattenRecipe;
      const scaled = ({ x, y }: { x: number; y: number }) => ({ x: x * scale.x, y: y * scale.y });
      const ask: PreviewAsk = {
        turn: ++turn.current,
        picture: { width: picture.width, height: picture.height, data: picture.data },
        recipe: {
          ...whole,
          corners: whole.corners.map(scaled) as FlattenRecipe["corners"],
          control: whole.control.map(({ at, real }) => ({ at: scaled(at), real })),
        },
      };
      worker.current?.postMessage(ask);
    }, WAIT_MS);
    return () => clearTimeout(timer);
  }, [asked, picture, photo.width, photo.height]);
  return recipe ? shown : undefined;
}
