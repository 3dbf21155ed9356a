import { availableParallelism } from "node:os";
import { planCandidates, type IgnoredFile, type IntakeImage } from "#core/maps/planCandidates";
import { isColorRole } from "#core/maps/roles";
import { database, inTransaction } from "#server/db/database";
import { findImage, insertFile, insertImage, type ImageRow } from "#server/db/files";
import {
  findIntake,
  listUploads,
  replaceCandidates,
  setIntakeProgress,
  setIntakeState,
} from "#server/db/intakes";
import { announce } from "#server/events/events";
import { fileStore } from "#server/files/store";
import { pixels } from "#server/images/pixelPool";
import { previewName } from "#server/images/previews";
import { looksLikeArchive, readArchive } from "#server/intake/openArchive";

/** A file of the intake: what it is called, where it came from, where it is kept. */
interface Found {
  file: string;
  scope: string;
  sha256: string;
}

const EXTENSIONS: Record<string, string> = {
  png: "png",
  jpg: "jpeg",
  jpeg: "jpeg",
  tif: "tiff",
  tiff: "tiff",
  webp: "webp",
  tga: "tga",
};

/** Files that archives carry along and nobody means. */
const CLUTTER = /(^|\/)(__MACOSX\/|\.DS_Store$|Thumbs\.db$|desktop\.ini$|\._)/i;

/** Unpacks, identifies and groups what an intake received. Runs twice without harm. */
export async function readIntake(id: string): Promise<void> {
  const db = database();
  const intake = await findIntake(db, id);
  if (!intake || intake.state !== "reading") return;
  const ignored: IgnoredFile[] = [];
  const found = await unpack(id, ignored);

  const images: IntakeImage[] = [];
  const rowsBySha = new Map<string, ImageRow>();
  let read = 0;
  await eachOf(found, async (file) => {
    await progress(id, { done: read++, total: found.length * 2, what: `Reading ${file.file}` });
    try {
      const row = await identify(file.sha256);
      rowsBySha.set(file.sha256, row);
      images.push(intakeImage(file, row));
    } catch (error) {
      ignored.push({ file: file.file, reason: (error as Error).message });
    }
  });

  const order = new Map(found.map(({ file, scope }, at) => [`${scope}\0${file}`, at]));
  const place = ({ file, scope }: IntakeImage) => order.get(`${scope}\0${file}`)!;
  const plan = planCandidates(images.sort((a, b) => place(a) - place(b)));
  const maps = plan.candidates.flatMap((candidate) => candidate.maps);
  let drawn = 0;
  await eachOf(maps, async (map) => {
    const total = found.length + maps.length;
    await progress(id, { done: found.length + drawn++, total, what: `Pictures of ${map.file}` });
    const use =
      map.channel === "color" && (map.role === "unknown" || isColorRole(map.role)) ? "color" : "data";
    await keepPreviews(map.sha256, rowsBySha.get(map.sha256)!.format, map.channel, use);
  });

  await inTransaction(async (tx) => {
    await replaceCandidates(tx, id, plan.candidates, [...ignored, ...plan.ignored]);
    await setIntakeState(tx, id, "review");
    await setIntakeProgress(tx, id, { done: 1, total: 1, what: "" });
    await announce(tx, { topic: "intake", id, state: "review" });
  });
}

/** As many at a time as there are threads for pixels, so that a large intake does not fill the memory. */
async function eachOf<T>(items: T[], work: (item: T) => Promise<void>): Promise<void> {
  const waiting = [...items];
  const lane = async () => {
    for (let item = waiting.shift(); item !== undefined; item = waiting.shift()) await work(item);
  };
  await Promise.all(Array.from({ length: availableParallelism() }, lane));
}

/** Loose files as they are, and the contents of archives, streamed to the store. */
async function unpack(id: string, ignored: IgnoredFile[]): Promise<Found[]> {
  const found: Found[] = [];
  const store = fileStore();
  for (const upload of await listUploads(database(), id)) {
    const path = store.path(upload.sha256);
    if (!(await looksLikeArchive(path))) {
      if (/\.zip$/i.test(upload.name))
        ignored.push({ file: upload.name, reason: "It is called .zip but is no zip. Download it again." });
      else found.push({ file: upload.name, scope: "", sha256: upload.sha256 });
      continue;
    }
    try {
      await readArchive(
        path,
        async (file) => {
          if (CLUTTER.test(file.name)) return;
          await progress(id, { done: found.length, total: 0, what: `Unpacking ${file.name}` });
          try {
            const kept = await store.keep(await file.open());
            await insertFile(database(), { ...kept, mediaType: "application/octet-stream" });
            found.push({ file: file.name, scope: upload.name, sha256: kept.sha256 });
          } catch {
            ignored.push({
              file: `${upload.name}/${file.name}`,
              reason: "It is damaged inside the zip and could not be unpacked.",
            });
          }
        },
        (name, reason) => ignored.push({ file: `${upload.name}/${name}`, reason }),
      );
    } catch (error) {
      ignored.push({ file: upload.name, reason: (error as Error).message });
    }
  }
  return found;
}

/** What an image is; read once for each content, however often it comes. */
async function identify(sha256: string): Promise<ImageRow> {
  const known = await findImage(database(), sha256);
  if (known) return known;
  const image = await pixels.identify(fileStore().path(sha256));
  const row: ImageRow = {
    sha256,
    format: image.format,
    width: image.width,
    height: image.height,
    channels: image.channels,
    bit_depth: image.bitDepth,
    alpha: image.alpha,
    foreign_profile: image.foreignProfile,
  };
  await insertImage(database(), row, image.mediaType);
  return row;
}

export async function keepPreviews(
  sha256: string,
  format: string,
  channel: "color" | "alpha",
  use: "color" | "data",
): Promise<void> {
  const store = fileStore();
  for (const { size, data } of await pixels.preview({ path: store.path(sha256), format, channel, use }))
    await store.writeDerived(previewName(sha256, channel, size), data);
}

function intakeImage({ file, scope, sha256 }: Found, row: ImageRow): IntakeImage {
  const expected = EXTENSIONS[/\.([a-z0-9]+)$/i.exec(file)?.[1].toLowerCase() ?? ""];
  return {
    file,
    scope,
    sha256,
    width: row.width,
    height: row.height,
    bitDepth: row.bit_depth,
    channels: row.channels,
    alpha: row.alpha,
    foreignProfile: row.foreign_profile,
    ...(expected === row.format ? {} : { mistakenFor: row.format }),
  };
}

async function progress(id: string, progress: { done: number; total: number; what: string }): Promise<void> {
  await setIntakeProgress(database(), id, progress);
  await announce(database(), { topic: "intake", id, state: "reading", progress });
}
