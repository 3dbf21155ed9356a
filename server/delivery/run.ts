import { Readable } from "node:stream";
import pMap from "p-map";
import { Refusal } from "#core/text/refusal";
import type { EncodedImage } from "#core/formats/container";
import { makingCost } from "#core/convert/imageCost";
import { containerKind } from "#core/formats/containers";
import { heightAmplitude } from "#core/finish/finish";
import { containerImage, layersOf, type MaterialPlan, type PlannedFile } from "#core/convert/materialPlan";
import type { Account, AccountFile, AccountMaterial } from "#server/delivery/account";
import { writeToDestination } from "#server/destination/writeToDestination";
import { containerRecipe, imageRecipe } from "#server/delivery/recipe";
import { database, inTransaction, type Db } from "#server/db/database";
import { cancelAsked, findDelivery, readPlan, type DeliveryRow } from "#server/delivery/queries";
import { addMadeCost, endDelivery, setDeliveryProgress, startDelivery } from "#server/delivery/writes";
import { findImage } from "#server/images/queries";
import { findDerived, insertDerived, insertFile } from "#server/store/sql";
import { announce, announceStep } from "#server/events/events";
import { fileStore } from "#server/store/store";
import { pool } from "#server/pool/pool";
import { settings } from "#server/settings";
import { addJobUnlessThere } from "#server/jobs/queue";
import { overtaken } from "#server/jobs/overtaken";
import { findProfileRevision } from "#server/profile/sql";
import { beginProofs } from "#server/delivery/proof/sql";

/** Ends a run because somebody asked for it. */
class Cancelled extends Error {}

/** A file of a delivery, kept in the store. */
interface MadeFile {
  path: string;
  sha256: string;
}

/**
 * Carries out a planned delivery. What a recipe made before is not made again, so a run that was broken off goes on
 * where it was, and running twice does no harm.
 */
export async function runDelivery(id: string): Promise<void> {
  const db = database();
  if (!(await startDelivery(db, id))) return;
  const delivery = (await findDelivery(db, id))!;
  const plans = await readPlan(db, id);
  await announce(db, { topic: "delivery", id, state: "running" });
  try {
    const { account, failure } = await carryOutPlans(delivery, plans);
    const end = failure === undefined ? { state: "done" as const } : { state: "failed" as const, failure };
    await inTransaction(async (tx) => {
      await endDelivery(tx, id, { ...end, account } as Parameters<typeof endDelivery>[2]);
      if (end.state === "done") await wantProofs(tx, delivery, plans);
      // What overtook it while it ran was left to its end.
      if (end.state === "done" && delivery.project) await overtaken(tx, delivery.project.id);
    });
    await announce(db, { topic: "delivery", id, state: end.state });
  } catch (error) {
    if (!(error instanceof Cancelled)) throw error;
    await endDelivery(db, id, { state: "cancelled" });
    await announce(db, { topic: "delivery", id, state: "cancelled" });
  }
}

/** What is proved after the files are there: it keeps nobody from them. */
async function wantProofs(
  db: Db,
  { id, profileRevisions }: DeliveryRow,
  plans: MaterialPlan[],
): Promise<void> {
  const proved = new Set<string>();
  for (const { id: profile, revision } of profileRevisions)
    if ((await findProfileRevision(db, profile, revision))?.isProved) proved.add(profile);
  const wanted = plans
    .filter(({ profile }) => proved.has(profile))
    .map(({ material, profile }) => ({ material: material.id, profile }));
  if (wanted.length === 0) return;
  await beginProofs(db, id, wanted);
  await addJobUnlessThere(db, "prove-delivery", { delivery: id });
}

/** After the last attempt: says what went wrong, in place of a run that never ends. */
export async function failDelivery(id: string, reason: string): Promise<void> {
  await endDelivery(database(), id, { state: "failed", failure: reason });
  await announce(database(), { topic: "delivery", id, state: "failed" });
}

/** @returns the account of what was made, and why it could not be written to its destination */
async function carryOutPlans(
  delivery: DeliveryRow,
  plans: MaterialPlan[],
): Promise<{ account: Account; failure?: string }> {
  const total = plans.reduce((sum, plan) => sum + plan.files.length + 1, 0);
  let done = 0;
  const step = async <T>(what: string, work: () => Promise<T>): Promise<T> => {
    if (await cancelAsked(database(), delivery.id)) throw new Cancelled();
    await setDeliveryProgress(database(), delivery.id, { done, total, what });
    await announceStep(database(), { topic: "delivery", id: delivery.id, state: "running" });
    const result = await work();
    done++;
    return result;
  };

  // All images first and the dearest of them before the others, so that no process waits for another at the end.
  const images = plans
    .flatMap((plan) => plan.files.map((file) => ({ plan, file })))
    .sort((a, b) => makingCost(b.file) - makingCost(a.file));
  let cost = 0;
  const make = imageMaker((file) => (cost += makingCost(file)));
  const from = performance.now();
  const ready = new Map<PlannedFile, AccountFile>();
  await pMap(
    images,
    async ({ plan: { material, profile }, file }) => {
      const what = `${material.name}: ${file.slot} for ${profile}`;
      ready.set(file, await step(what, () => make(file, material.layout === "repeating")));
    },
    { concurrency: settings().threads },
  );
  if (cost > 0)
    await addMadeCost(database(), delivery.id, { cost, seconds: (performance.now() - from) / 1000 });
  const materials: AccountMaterial[] = [];
  const made: MadeFile[] = [];
  for (const plan of plans) {
    const what = `${plan.material.name}: ${plan.container ? "one file" : "settings"} for ${plan.profile}`;
    const of = plan.files.map((file) => ready.get(file)!);
    const { material, files } = await step(what, () => finishMaterial(plan, of));
    materials.push(material);
    made.push(...files);
  }

  const written = new Set<string>();
  let failure: string | undefined;
  if (delivery.destination) {
    const { destination } = delivery;
    try {
      await step(`Writing to ${destination.name}`, async () => {
        for (const file of made)
          if (await writeToDestination(destination, file, delivery.id)) written.add(file.path);
      });
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      failure = error.message;
    }
  }
  const isWritten = (path: string) => !delivery.destination || written.has(path);
  for (const material of materials) for (const file of material.files) file.written = isWritten(file.path);
  const account: Account = {
    delivery: delivery.id,
    made: new Date().toISOString(),
    materials,
    ...(delivery.destination && {
      destination: {
        name: delivery.destination.name,
        folder: delivery.destination.folder,
        paths: delivery.destination.paths,
      },
    }),
    written: made.filter(({ path }) => isWritten(path)).length,
    unchanged: failure === undefined ? made.filter(({ path }) => !isWritten(path)).length : 0,
  };
  return { account, failure };
}

/** What is made around the images of a material. */
async function finishMaterial(
  plan: MaterialPlan,
  images: AccountFile[],
): Promise<{ material: AccountMaterial; files: MadeFile[] }> {
  const { material } = plan;
  const made = plan.container ? await makeContainer(plan, plan.container, images) : [];
  const areInside = plan.container && containerKind(plan.container.kind).images === "inside";
  const files: AccountFile[] = areInside ? made : [...made, ...images];
  const settings = await keepBytes(Buffer.from(settingsSheet(plan)), "application/json");
  const settingsFile = { path: plan.settingsPath, sha256: settings };
  return {
    material: {
      id: material.id,
      name: material.name,
      revision: material.revision,
      repeat: material.repeat,
      profile: plan.profile,
      files,
      settings: settingsFile,
      steps: plan.steps,
      warnings: plan.warnings,
      notCarried: plan.notCarried,
      correction: plan.correction,
    },
    files: [...files.map(({ path, sha256 }) => ({ path, sha256 })), settingsFile],
  };
}

/** Makes images, or finds what the same recipe made before; one that is being made is waited for. */
function imageMaker(
  onMade: (file: PlannedFile) => void,
): (file: PlannedFile, wrap: boolean) => Promise<AccountFile> {
  const underWay = new Map<string, Promise<string>>();
  return async (file, wrap) => {
    const { path, role, operations, width, height, bitDepth, encoding, tag } = file;
    const recipe = imageRecipe(file, wrap);
    const making = underWay.get(recipe) ?? findOrMake(recipe, file, wrap, onMade);
    underWay.set(recipe, making);
    const sha256 = await making;
    return { path, role, operations, width, height, bitDepth, encoding, tag, sha256, written: true };
  };
}

async function findOrMake(
  recipe: string,
  file: PlannedFile,
  wrap: boolean,
  onMade: (file: PlannedFile) => void,
): Promise<string> {
  const known = await findMade(recipe);
  if (known) return known;
  const formats = new Map<string, string>();
  for (const { source } of layersOf(file.image)) {
    if (!source) continue;
    const row = await findImage(database(), source.sha256);
    if (!row || !(await fileStore().has(source.sha256)))
      throw new Refusal(
        `The original file ${source.fileName} is missing from the data folder. Take it in again.`,
      );
    formats.set(source.sha256, row.format);
  }
  const kept = await fileStore().withLocal([...formats.keys()], (pathOf) => {
    const sources = Object.fromEntries(
      [...formats].map(([sha256, format]) => [sha256, { path: pathOf(sha256), format }]),
    );
    return fileStore().make((to) => pool.convert({ file, sources, wrap, to }));
  });
  await insertFile(database(), { ...kept, mediaType: `image/${file.format}` });
  await insertDerived(database(), recipe, kept.sha256);
  onMade(file);
  return kept.sha256;
}

/** The material file, listed with everything that was done for what is in it, and what belongs to it. */
async function makeContainer(
  plan: MaterialPlan,
  { path, kind }: NonNullable<MaterialPlan["container"]>,
  images: AccountFile[],
): Promise<AccountFile[]> {
  const container = containerKind(kind);
  const isInside = container.images === "inside";
  // One that holds its images is not made again; a text is written sooner than it is looked up.
  const recipe = containerRecipe(
    plan,
    images.map(({ sha256 }) => sha256),
  );
  const known = isInside ? await findMade(recipe) : undefined;
  if (known) return [containerFile(path, known, images)];
  const encoded = await Promise.all(plan.files.map((file, at) => encodedImage(file, images[at])));
  const { name, fileName, repeat, finish, facts } = plan.material;
  const written = await container.write(
    { name, fileName, repeat, finish, heightMm: heightAmplitude(finish, repeat).mm, facts },
    encoded.filter((image) => container.takes(image)),
  );
  const files: AccountFile[] = [];
  for (const { extension, mediaType, bytes } of written) {
    const sha256 = await keepBytes(bytes, mediaType);
    const isMain = extension === container.extension;
    if (isMain && isInside) await insertDerived(database(), recipe, sha256);
    const place = isMain ? path : path.replace(/[^.]*$/, extension);
    files.push(containerFile(place, sha256, isInside ? images : []));
  }
  return files;
}

const containerFile = (path: string, sha256: string, images: AccountFile[]): AccountFile => ({
  path,
  role: "material",
  operations: images.flatMap((image) => image.operations.map((word) => `${image.role}: ${word}`)),
  width: Math.max(0, ...images.map(({ width }) => width)),
  height: Math.max(0, ...images.map(({ height }) => height)),
  bitDepth: 8,
  encoding: "srgb",
  tag: "none",
  sha256,
  written: true,
});

async function encodedImage(file: PlannedFile, made: AccountFile): Promise<EncodedImage> {
  const hasOpacity = file.image.kind === "map" && file.image.opacity !== undefined;
  return {
    ...containerImage(file),
    fileName: file.path.replace(/^.*\//, ""),
    format: file.format,
    read: async () => new Uint8Array(await fileStore().read(made.sha256)),
    ...(hasOpacity && { opacity: await opacityOf(made, file) }),
  };
}

const opacityOf = ({ sha256 }: AccountFile, { format }: PlannedFile) =>
  fileStore().withLocal([sha256], (pathOf) => pool.opacity({ path: pathOf(sha256), format }));

/** What a recipe made before, if its file is still there. */
async function findMade(recipe: string): Promise<string | undefined> {
  const known = await findDerived(database(), recipe);
  return known && (await fileStore().has(known.sha256)) ? known.sha256 : undefined;
}

async function keepBytes(data: Uint8Array, mediaType: string): Promise<string> {
  const kept = await fileStore().keep(
    Readable.from([Buffer.from(data.buffer, data.byteOffset, data.byteLength)]),
  );
  await insertFile(database(), { ...kept, mediaType });
  return kept.sha256;
}

/** The values to enter by hand, and which file goes into which input. The same plan always gives the same bytes. */
function settingsSheet(plan: MaterialPlan): string {
  const { name, code, revision } = plan.material;
  // In a material file they are wired up already.
  const inputs = plan.container
    ? undefined
    : Object.fromEntries(plan.files.map((file) => [file.slot, file.path.replace(/^.*\//, "")]));
  return `${JSON.stringify({ material: name, code, revision, profile: plan.profile, settings: plan.settings, inputs, steps: plan.steps, notCarried: plan.notCarried }, null, 2)}\n`;
}
