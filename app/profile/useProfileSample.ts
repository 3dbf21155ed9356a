import { useEffect, useMemo, useRef, useState } from "react";
import { MINIATURE_SIDE, miniatureKey, miniatureOf } from "#core/convert/miniature";
import { planConversion } from "#core/convert/plan";
import type { MaterialPlan, PlannedFile } from "#core/convert/materialPlan";
import type { Profile } from "#core/convert/profile";
import type { MaterialMap, MaterialState } from "#core/finish/material";
import { previewUrl } from "../components/previewUrl";
import { pixelsOf } from "../finish/pixelsOf";
import type { MadeImage, MadeMessage, ProfileMessage, SentPixels } from "./profileWorker";

export interface ProfileSample {
  /** Of the material in full. */
  plan: MaterialPlan;
  /** By path, as they are made. */
  images: ReadonlyMap<string, MadeImage>;
  /** Names of files of which there is no preview. */
  missing: string[];
}

/** What an image is made by: with the same, it is the same, whatever it is called. */
const keyOf = ({ image }: PlannedFile): string => JSON.stringify(image);

/** What a profile makes of a material, at once: planned in full, and its images made small in a worker, each once. */
export function useProfileSample(profile: Profile, material: MaterialState): ProfileSample {
  const plan = useMemo(() => planConversion(material, profile), [material, profile]);
  const small = useMemo(
    () => planConversion(miniatureOf(material), profile, { maxPixels: MINIATURE_SIDE }).files,
    [material, profile],
  );
  const [made, setMade] = useState<ReadonlyMap<string, MadeImage>>(new Map());
  const [loaded, setLoaded] = useState<{ of: MaterialState; missing: string[] }>();
  const worker = useRef<Worker>(undefined);
  const known = useRef(made);
  known.current = made;

  useEffect(() => {
    const one = new Worker(new URL("./profileWorker.ts", import.meta.url), { type: "module" });
    one.onmessage = ({ data: { key, made } }: MessageEvent<MadeMessage>) => {
      if (made) setMade((before) => new Map(before).set(key, made));
    };
    worker.current = one;
    return () => one.terminate();
  }, []);

  useEffect(() => {
    let gone = false;
    void loadPixels(material).then(({ pixels, missing }) => {
      if (gone) return;
      worker.current?.postMessage({ kind: "pixels", pixels } satisfies ProfileMessage);
      // Of another material, or anew: what was made before is of no use.
      setMade(new Map());
      setLoaded({ of: material, missing });
    });
    return () => {
      gone = true;
    };
  }, [material]);

  useEffect(() => {
    if (loaded?.of !== material) return;
    const images = small
      .map((file) => ({ key: keyOf(file), image: file.image }))
      .filter(({ key }) => !known.current.has(key));
    const wrap = material.layout === "repeating";
    worker.current?.postMessage({ kind: "make", images, wrap } satisfies ProfileMessage);
  }, [loaded, material, small]);

  const images = new Map(
    small.flatMap((file) => {
      const image = made.get(keyOf(file));
      return image ? [[file.path, image] as const] : [];
    }),
  );
  return { plan, images, missing: loaded?.missing ?? [] };
}

async function loadPixels(material: MaterialState) {
  const maps = new Map<string, MaterialMap>();
  for (const map of [...material.maps, ...(material.wear ?? []).map(({ mask }) => mask)])
    if (map.role !== "reference" && map.role !== "environment") maps.set(miniatureKey(map), map);
  const missing: string[] = [];
  const pixels: SentPixels[] = [];
  await Promise.all(
    [...maps].map(async ([key, map]) => {
      try {
        const { width, height, data } = await pixelsOf(previewUrl(map.sha256, MINIATURE_SIDE, map.channel));
        pixels.push({ key, width, height, data });
      } catch {
        missing.push(map.fileName);
      }
    }),
  );
  return { pixels, missing };
}
