import { z } from "zod";
import { adjusterOf, colorAdjustment } from "#core/finish/colorAdjustment";
import { finishSchema, type Finish } from "#core/finish/finish";
import { withAlpha } from "#core/finish/colorShares";
import { lightReflectance } from "#core/finish/lightReflectance";
import { colorOrder, colorTerms } from "#core/library/colorTerms";
import { dominantColors } from "#core/library/dominantColors";
import { hexToLinear, linearTable } from "#core/raster/srgb";
import type { MapChannel } from "#core/roles/channel";
import type { Role } from "#core/roles/roles";
import { database, type Db, rows } from "#server/db/database";
import { findColors } from "#server/images/queries";
import { addJob } from "#server/jobs/queue";

/** What a material is found by of its colours, after its finish; null where its picture's colours have not been read. */
interface SeenColors {
  lightReflectance: number | null;
  /** None where it has no colour of its own: what light goes through shows what is behind it. */
  terms: Record<string, number> | null;
  order: number | null;
  /** L*, a*, b* and share of each colour that it is of. */
  colors: number[][] | null;
}

const UNREAD: SeenColors = { lightReflectance: null, terms: null, order: null, colors: null };

/** Of a new revision. */
export async function seenColorsOf(
  db: Db,
  finish: Finish,
  maps: readonly { role: Role; channel: MapChannel; sha256: string }[],
): Promise<SeenColors> {
  const base = maps.find(({ role, channel }) => role === "base_color" && channel === "color");
  if (!base) return seenIn(finish);
  const colors = await findColors(db, base.sha256);
  return colors ? seenIn(finish, colors) : UNREAD;
}

type Triple = [number, number, number];

/** So many shares are put together: what a surface is called by needs no finer ones. */
const TOGETHER = 8;

function seenIn(finish: Finish, colors?: Uint8Array): SeenColors {
  const light = lightReflectance(finish, colors && withAlpha(colors));
  if (light === undefined) return { lightReflectance: null, terms: {}, order: null, colors: [] };
  const parts = colors ? partsOf(colors) : [hexToLinear(finish.color!)];
  const adjustment = colorAdjustment(finish);
  const dominant = dominantColors(adjustment ? parts.map(adjusterOf(adjustment)) : parts);
  return {
    lightReflectance: light,
    terms: colorTerms(dominant),
    order: colorOrder(dominant),
    colors: dominant.map(({ lab, share }) => [...lab, share].map((value) => Number(value.toFixed(3)))),
  };
}

/** Means of neighbouring shares, in linear light. */
function partsOf(colors: Uint8Array): Triple[] {
  const toLinear = linearTable(8);
  return Array.from({ length: colors.length / 3 / TOGETHER }, (_, at) => {
    const sum: Triple = [0, 0, 0];
    for (let share = at * TOGETHER; share < (at + 1) * TOGETHER; share++)
      for (let c = 0; c < 3; c++) sum[c] += toLinear[colors[share * 3 + c]] / TOGETHER;
    return sum;
  });
}

const waitingSchema = z.object({
  material: z.string(),
  number: z.number(),
  finish: finishSchema,
  sha256: z.string().nullable(),
});

/** Current revisions whose colours nobody has said, and could. */
const UNSEEN = `FROM materials m
   JOIN revisions r ON r.material = m.id AND r.number = m.revision
   LEFT JOIN maps a ON a.material = m.id AND a.revision = m.revision AND a.role = 'base_color' AND a.channel = 'color'
  WHERE m.color_terms IS NULL AND m.deleted_at IS NULL
    AND (a.sha256 IS NULL OR EXISTS (SELECT FROM picture_colors c WHERE c.sha256 = a.sha256))`;

/** So many at once. */
const MOST = 500;

/** Says it of current revisions that were saved before anybody read their colours. @returns how many there were */
export async function seeMissingColors(db: Db): Promise<number> {
  const waiting = await rows(
    db,
    waitingSchema,
    `SELECT r.material, r.number, r.finish, a.sha256 ${UNSEEN}
      ORDER BY m.id LIMIT ${MOST}`,
  );
  for (const { material, number, finish, sha256 } of waiting) {
    const maps = sha256 === null ? [] : [{ role: "base_color" as const, channel: "color" as const, sha256 }];
    const { lightReflectance: light, terms, order, colors } = await seenColorsOf(db, finish, maps);
    await db.query(
      "UPDATE revisions SET light_reflectance = $3, color_terms = $4, color_order = $5, colors = $6 WHERE material = $1 AND number = $2",
      [material, number, light, terms && JSON.stringify(terms), order, colors && JSON.stringify(colors)],
    );
  }
  return waiting.length;
}

/** Asks for what was saved before the program could say it; none there is no work. */
export async function askToSeeColors(db: Db): Promise<void> {
  const waiting = await rows(db, z.object({ id: z.string() }), `SELECT m.id ${UNSEEN} LIMIT 1`);
  if (waiting.length > 0) await addJob(db, "see-colors", { turn: "0" });
}

/** Sees to so many of them, and asks for the rest. */
export async function seeNextColors(turn: string): Promise<void> {
  if ((await seeMissingColors(database())) === MOST)
    await addJob(database(), "see-colors", { turn: String(Number(turn) + 1) });
}
