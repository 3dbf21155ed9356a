import { makePicture } from "#core/picture/picture";
import { CONDITIONS, type Condition } from "#core/picture/condition";
import { detailLevel } from "#core/picture/detail";
import { roleTexture } from "#core/picture/roleTexture";
import type { View } from "#core/picture/view";
import { ciede2000 } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";
import { linearTable } from "#core/raster/srgb";
import { textureOf } from "#core/raster/texture";
import type { Raster } from "#core/raster/raster";
import type { Role } from "#core/roles/roles";
import { lightTablesOf, tableRows } from "../app/live/lightTables";
import { LivePicture, tablesFor, type LiveMap } from "../app/live/livePicture";
import { liveCases, type LiveCase } from "./liveMaterials";

/** Runs in a page: draws materials by the graphics card and by the core, and says how far apart the pictures are. */
const CONDITIONS_MEASURED: Record<string, Condition> = {
  "one directional light": { ...CONDITIONS.studio, lampShare: 1, lampAround: 140, lampAbove: 40 },
  "one environment": {
    ...CONDITIONS["low-sun"],
    lampShare: 0,
    environmentTurn: 20,
    behind: 0.5,
    ground: "grey",
  },
};

function sent(role: Role, key: string, { width, height, channels, bitDepth, data }: Raster): LiveMap {
  const code = bitDepth === 16 ? 1 / 257 : 1;
  const pixels = new Uint8ClampedArray(width * height * 4).fill(255);
  for (let i = 0; i < width * height; i++)
    for (let c = 0; c < 3; c++) pixels[i * 4 + c] = data[i * channels + (channels < 3 ? 0 : c)] * code;
  return {
    key,
    role,
    normalDirection: role === "geometry_normal" ? "+Y" : null,
    width,
    height,
    data: pixels,
  };
}

function core(one: LiveCase, view: View, condition: Condition): Raster {
  const place = (raster: Raster, size: LiveCase["repeat"]) => 2 ** detailLevel(raster, size, view.mmPerPx);
  return makePicture(
    {
      textures: Object.fromEntries(
        one.maps.map(({ role, raster }) =>
          roleTexture(
            { role, channel: "color", normalDirection: role === "geometry_normal" ? "+Y" : null, raster },
            { reduce: place(raster, one.repeat), wraps: one.wraps },
          ),
        ),
      ),
      finish: one.finish,
      repeat: one.repeat,
      heightMm: one.heightMm,
      wear: one.wear.map(({ layer, raster, size }) => ({
        layer,
        size,
        texture: textureOf(raster, { holds: "data", reduce: place(raster, size), wraps: true }),
      })),
    },
    view,
    condition,
  );
}

const canvas = document.querySelector("canvas")!;
const live = new LivePicture(canvas, true);
for (const { environment } of Object.values(CONDITIONS_MEASURED))
  live.addLight(environment, lightTablesOf(environment));

async function shot(one: LiveCase, view: View, condition: Condition): Promise<Uint8ClampedArray> {
  const maps = one.maps.map(({ role, raster }, at) => sent(role, `${one.name} ${at}`, raster));
  live.addTables(live.missingTables(tablesFor({ maps }, one.finish)).map(tableRows));
  const material = {
    maps,
    masks: one.wear.map(({ raster }, at) => sent("wear_mask", `${one.name} mask ${at}`, raster)),
    repeat: one.repeat,
    wraps: one.wraps,
  };
  const wear = one.wear.map(({ layer, size }, at) => ({
    layer,
    size,
    mask: `${one.name} mask ${at}`,
    wraps: true,
  }));
  for (let tries = 0; tries < 600; tries++) {
    if (live.draw(material, { finish: one.finish, heightMm: one.heightMm, wear }, view, condition)) {
      const copy = new OffscreenCanvas(view.width, view.height).getContext("2d")!;
      copy.drawImage(canvas, 0, 0);
      return copy.getImageData(0, 0, view.width, view.height).data;
    }
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`${one.name} was never drawn.`);
}

export interface Agreement {
  name: string;
  condition: string;
  mean: number;
  worst: number;
}

/** Mean and worst ΔE2000 of every material under both lights. */
async function agreements(): Promise<Agreement[]> {
  const linear = linearTable(8);
  const lab = (data: ArrayLike<number>, i: number) =>
    linearToLab(linear[data[i]], linear[data[i + 1]], linear[data[i + 2]]);
  const found: Agreement[] = [];
  for (const one of liveCases())
    for (const [name, condition] of Object.entries(CONDITIONS_MEASURED)) {
      const view: View = {
        shape: one.shape,
        width: 120,
        height: 90,
        mmPerPx: one.shape === "wall" ? 33 : (one.repeat.width * 0.45) / 120,
        centre:
          one.shape === "block" ? { x: 30, y: 20 } : { x: one.repeat.width / 2, y: one.repeat.height / 2 },
        cards: one.name === "lamp",
        turn: { right: 25, down: 10 },
      };
      const truth = core(one, view, condition).data;
      const pixels = await shot(one, view, condition);
      let [sum, worst] = [0, 0];
      for (let i = 0, p = 0; i < truth.length; i += 3, p += 4) {
        const difference = ciede2000(lab(truth, i), lab(pixels, p));
        sum += difference;
        worst = Math.max(worst, difference);
      }
      found.push({ name: one.name, condition: name, mean: sum / (truth.length / 3), worst });
    }
  return found;
}

Object.assign(window, { agreements });
