import { useEffect, useRef, useState } from "react";
import type { FlattenRecipe } from "#core/photo/recipe";
import { previewUrl } from "../components/previewUrl";
import type { PreviewAnswer, PreviewAsk } from "./flattenWorker";
import type { PatchMaterial } from "./readRegion";

/** Longest side of the picture that the preview is made from. */
const SIDE = 512;
const WAIT_MS = 120;

/**
 * What a region looks like flattened, small, made in a worker each time something changes.
 * @param photo pixels of the original, in which the recipe's points are
 * @param materials those that patches are filled with
 */
export function useFlatPreview(
  url: string,
  photo: { width: number; height: number },
  recipe: FlattenRecipe | undefined,
  materials: PatchMaterial[],
) {
  const [shown, setShown] = useState<PreviewAnswer>();
  const worker = useRef<Worker | undefined>(undefined);
  const turn = useRef(0);
  const [picture, setPicture] = useState<ImageData>();
  useEffect(() => {
    let gone = false;
    // Where it is missing, the table shows that.
    pixelsOf(url).then(
      (read) => !gone && setPicture(read),
      () => undefined,
    );
    return () => void (gone = true);
  }, [url]);
  const [fills, setFills] = useState<PreviewAsk["fills"]>({});
  const wanted = materials.filter(({ id, preview, repeat }) => preview && repeat && !(id in fills));
  const names = wanted.map(({ id }) => id).join();
  useEffect(() => {
    for (const { id, preview, repeat } of wanted)
      pixelsOf(previewUrl(preview!, SIDE)).then(
        ({ width, height, data }) =>
          setFills((before) => ({ ...before, [id]: { width, height, data, repeat: repeat! } })),
        // Then it shows only when it is made.
        () => undefined,
      );
    // eslint-disable-next-line react-hooks/exhaustive-deps -- named by their ids
  }, [names]);
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
        fills,
      };
      worker.current?.postMessage(ask);
    }, WAIT_MS);
    return () => clearTimeout(timer);
  }, [asked, picture, fills, photo.width, photo.height]);
  return recipe ? shown : undefined;
}

/** The pixels of a picture, reduced to what a preview needs. */
async function pixelsOf(url: string): Promise<ImageData> {
  const image = new Image();
  image.src = url;
  await image.decode();
  const scale = Math.min(1, SIDE / Math.max(image.naturalWidth, image.naturalHeight));
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round(image.naturalWidth * scale));
  canvas.height = Math.max(1, Math.round(image.naturalHeight * scale));
  const context = canvas.getContext("2d")!;
  context.drawImage(image, 0, 0, canvas.width, canvas.height);
  return context.getImageData(0, 0, canvas.width, canvas.height);
}
