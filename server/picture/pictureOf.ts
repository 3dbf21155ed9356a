import { createHash } from "node:crypto";
import { Readable } from "node:stream";
import { setTimeout as wait } from "node:timers/promises";
import { z } from "zod";
import { heightAmplitude } from "#core/finish/finish";
import { isLaid } from "#core/finish/wear";
import { wearSize } from "#core/finish/wearSize";
import { isOwnEnvironment, type Condition } from "#core/picture/condition";
import type { Measured } from "#core/picture/measure";
import { DRAWN_ROLES } from "#core/picture/roleTexture";
import type { Repeat } from "#core/length/repeat";
import { isOfWholePieces, LEAF_SHARE, type View } from "#core/picture/view";
import { Refusal } from "#core/text/refusal";
import { checkPanorama } from "#server/condition/panorama";
import { database } from "#server/db/database";
import { findImage } from "#server/images/queries";
import type { MaterialRow } from "#server/material/queries";
import { addJobUnlessThere } from "#server/jobs/queue";
import type { ReferenceRow } from "#server/reference/sql";
import type { Rgb } from "#core/shade/rgb";
import type { PickTask } from "#server/pixels/pickColor";
import type { DrawTask, ReferenceTask } from "#server/pixels/drawPicture";
import { pool } from "#server/pool/pool";
import { conflict, Problem } from "#server/problem";
import { findDerived, insertDerived, insertFile } from "#server/store/sql";
import { fileStore } from "#server/store/store";

/** Raised whenever the same material would look otherwise: a changed model, or a changed picture-maker. */
const VERSION = 5;

/** What a material without a size is drawn with: a picture, not a statement. */
const GUESSED_MM = 1000;

/** What a picture shows across: a wall of about 4 m; else a repeat and a half, but no more than that. */
const WALL_MM = 4800;
const MOST_MM = 4000;

/** So long somebody waits for a worker. */
const PATIENCE_MS = 60_000;
const LOOK_MS = 100;

export interface PictureAsk {
  width: number;
  height: number;
  shape: View["shape"];
  condition: Condition;
  /** How much of it is seen; chosen by its size unless given. */
  mmPerPx?: number;
  cards?: boolean;
  turn?: View["turn"];
}

/** All that a picture depends on, but where its originals lie. */
const drawnSchema = z.object({
  drawn: z.custom<Omit<DrawTask, "maps" | "wear" | "panorama">>(),
  maps: z.array(z.custom<Omit<DrawTask["maps"][number], "path" | "format"> & { sha256: string }>()),
  /** Left out where there is none: so what was drawn before there was any is found. */
  wear: z
    .array(z.custom<Omit<DrawTask["wear"][number], "path" | "format"> & { sha256: string }>())
    .optional(),
  /** Its mean is wanted, and not the picture. */
  isMeasured: z.literal(true).optional(),
});
const referenceAskedSchema = z.object({
  reference: z.custom<Omit<ReferenceTask, "path" | "format"> & { sha256: string }>(),
});
/** An environment of the library as the picture-maker reads it. */
const panoramaAskedSchema = z.object({ panorama: z.string() });
const pickAskedSchema = z.object({
  pick: z.custom<Omit<PickTask, "path" | "format"> & { sha256: string }>(),
});
const askedSchema = z.union([drawnSchema, referenceAskedSchema, panoramaAskedSchema, pickAskedSchema]);
type Drawn = z.infer<typeof drawnSchema>;

/**
 * A material as the shading model shows it, drawn once by the worker and kept.
 * @returns the hash of a PNG
 * @throws {Problem} 409 where an original is gone, 503 where no worker has drawn it in time
 */
export function pictureOf(material: MaterialRow, ask: PictureAsk): Promise<string> {
  return madeOnce(askedOf(material, ask), namesOf(material));
}

/** The mean of such a picture, and the roughness in it; measured once by the worker and kept. @throws {Problem} as above */
export const measuredOf = async (material: MaterialRow, ask: PictureAsk): Promise<Measured> =>
  (await readMade(
    await madeOnce({ ...askedOf(material, ask), isMeasured: true }, namesOf(material)),
  )) as Measured;

/** The mean of a reference picture in its middle; nothing where the view is beside it. @throws {Problem} as above */
export async function measuredReference(
  { sha256, name, placing, neutral }: Pick<ReferenceRow, "sha256" | "name" | "placing" | "neutral">,
  view: View,
): Promise<Measured | null> {
  const names = new Map([[sha256, name]]);
  return readMade(await madeOnce({ reference: { sha256, placing, neutral, view } }, names));
}

/** Light from all sides, of a file of the library: its bytes. @throws {Problem} 404 and 409 where it is none, and as above */
export async function panoramaOf(sha256: string): Promise<Buffer> {
  await checkPanorama(database(), sha256);
  return fileStore().read(await madeOnce({ panorama: sha256 }, new Map([[sha256, "of the environment"]])));
}

/** The colour of a spot of a kept picture, in linear light; picked once by the worker and kept. @throws {Problem} as above */
export async function pickedOf(pick: z.infer<typeof pickAskedSchema>["pick"], name: string): Promise<Rgb> {
  const made = await madeOnce({ pick }, new Map([[pick.sha256, name]]));
  return JSON.parse((await fileStore().read(made)).toString("utf8")) as Rgb;
}

const readMade = async (sha256: string): Promise<Measured | null> =>
  JSON.parse((await fileStore().read(sha256)).toString("utf8")) as Measured | null;

/** What its originals are called, by hash. */
const namesOf = ({ maps, wear }: MaterialRow) =>
  new Map([...maps, ...wear.map(({ mask }) => mask)].map(({ sha256, fileName }) => [sha256, fileName]));

/** What was asked for before, or what the worker makes of it now. @returns the hash of a file */
async function madeOnce(
  asked: z.infer<typeof askedSchema>,
  names: ReadonlyMap<string, string>,
): Promise<string> {
  const recipe = createHash("sha256")
    .update(JSON.stringify(["picture", VERSION, asked]))
    .digest("hex");
  const known = await findDrawn(recipe);
  if (known) return known;
  if ("drawn" in asked)
    for (const sha256 of panoramaFor(asked.drawn.condition)) await checkPanorama(database(), sha256);
  for (const sha256 of sourcesOf(asked))
    if (!(await fileStore().has(sha256)))
      throw conflict(
        `The original file ${names.get(sha256) ?? sha256} is missing from the data folder. Take it in again.`,
      );
  await addJobUnlessThere(database(), "draw-picture", { recipe, asked: JSON.stringify(asked) });
  for (const until = Date.now() + PATIENCE_MS; Date.now() < until;) {
    await wait(LOOK_MS);
    const drawn = await findDrawn(recipe);
    if (drawn) return drawn;
  }
  throw new Problem(503, "Not drawn yet", "No worker has drawn it so far. Ask for it again in a minute.");
}

const sourcesOf = (asked: z.infer<typeof askedSchema>): string[] =>
  "panorama" in asked
    ? [asked.panorama]
    : "pick" in asked
      ? [asked.pick.sha256]
      : "reference" in asked
        ? [asked.reference.sha256]
        : [
            ...[...asked.maps, ...(asked.wear ?? [])].map(({ sha256 }) => sha256),
            ...panoramaFor(asked.drawn.condition),
          ];

const panoramaFor = ({ environment }: Condition): string[] =>
  isOwnEnvironment(environment) ? [] : [environment];

/** A PNG or a panorama, or figures. */
type Made = Uint8Array | Measured | Rgb | null;

/** Draws or measures what was asked for, unless it is there already. */
export async function drawAsked(recipe: string, text: string): Promise<void> {
  if (await findDrawn(recipe)) return;
  const asked = askedSchema.parse(JSON.parse(text));
  const formats = new Map<string, string>();
  for (const sha256 of sourcesOf(asked)) {
    const image = await findImage(database(), sha256);
    if (!image) throw new Refusal("An original of the picture is missing from the data folder.");
    formats.set(sha256, image.format);
  }
  const made = await fileStore().withLocal([...formats.keys()], async (pathOf): Promise<Made> => {
    const located = <T extends { sha256: string }>({ sha256, ...map }: T) => ({
      ...map,
      path: pathOf(sha256),
      format: formats.get(sha256)!,
    });
    if ("panorama" in asked) return pool.panoramaFile(located({ sha256: asked.panorama }));
    if ("pick" in asked) return pool.pickColor(located(asked.pick));
    if ("reference" in asked) return pool.measureReferencePicture(located(asked.reference));
    const { drawn, maps, wear = [], isMeasured } = asked;
    const [panorama] = panoramaFor(drawn.condition).map((sha256) => located({ sha256 }));
    const task = {
      ...drawn,
      maps: maps.map(located),
      wear: wear.map(located),
      ...(panorama && { panorama }),
    };
    return isMeasured ? pool.measurePicture(task) : pool.drawPicture(task);
  });
  const [bytes, mediaType] =
    made instanceof Uint8Array
      ? [Buffer.from(made), "panorama" in asked ? "application/octet-stream" : "image/png"]
      : [Buffer.from(JSON.stringify(made)), "application/json"];
  const kept = await fileStore().keep(Readable.from([bytes]));
  await insertFile(database(), { ...kept, mediaType });
  await insertDerived(database(), recipe, kept.sha256);
}

async function findDrawn(recipe: string): Promise<string | undefined> {
  const known = await findDerived(database(), recipe);
  return known && (await fileStore().has(known.sha256)) ? known.sha256 : undefined;
}

function seenWidthMm({ shape, width, height }: PictureAsk, repeat: Repeat): number {
  if (shape === "wall") return WALL_MM;
  if (shape === "leaf") return Math.max(repeat.width, (repeat.height * width) / height) / LEAF_SHARE;
  return Math.min(MOST_MM, 1.5 * repeat.width);
}

/** What of a material is drawn, and by what hashes its originals are found. */
export function drawnOf(material: MaterialRow) {
  const maps = material.maps.filter(({ role }) => DRAWN_ROLES.includes(role));
  const base = maps.find(({ role }) => role === "base_color") ?? maps[0];
  const repeat = material.repeat ?? {
    width: GUESSED_MM,
    height: GUESSED_MM * (base ? base.height / base.width : 1),
  };
  // By the same names that keep what it is drawn from: what they refer to is in the rest.
  const { wear: _layers, ...finish } = material.finish;
  const worn = material.wear
    .filter(({ layer }) => isLaid(layer))
    .map((one) => ({
      layer: one.layer,
      size: wearSize(one).size,
      sha256: one.mask.sha256,
      channel: one.mask.channel,
      wraps: one.layout === "repeating",
    }));
  return {
    drawn: {
      finish,
      repeat,
      heightMm: heightAmplitude(material.finish, material.repeat).mm,
      wraps: material.layout === "repeating",
    },
    maps: maps.map(({ role, sha256, channel, normalDirection }) => ({
      role,
      sha256,
      channel,
      normalDirection,
    })),
    ...(worn.length > 0 && { wear: worn }),
  };
}

function askedOf(material: MaterialRow, ask: PictureAsk): Drawn {
  const { drawn, maps, wear } = drawnOf(material);
  const { repeat } = drawn;
  const view: View = {
    shape: ask.shape,
    width: ask.width,
    height: ask.height,
    mmPerPx: ask.mmPerPx ?? seenWidthMm(ask, repeat) / ask.width,
    centre: isOfWholePieces(ask.shape) ? { x: 0, y: 0 } : { x: repeat.width / 2, y: repeat.height / 2 },
    cards: ask.cards ?? false,
    ...(ask.turn && { turn: ask.turn }),
  };
  return { drawn: { ...drawn, view, condition: ask.condition }, maps, ...(wear && { wear }) };
}
