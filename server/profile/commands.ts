import { isDeepStrictEqual } from "node:util";
import anyAscii from "any-ascii";
import { z } from "zod";
import { type Profile, profileSchema } from "#core/convert/profile";
import { plainLine } from "#core/text/plainText";
import type { Person } from "#server/auth/person";
import { database, inTransaction, type Db } from "#server/db/database";
import { announce } from "#server/events/events";
import { log } from "#server/log";
import { badField, conflict, notFound } from "#server/problem";
import { overtaken } from "#server/jobs/overtaken";
import {
  findProfile,
  insertProfile,
  listProfileRows,
  lockProfile,
  orderProfiles,
  profilesCalled,
  setRetired,
  updateProfile,
  type ProfileRow,
} from "#server/profile/sql";

/** More are not kept. */
const MOST_PROFILES = 200;

/** A profile that somebody wrote, be it by hand. @throws {Problem} naming the place of what cannot be */
export function readProfile(given: unknown): Profile {
  const read = profileSchema.safeParse(given);
  if (read.success) return read.data;
  const [{ path, message }] = read.error.issues;
  throw badField(`/${path.join("/")}`, path.length > 0 ? `${path.join(" → ")}: ${message}` : message);
}

/** The folder of its deliveries is called after a profile, and stays so when it is renamed. */
async function freeId(db: Db, name: string): Promise<string> {
  const plain = anyAscii(name)
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, "-")
    .replaceAll(/^-|-$/g, "")
    .slice(0, 50);
  const taken = new Set((await listProfileRows(db)).map(({ profile }) => profile.id));
  const wanted = plain || "renderer";
  let id = wanted;
  for (let n = 2; taken.has(id); n++) id = `${wanted}-${n}`;
  return id;
}

async function checkName(db: Db, { id, name }: Pick<Profile, "id" | "name">): Promise<void> {
  const others = (await profilesCalled(db, { id, name })).filter((one) => one.id !== id);
  if (others.length > 0) throw badField("/name", `There is a profile “${name}” already.`);
}

/** Begins a profile of the studio's own as a copy of another one. @throws {Problem} */
export async function copyProfile(from: string, name: string, person: Person): Promise<ProfileRow> {
  const source = await findProfile(database(), from);
  if (!source) throw badField("/from", `There is no profile “${from.slice(0, 80)}”.`);
  return createProfile({ ...source.profile, name }, person);
}

/** Keeps a profile as one of the studio's own; its id is made from its name. @throws {Problem} */
export async function createProfile(given: Profile, person: Person): Promise<ProfileRow> {
  return inTransaction(async (db) => {
    // Two at a time would get the same id.
    await db.query("LOCK TABLE profiles IN SHARE ROW EXCLUSIVE MODE");
    if ((await listProfileRows(db)).length >= MOST_PROFILES)
      throw conflict(`The studio keeps up to ${MOST_PROFILES} profiles.`);
    const name = plainLine(given.name).trim();
    const profile = readProfile({ ...given, name, id: await freeId(db, name) });
    await checkName(db, profile);
    await insertProfile(db, profile, person.id);
    await announce(db, { topic: "library", id: profile.id });
    return { profile, revision: 1, shipped: false, retired: false };
  });
}

/**
 * Changes a profile of the studio's own, as its next revision; what was delivered keeps the one that it was made with.
 * @param expected the revision that whoever changes it has seen
 * @throws {Problem} where it ships, or was changed by somebody else
 */
export async function changeProfile(given: Profile, expected: number, person: Person): Promise<ProfileRow> {
  return inTransaction(async (db) => {
    const before = await lockProfile(db, given.id);
    if (!before) throw notFound("profile");
    if (before.shipped)
      throw conflict(`“${before.profile.name}” ships with the application. Copy it, and change the copy.`);
    if (before.revision !== expected)
      throw conflict(
        `Somebody has changed “${before.profile.name}” meanwhile: it is at revision ${before.revision}. Load it again, and repeat your change.`,
      );
    const profile = readProfile({ ...given, name: plainLine(given.name).trim() });
    await checkName(db, profile);
    if (isDeepStrictEqual(profile, before.profile)) return before;
    const revision = before.revision + 1;
    await updateProfile(db, profile, revision, person.id);
    await overtaken(db);
    await announce(db, { topic: "library", id: profile.id });
    return { ...before, profile, revision };
  });
}

/** Takes a profile out of what is offered, or back. What was delivered for it stays. @throws {Problem} */
export async function retireProfile(id: string, retired: boolean): Promise<ProfileRow> {
  return inTransaction(async (db) => {
    if (!(await findProfile(db, id))) throw notFound("profile");
    const all = await listProfileRows(db);
    if (retired && all.filter((one) => !one.retired && one.profile.id !== id).length === 0)
      throw conflict("It is the only profile that is not retired: nothing could be delivered any more.");
    await setRetired(db, id, retired);
    await announce(db, { topic: "library", id });
    return (await findProfile(db, id))!;
  });
}

/** @param ids in the order in which they are offered @throws {Problem} where one is unknown or named twice */
export async function arrangeProfiles(ids: string[]): Promise<ProfileRow[]> {
  return inTransaction(async (db) => {
    const known = new Set((await listProfileRows(db)).map(({ profile }) => profile.id));
    const unknown = ids.find((id) => !known.has(id));
    if (unknown !== undefined) throw badField("/ids", `There is no profile “${unknown.slice(0, 80)}”.`);
    if (new Set(ids).size < ids.length) throw badField("/ids", "A profile is named twice.");
    await orderProfiles(db, ids);
    await announce(db, { topic: "library", id: ids[0] ?? "" });
    return listProfileRows(db);
  });
}

/** Brings the profiles that ship to what they say in this version. One of the studio's own with the same name or id goes first. */
export async function keepShippedProfiles(db: Db, shipped: Profile[]): Promise<void> {
  for (const profile of shipped) {
    const called = await profilesCalled(db, profile);
    const own = called.find((one) => !one.shipped);
    if (own) {
      log.warn(
        { profile: profile.id, own: own.id },
        "a shipped profile is left out: one of the studio's own is called so",
      );
      continue;
    }
    const before = await findShipped(db, profile.id);
    if (!before) await insertProfile(db, profile, null);
    // The database keeps no order of names.
    else if (!isDeepStrictEqual(before.data, profile))
      await updateProfile(db, profile, before.revision + 1, null);
  }
}

/** As it stands, be it that an older version wrote it in a way that this one no longer reads. */
async function findShipped(db: Db, id: string) {
  const { rows } = await db.query("SELECT data, revision FROM profiles WHERE id = $1", [id]);
  const read = z.object({ data: z.unknown(), revision: z.number() }).optional().parse(rows[0]);
  return read && { ...read, data: profileSchema.safeParse(read.data).data };
}
