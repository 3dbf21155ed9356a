import { createHash } from "node:crypto";
import { Readable } from "node:stream";
import pMap from "p-map";
import { z } from "zod";
import { containerImage, type MaterialPlan, type PlannedFile } from "#core/convert/materialPlan";
import type { Profile } from "#core/convert/profile";
import { changedFinish } from "#core/finish/finish";
import { containerKind } from "#core/formats/containers";
import type { ExpectedImage } from "#core/proof/imageCause";
import { Refusal } from "#core/text/refusal";
import { database } from "#server/db/database";
import { findDelivery, readAccount, readPlan, type DeliveryRow } from "#server/delivery/queries";
import type { Account, AccountMaterial } from "#server/delivery/account";
import { announce } from "#server/events/events";
import { findImage } from "#server/images/queries";
import { findMaterial, type MaterialRow } from "#server/material/queries";
import { drawnOf } from "#server/picture/pictureOf";
import type { ProveTask } from "#server/pixels/proveDelivery";
import { pool } from "#server/pool/pool";
import { findProfileRevision } from "#server/profile/sql";
import {
  endProof,
  failProofs,
  listProofs,
  proofSchema,
  type ProofEnd,
  type ProofRow,
} from "#server/delivery/proof/sql";
import { isSaid, sentenceOf } from "#server/sentenceOf";
import { findDerived, insertDerived, insertFile } from "#server/store/sql";
import { fileStore } from "#server/store/store";
import { settings } from "#server/settings";
import { addJob } from "#server/jobs/queue";

const TURN_MS = 15_000;

/** Raised whenever the same files would be proved otherwise: a changed model, reader, scene or limit. */
const VERSION = 5;

/**
 * Proves what a delivery made, one material after the other, from its files; what was proved before is not proved again, so a run that was
 * broken off goes on where it was. After a while it queues up again behind what waits by then.
 */
export async function runProofs(id: string): Promise<void> {
  const db = database();
  const delivery = await findDelivery(db, id);
  const account = await readAccount(db, id);
  if (!delivery || !account) return;
  const plans = await readPlan(db, id);
  const waiting = (await listProofs(db, id)).filter(({ state }) => state === "waiting");
  const until = performance.now() + TURN_MS;
  let left = 0;
  await pMap(
    waiting,
    async (one) => {
      if (performance.now() > until) {
        left++;
        return;
      }
      await endProof(db, id, one, await endOf(one, delivery, account, plans));
      await announce(db, { topic: "delivery", id, state: "proved" });
    },
    { concurrency: settings().threads },
  );
  // Thousands of them take hours: what somebody waits for goes before.
  if (left > 0) await addJob(db, "prove-delivery", { delivery: id });
}

async function endOf(
  { material, profile }: Pick<ProofRow, "material" | "profile">,
  delivery: DeliveryRow,
  account: Account,
  plans: MaterialPlan[],
): Promise<ProofEnd> {
  const plan = plans.find((one) => one.material.id === material && one.profile === profile);
  const made = account.materials.find((one) => one.id === material && one.profile === profile);
  const revision = delivery.profileRevisions.find((one) => one.id === profile)?.revision;
  try {
    const conventions = revision && (await findProfileRevision(database(), profile, revision));
    if (!plan || !made || !conventions) throw new Refusal("What it was planned with is not there any more.");
    return { state: "done", ...(await provedOf(plan, made, conventions)) };
  } catch (error) {
    if (!isSaid(error as Error)) throw error;
    return { state: "failed", failure: (error as Error).message };
  }
}

/** After the last attempt. */
export async function failDeliveryProofs(id: string, reason: string): Promise<void> {
  await failProofs(database(), id, sentenceOf(new Refusal(reason), reason));
  await announce(database(), { topic: "delivery", id, state: "proved" });
}

async function provedOf(plan: MaterialPlan, made: AccountMaterial, profile: Profile) {
  const { id, revision } = plan.material;
  const found = await findMaterial(database(), id, revision);
  if (!found) throw new Refusal("The material has been taken out of the library.");
  const correction = plan.correction.length > 0 ? found.corrections[profile.id] : undefined;
  const material: MaterialRow = correction
    ? { ...found, finish: changedFinish(found.finish, correction) }
    : found;
  const { drawn, maps, wear = [] } = drawnOf(material);
  const files = filesOf(plan, made);
  const withoutPlace = plan.warnings.filter((words) => words.includes(" has no place in "));
  const content = {
    drawn,
    maps,
    wear,
    profile,
    files,
    settings: plan.settings,
    notCarried: plan.notCarried,
    withoutPlace,
    intended: plan.material.repeat,
  };
  const recipe = createHash("sha256")
    .update(JSON.stringify(["proof", VERSION, content]))
    .digest("hex");
  const known = await findProved(recipe);
  if (known) return known;

  const formats = new Map<string, string>();
  for (const { sha256 } of [...maps, ...wear]) {
    const image = await findImage(database(), sha256);
    if (!image) throw new Refusal("An original of the material is missing from the data folder.");
    formats.set(sha256, image.format);
  }
  const hashes = [...new Set([...formats.keys(), ...files.map(({ sha256 }) => sha256)])];
  for (const sha256 of hashes)
    if (!(await fileStore().has(sha256)))
      throw new Refusal("A file of the delivery is missing from the data folder. Deliver it again.");
  const { proof, sheet } = await fileStore().withLocal(hashes, (pathOf) => {
    const located = <T extends { sha256: string }>({ sha256, ...map }: T) => ({
      ...map,
      path: pathOf(sha256),
      format: formats.get(sha256)!,
    });
    return pool.proveDelivery({
      material: { ...drawn, maps: maps.map(located), wear: wear.map(located) },
      profile,
      intended: plan.material.repeat,
      expected: plan.files.map(expectedOf),
      notCarried: plan.notCarried,
      withoutPlace,
      delivered: deliveredOf(plan, files, pathOf),
    });
  });
  const kept = await fileStore().keep(Readable.from([Buffer.from(sheet)]));
  await insertFile(database(), { ...kept, mediaType: "image/png" });
  const figures = await fileStore().keep(
    Readable.from([Buffer.from(JSON.stringify({ proof, sheet: kept.sha256 }))]),
  );
  await insertFile(database(), { ...figures, mediaType: "application/json" });
  await insertDerived(database(), recipe, figures.sha256);
  return { proof, sheet: kept.sha256 };
}

const provedSchema = z.object({ proof: proofSchema, sheet: z.string() });

async function findProved(recipe: string) {
  const known = await findDerived(database(), recipe);
  if (!known || !(await fileStore().has(known.sha256))) return undefined;
  const proved = provedSchema.parse(JSON.parse((await fileStore().read(known.sha256)).toString("utf8")));
  return (await fileStore().has(proved.sheet)) ? proved : undefined;
}

const nameIn = (path: string) => path.replace(/^.*\//, "");

/** A file of a delivery: an image by the input that it is for, or a part of the material file. */
interface ProvedFile {
  slot: string | null;
  name: string;
  sha256: string;
  format: string;
}

function filesOf(plan: MaterialPlan, { files }: AccountMaterial): ProvedFile[] {
  const images = plan.files.map(({ path, slot, format }) => ({ path, slot, format: format as string }));
  return files.map(({ path, sha256 }) => {
    const image = images.find((one) => one.path === path);
    return {
      slot: image?.slot ?? null,
      name: nameIn(path),
      sha256,
      format: image?.format ?? path.replace(/^.*\./, ""),
    };
  });
}

function deliveredOf(
  plan: MaterialPlan,
  files: ProvedFile[],
  pathOf: (sha256: string) => string,
): ProveTask["delivered"] {
  const images = files.flatMap(({ slot, name, sha256, format }) =>
    slot === null ? [] : [{ slot, name, format, path: pathOf(sha256) }],
  );
  if (!plan.container) return { kind: "images", files: images, settings: plan.settings };
  const kind = containerKind(plan.container.kind);
  const parts = files
    .filter(({ slot }) => slot === null)
    .map(({ format, sha256 }) => ({ extension: format, path: pathOf(sha256) }));
  if (plan.container.kind === "glb") return { kind: "glb", path: parts[0].path };
  const wired = plan.files.filter((file) => kind.takes(containerImage(file))).map(({ slot }) => slot);
  if (kind.images === "beside") return { kind: "document", parts, files: images, wired };
  return {
    kind: "package",
    path: parts[0].path,
    files: plan.files.map(({ slot, path, format }) => ({ slot, name: nameIn(path), format })),
    wired,
  };
}

function expectedOf({ slot, width, height, bitDepth, image, quality }: PlannedFile): ExpectedImage {
  const source = image.kind === "map" ? image.base.source : null;
  return {
    slot,
    width,
    height,
    bits: Math.min(bitDepth, source?.bitDepth ?? 8),
    sourceWidth: source?.width ?? width,
    ...(quality !== undefined && { quality }),
  };
}
