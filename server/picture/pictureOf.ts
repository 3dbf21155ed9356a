import { createHash } from "node:crypto";
import { Readable } from "node:stream";
import { heightAmplitude } from "#core/finish/finish";
import type { Condition } from "#core/picture/condition";
import { DRAWN_ROLES } from "#core/picture/roleTexture";
import type { View } from "#core/picture/view";
import { database } from "#server/db/database";
import { findImage } from "#server/images/queries";
import type { MaterialRow } from "#server/material/queries";
import { pool } from "#server/pool/pool";
import { conflict } from "#server/problem";
import { findDerived, insertDerived, insertFile } from "#server/store/sql";
import { fileStore } from "#server/store/store";

/** Raised whenever the same material would look otherwise: a changed model, or a changed picture-maker. */
const VERSION = 1;

/** What a material without a size is drawn with: a picture, not a statement. */
const GUESSED_MM = 1000;

export interface PictureAsk {
  width: number;
  height: number;
  shape: View["shape"];
  condition: Condition;
  /** How much of it is seen; chosen by its size unless given. */
  mmPerPx?: number;
}

/**
 * A material as the shading model shows it, made once and kept.
 * @returns the hash of a PNG
 * @throws {Problem} 409 where an original is gone
 */
export async function pictureOf(material: MaterialRow, ask: PictureAsk): Promise<string> {
  const maps = material.maps.filter(({ role }) => DRAWN_ROLES.includes(role));
  const base = maps.find(({ role }) => role === "base_color") ?? maps[0];
  const repeat = material.repeat ?? {
    width: GUESSED_MM,
    height: GUESSED_MM * (base ? base.height / base.width : 1),
  };
  const view: View = {
    shape: ask.shape,
    width: ask.width,
    height: ask.height,
    // A repeat and a half, but no more than a wall.
    mmPerPx: ask.mmPerPx ?? Math.min(4000, 1.5 * repeat.width) / ask.width,
    centre: ask.shape === "panel" ? { x: repeat.width / 2, y: repeat.height / 2 } : { x: 0, y: 0 },
    cards: false,
  };
  const drawn = {
    finish: material.finish,
    repeat,
    heightMm: heightAmplitude(material.finish, material.repeat).mm,
    wraps: material.layout === "repeating",
    view,
    condition: ask.condition,
  };
  const recipe = createHash("sha256")
    .update(
      JSON.stringify([
        "picture",
        VERSION,
        drawn,
        maps.map(({ role, sha256, channel, normalDirection }) => [role, sha256, channel, normalDirection]),
      ]),
    )
    .digest("hex");
  const known = await findDerived(database(), recipe);
  if (known && (await fileStore().has(known.sha256))) return known.sha256;

  const formats = new Map<string, string>();
  for (const { sha256, fileName } of maps) {
    const image = await findImage(database(), sha256);
    if (!image || !(await fileStore().has(sha256)))
      throw conflict(`The original file ${fileName} is missing from the data folder. Take it in again.`);
    formats.set(sha256, image.format);
  }
  const png = await fileStore().withLocal([...formats.keys()], (pathOf) =>
    pool.drawPicture({
      ...drawn,
      maps: maps.map(({ role, sha256, channel, normalDirection }) => ({
        role,
        channel,
        normalDirection,
        path: pathOf(sha256),
        format: formats.get(sha256)!,
      })),
    }),
  );
  const kept = await fileStore().keep(Readable.from([Buffer.from(png)]));
  await insertFile(database(), { ...kept, mediaType: "image/png" });
  await insertDerived(database(), recipe, kept.sha256);
  return kept.sha256;
}
