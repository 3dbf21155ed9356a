import type { Camera } from "#core/judge/holdsUp";
import type { Person } from "#server/auth/person";
import { inTransaction, type Db } from "#server/db/database";
import type { MemberChange } from "#server/db/members";
import { announce } from "#server/events/events";
import { conflict, notFound } from "#server/problem";
import {
  changeProjectMembers,
  insertProject,
  isProject,
  restoreRevisionTaken,
  updateCamera,
  updateProject,
  updateRevisions,
} from "#server/project/writes";

/** @returns its id. @throws {Problem} where another project has the name or the number */
export async function createProject(
  { name, number = null }: { name: string; number?: string | null },
  person: Person,
): Promise<string> {
  return inTransaction(async (db) => {
    const id = await insertProject(db, { name, number, person: person.id });
    await announce(db, { topic: "library", id });
    return id;
  });
}

/** Renames a project, or gives it another number; null takes its number away. @throws {Problem} */
export const changeProject = (id: string, change: { name?: string; number?: string | null }) =>
  onProject(id, (db) => updateProject(db, id, change));

/** Which camera a project's pictures are made with. @throws {Problem} */
export const setProjectCamera = (id: string, camera: Camera) =>
  onProject(id, (db) => updateCamera(db, id, camera));

/** Moves a project on to the newest revision of some of its materials. @throws {Problem} */
export const moveProjectOn = (id: string, materials: string[]) =>
  onProject(id, async (db) => {
    if (!(await isProject(db, id))) return false;
    await updateRevisions(db, id, materials);
    return true;
  });

/** Moves the projects that have a material on to its newest revision: one of them, or all. @throws {Problem} where there is no such project */
export const moveProjectsOn = (material: string, projects: string[]) =>
  inTransaction(async (db) => {
    for (const id of projects) {
      if (!(await isProject(db, id))) throw notFound("project");
      await updateRevisions(db, id, [material]);
      await announce(db, { topic: "library", id });
    }
  });

/** Takes a project back to what it had of a material before it moved on. @throws {Problem} where it had nothing else */
export const moveProjectBack = (id: string, material: string) =>
  onProject(id, async (db) => {
    if (!(await isProject(db, id))) return false;
    if (!(await restoreRevisionTaken(db, id, material)))
      throw conflict("The project had no other revision of it before.");
    return true;
  });

/** Gives collections or single materials to a project, or takes them from it. @throws {Problem} */
export const shareWithProject = (id: string, what: "collections" | "materials", change: MemberChange) =>
  onProject(id, async (db) => {
    await changeProjectMembers(db, what, id, change);
    return true;
  });

async function onProject(id: string, change: (db: Db) => Promise<boolean>): Promise<void> {
  await inTransaction(async (db) => {
    if (!(await change(db))) throw notFound("project");
    await announce(db, { topic: "library", id });
  });
}
