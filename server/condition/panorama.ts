import { panoramaTrouble } from "#core/picture/panorama";
import { isPanorama } from "#server/condition/sql";
import type { Db } from "#server/db/database";
import { findImage } from "#server/images/queries";
import { conflict, notFound } from "#server/problem";

/** @throws {Problem} 404 where a file is no environment, 409 where it is none that can light anything */
export async function checkPanorama(db: Db, sha256: string): Promise<void> {
  const image = (await isPanorama(db, sha256)) ? await findImage(db, sha256) : undefined;
  if (!image) throw notFound("environment");
  const trouble = panoramaTrouble(image);
  if (trouble) throw conflict(trouble);
}
