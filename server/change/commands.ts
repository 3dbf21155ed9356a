import { askedSchema, type Asked } from "#server/change/asked";
import type { Said } from "#server/change/kinds";
import { findBulkChange, listTouchedProjects, UNDO_DAYS, type BulkChange } from "#server/change/queries";
import { changeOne, orRefused } from "#server/change/run";
import { beginUndo, insertChange } from "#server/change/writes";
import { requireLevel } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { database, inTransaction, rows, type Db } from "#server/db/database";
import { announce } from "#server/events/events";
import { jsonField } from "#server/http/cleanForm";
import { addJob } from "#server/jobs/queue";
import { badField, conflict, notFound } from "#server/problem";
import { z } from "zod";

/** What an act would change, before anybody asks for it. */
export interface PlannedChange {
  total: number;
  /** Of the first of them: what each would become, or why it cannot. */
  items: { material: string; name: string; said: Said[]; reason: string | null }[];
  /** The projects that hold any of them now, or would. */
  projects: { id: string; name: string; materials: number }[];
}

/** So many are tried out before: enough to see what a rule does, and soon there. */
const TRIED = 60;

/** Thrown to take back what was only tried. */
class Tried {
  constructor(readonly plan: PlannedChange) {}
}

const materialsOf = (asked: Asked) =>
  "items" in asked ? asked.items.map(({ material }) => material) : asked.materials;

/** What may be asked by whom: taking something out of the library is for those who keep it. @throws {Problem} 403 */
function mayAsk(asked: Asked, person: Person): void {
  if (asked.kind === "delete") requireLevel(person, "keep");
}

/** Does it for the first of them, tells what became of each, and takes it all back. */
export async function planChange(asked: Asked, person: Person): Promise<PlannedChange> {
  mayAsk(asked, person);
  const ids = materialsOf(asked);
  try {
    return await inTransaction(async (db): Promise<never> => {
      const names = await lockAll(db, ids.slice(0, TRIED));
      const held = await listTouchedProjects(db, ids);
      const items = [];
      for (const [at, material] of ids.slice(0, TRIED).entries()) {
        const { kind, ...rest } = asked;
        const own = "items" in asked ? { seen: asked.items[at].seen, size: asked.items[at].size } : null;
        const work = { kind, asked: rest as Record<string, unknown>, madeBy: person };
        const tried = await orRefused(
          db,
          async () => ({
            said: (await changeOne(db, work, { material, place: at + 1, asked: own }))?.said ?? [],
            reason: null as string | null,
          }),
          async (reason) => ({ said: [], reason }),
        );
        items.push({ material, name: names.get(material) ?? material, ...tried });
      }
      // What leaves a collection leaves the projects that share it, and what comes into one comes into them.
      const hold = await listTouchedProjects(db, ids);
      const known = new Set(held.map(({ id }) => id));
      const projects = [...held, ...hold.filter(({ id }) => !known.has(id))];
      throw new Tried({ total: ids.length, items, projects });
    });
  } catch (thrown) {
    if (thrown instanceof Tried) return thrown.plan;
    throw thrown;
  }
}

/** In one order, so that two who try at the same time wait for each other and not both for ever. @returns names by id */
async function lockAll(db: Db, ids: string[]): Promise<Map<string, string>> {
  const found = await rows(
    db,
    z.object({ id: z.string(), name: z.string() }),
    "SELECT id, name FROM materials WHERE id = ANY ($1) ORDER BY id FOR UPDATE",
    [ids],
  );
  return new Map(found.map(({ id, name }) => [id, name]));
}

/** Asks for an act on many materials; a job does it. @returns its id */
export async function startChange(asked: Asked, person: Person): Promise<string> {
  mayAsk(asked, person);
  return inTransaction(async (db) => {
    const id = await insertChange(db, asked, person.id);
    await addJob(db, "change-many", { change: id });
    await announce(db, { topic: "change", id });
    return id;
  });
}

/** What is asked for, from a form that carries it as JSON. @throws {Problem} naming what does not fit */
export function readAsked(json: string): Asked {
  const read = askedSchema.safeParse(jsonField(json));
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw badField(`/${issue.path.join("/")}`, issue.message);
}

/** Takes an act back, as far as nobody has changed its materials since. @throws {Problem} */
export async function undoChange(id: string, person: Person): Promise<BulkChange> {
  await inTransaction(async (db) => {
    const change = await findBulkChange(db, id);
    if (!change) throw notFound("change");
    if (change.kind === "delete") requireLevel(person, "keep");
    if (!change.canUndo || !(await beginUndo(db, id, person.id))) throw conflict(whyNot(change));
    await addJob(db, "change-many", { change: id });
    await announce(db, { topic: "change", id });
  });
  return (await findBulkChange(database(), id))!;
}

function whyNot({ state, counts, undoneBy }: BulkChange): string {
  if (state === "running") return "It is not done yet. Take it back once it is.";
  if (state !== "done") return `${undoneBy} has taken it back.`;
  if (counts.changed === 0) return "It has changed nothing.";
  return `It is older than ${UNDO_DAYS} days, and cannot be taken back any more.`;
}
