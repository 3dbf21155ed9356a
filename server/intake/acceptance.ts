import { z } from "zod";
import { plainJson } from "#core/text/plainText";
import type { Person } from "#server/auth/person";
import { database, inTransaction, oneRow } from "#server/db/database";
import { acceptCandidates, type Accepted, type AcceptOptions, type Choice } from "#server/intake/accept";
import { waitingCandidates } from "#server/intake/queries";
import { addJob } from "#server/jobs/queue";
import { Problem } from "#server/problem";

/** What a web process takes into the library by itself. */
const AT_ONCE = 50;
/** After this long without a worker the web process does it after all. */
const PATIENCE_MS = 20_000;
const LOOK_MS = 100;

const problemSchema = z.object({
  status: z.number(),
  title: z.string(),
  detail: z.string(),
  pointer: z.string().optional(),
});

const rowSchema = z.object({
  intake: z.string(),
  person: z.string(),
  asked: z.custom<{ choices: Choice[] | "all"; options: AcceptOptions }>(),
  made: z.custom<Accepted>().nullable(),
  failure: problemSchema.nullable(),
});

const ROW = "SELECT intake, person, asked, made, failure FROM acceptances WHERE id = $1";

/**
 * Takes candidates into the library and answers with what they became; many of them by the worker, which goes on when this process
 * ends. @throws {Problem} where a choice does not fit
 */
export async function accept(
  intake: string,
  choices: Choice[] | "all",
  person: Person,
  options: AcceptOptions = {},
): Promise<Accepted> {
  const count = choices === "all" ? (await waitingCandidates(database(), intake)).length : choices.length;
  if (count <= AT_ONCE) return inTransaction((db) => acceptCandidates(db, intake, choices, person, options));
  const id = await inTransaction(async (db) => {
    await db.query("DELETE FROM acceptances WHERE ended_at < now() - interval '1 day'");
    const row = await oneRow(
      db,
      z.object({ id: z.string() }),
      "INSERT INTO acceptances (intake, person, asked) SELECT id, $2, $3 FROM intakes WHERE id = $1 RETURNING id",
      [intake, person.id, JSON.stringify(plainJson({ choices, options }))],
    );
    if (row) await addJob(db, "accept-candidates", { acceptance: row.id });
    return row?.id;
  });
  // No intake: said by the command itself.
  if (id === undefined) return inTransaction((db) => acceptCandidates(db, intake, choices, person, options));
  return ended(id);
}

async function ended(id: string): Promise<Accepted> {
  const until = Date.now() + PATIENCE_MS;
  for (;;) {
    const row = await oneRow(database(), rowSchema, ROW, [id]);
    if (row?.failure) {
      const { status, title, detail, pointer } = row.failure;
      throw new Problem(status, title, detail, pointer);
    }
    if (row?.made) return row.made;
    if (Date.now() >= until) await runAcceptance(id);
    else await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
  }
}

/** Does what was asked for, once: whoever comes second waits for the first, and finds it done. */
export async function runAcceptance(id: string): Promise<void> {
  try {
    await inTransaction(async (db) => {
      const row = await oneRow(db, rowSchema, `${ROW} FOR UPDATE`, [id]);
      if (!row || row.made || row.failure) return;
      const { intake, asked, person } = row;
      const made = await acceptCandidates(db, intake, asked.choices, { id: person }, asked.options);
      await db.query("UPDATE acceptances SET ended_at = now(), made = $2 WHERE id = $1", [
        id,
        JSON.stringify(made),
      ]);
    });
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    const { status, title, detail, pointer } = error;
    await failAcceptance(id, { status, title, detail, pointer });
  }
}

/** Says why it came to nothing. */
export async function failAcceptance(id: string, failure: z.infer<typeof problemSchema>): Promise<void> {
  await database().query(
    "UPDATE acceptances SET ended_at = now(), failure = $2 WHERE id = $1 AND ended_at IS NULL",
    [id, JSON.stringify(failure)],
  );
}
