import { z } from "zod";
import { ANSWERS, ASKS, type AskedCandidate, type QuestionAnswer } from "#core/candidates/questions";
import type { Channelled } from "#core/candidates/channelsApart";
import type { KeptAnswer } from "#core/candidates/keptAnswers";
import { MAP_CHANNELS } from "#core/roles/channel";
import { ROLES } from "#core/roles/roles";
import { oneRow, rows, type Db } from "#server/db/database";
import type { Slice } from "#server/db/page";
import { findingSchema } from "#server/material/queries";

const askedMap = z.object({
  file: z.string(),
  sha256: z.string(),
  channel: z.enum(MAP_CHANNELS),
  role: z.enum([...ROLES, "unknown"]),
  normalDirection: z
    .enum(["+Y", "-Y"])
    .nullable()
    .transform((direction) => direction ?? undefined),
  likely: z.array(z.enum(ROLES)),
  leftOut: z.boolean(),
  channels: z.number(),
  // Written by ourselves.
  reading: z.custom<Channelled["reading"]>(),
});

/** The candidates of an intake that wait and of which something is asked, in their order. */
export const listAsked = (db: Db, intake: string): Promise<AskedCandidate[]> =>
  rows(
    db,
    z.object({ id: z.string(), name: z.string(), findings: z.array(findingSchema), maps: z.array(askedMap) }),
    `SELECT c.id, c.name,
       (SELECT coalesce(jsonb_agg(f), '[]') FROM jsonb_array_elements(c.findings) f
         WHERE f->>'code' = 'normal-direction-assumed') AS findings,
       (SELECT jsonb_agg(jsonb_build_object('file', m.file, 'sha256', m.sha256, 'channel', m.channel, 'role', m.role,
            'normalDirection', m.normal_direction, 'likely', m.likely,
            'leftOut', m.left_out, 'channels', i.channels,
            'reading', CASE WHEN m.role = 'unknown' AND m.channel = 'color' THEN jsonb_build_object(
              'color', i.reading->'color', 'alpha', i.reading->'alpha', 'kinship', i.reading->'kinship') END) ORDER BY m.position)
          FROM candidate_maps m JOIN images i ON i.sha256 = m.sha256 WHERE m.candidate = c.id) AS maps
     FROM candidates c
    WHERE c.intake = $1 AND c.state = 'waiting'
      AND (c.findings @> '[{"code": "normal-direction-assumed"}]'
        OR EXISTS (SELECT FROM candidate_maps m WHERE m.candidate = c.id AND m.role = 'unknown' AND NOT m.left_out))
    ORDER BY c.position`,
    [intake],
  );

export interface NewAnswer {
  intake: string;
  asks: string;
  channel: string;
  mark: string;
  companions: string[];
  answer: QuestionAnswer;
  isKept: boolean;
  person: string;
}

export async function insertAnswer(db: Db, answer: NewAnswer): Promise<string> {
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    `INSERT INTO answers (intake, asks, channel, mark, companions, answer, is_kept, made_by)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8) RETURNING id`,
    [
      ...[answer.intake, answer.asks, answer.channel, answer.mark, answer.companions, answer.answer],
      ...[answer.isKept, answer.person],
    ],
  );
  return row!.id;
}

/** All that an answer changes of a map, as SQL. */
const BEFORE_ANSWER = `jsonb_build_object('role', role, 'confidence', confidence, 'direction', normal_direction,
  'leftOut', left_out, 'answer', answer, 'before', before_answer)`;

/** Answers the question about maps of candidates that wait: what was asked about them is no longer said. */
export async function answerMaps(
  db: Db,
  id: string,
  answer: QuestionAnswer,
  files: { candidate: string; file: string }[],
): Promise<void> {
  const isDirection = answer === "+Y" || answer === "-Y";
  await db.query(
    `UPDATE candidate_maps SET before_answer = ${BEFORE_ANSWER}, answer = $1,
       role = CASE WHEN $2 THEN role WHEN $3 IN ('leave-out', 'apart') THEN 'unknown' ELSE $3 END,
       confidence = CASE WHEN $2 THEN confidence ELSE 0 END,
       left_out = NOT $2 AND $3 IN ('leave-out', 'apart'),
       normal_direction = CASE WHEN $2 THEN $3 ELSE normal_direction END
     FROM unnest($4::uuid[], $5::text[]) AS asked (id, name)
     WHERE candidate = asked.id AND file = asked.name`,
    [id, isDirection, answer, files.map(({ candidate }) => candidate), files.map(({ file }) => file)],
  );
  await db.query(
    `UPDATE candidates c SET is_stale = true, findings = (
       SELECT coalesce(jsonb_agg(f ORDER BY place), '[]') FROM jsonb_array_elements(c.findings) WITH ORDINALITY AS e (f, place)
        WHERE NOT (f->>'code' IN ('role-unknown', 'normal-direction-assumed') AND EXISTS (
          SELECT FROM candidate_maps m WHERE m.candidate = c.id AND m.answer = $1 AND m.file = f->>'file')))
     WHERE id IN (SELECT candidate FROM candidate_maps WHERE answer = $1)`,
    [id],
  );
}

/** Puts the channels of a file beside it, as maps that are asked about; one that is a map already stays as it is. */
export async function insertChannels(
  db: Db,
  candidate: string,
  channels: { file: string; sha256: string; channel: string; likely: string[] }[],
): Promise<void> {
  for (const { file, sha256, channel, likely } of channels)
    await db.query(
      `INSERT INTO candidate_maps (candidate, position, file, sha256, channel, role, confidence, likely)
       SELECT $1, max(position) + 1, $2, $3, $4, 'unknown', 0, $5 FROM candidate_maps WHERE candidate = $1
       ON CONFLICT DO NOTHING`,
      [candidate, file, sha256, channel, likely],
    );
}

/** Takes an answer back where its candidates still wait, with what was answered after it about the same maps. @returns their intakes */
export async function restoreMaps(db: Db, id: string): Promise<string[]> {
  const restore = (from: string) => `role = ${from}->>'role', confidence = (${from}->>'confidence')::real,
    normal_direction = ${from}->>'direction', left_out = (${from}->>'leftOut')::boolean,
    answer = (${from}->>'answer')::uuid, before_answer = nullif(${from}->'before', 'null')`;
  const waiting = "candidate IN (SELECT id FROM candidates WHERE state = 'waiting')";
  await db.query(
    `UPDATE candidates SET is_stale = true WHERE state = 'waiting' AND id IN (
       SELECT candidate FROM candidate_maps WHERE answer = $1 OR before_answer->>'answer' = $1::text)`,
    [id],
  );
  // Channels that the answer told apart go, but for a fourth one that was a map before.
  await db.query(
    `DELETE FROM candidate_maps m USING candidate_maps whole, answers a
      WHERE a.id = $1 AND a.answer = 'apart' AND whole.answer = a.id AND m.candidate = whole.candidate
        AND m.file = whole.file || '#' || m.channel AND m.channel <> 'color'
        AND (m.channel <> 'alpha' OR m.role = 'unknown' OR m.answer IS NOT NULL) AND m.${waiting}`,
    [id],
  );
  // A direction that was answered after the role goes with it.
  await db.query(
    `UPDATE candidate_maps SET ${restore("(before_answer->'before')")}
      WHERE before_answer->>'answer' = $1 AND ${waiting}`,
    [id],
  );
  await db.query(`UPDATE candidate_maps SET ${restore("before_answer")} WHERE answer = $1 AND ${waiting}`, [
    id,
  ]);
  const found = await rows(
    db,
    z.object({ intake: z.string() }),
    "SELECT DISTINCT intake FROM candidates WHERE is_stale AND state = 'waiting'",
    [],
  );
  return found.map(({ intake }) => intake);
}

/** Marks an answer as taken back; undefined where there is none, or it was before. */
export const markTakenBack = (db: Db, id: string) =>
  oneRow(
    db,
    z.object({ id: z.string() }),
    "UPDATE answers SET taken_back_at = now() WHERE id = $1 AND taken_back_at IS NULL RETURNING id",
    [id],
  );

/** Answers that were kept for files that end in one of some marks, the latest first. */
export async function listKeptFor(db: Db, marks: string[]): Promise<KeptAnswer[]> {
  if (marks.length === 0) return [];
  return rows(
    db,
    z.object({
      id: z.string(),
      asks: z.enum(ASKS),
      channel: z.enum(MAP_CHANNELS),
      mark: z.string(),
      companions: z.array(z.string()),
      answer: z.enum(ANSWERS),
      by: z.string(),
    }),
    `SELECT a.id, a.asks, a.channel, a.mark, a.companions, a.answer, p.name AS by
       FROM answers a JOIN people p ON p.id = a.made_by
      WHERE a.is_kept AND a.taken_back_at IS NULL AND a.mark = ANY ($1) ORDER BY a.made_at DESC, a.id`,
    [marks],
  );
}

/** The words that somebody has answered to be marks of maps, in lower case. */
export async function listKnownMarks(db: Db): Promise<Set<string>> {
  const found = await rows(
    db,
    z.object({ mark: z.string() }),
    "SELECT DISTINCT lower(ltrim(mark, '-_. ')) AS mark FROM answers WHERE is_kept AND taken_back_at IS NULL",
    [],
  );
  return new Set(found.map(({ mark }) => mark));
}

export const givenAnswerSchema = z.object({
  id: z.string(),
  intake: z.string().nullable(),
  asks: z.enum(ASKS),
  channel: z.enum(MAP_CHANNELS),
  mark: z.string(),
  companions: z.array(z.string()),
  answer: z.enum(ANSWERS),
  isKept: z.boolean(),
  by: z.string(),
  at: z.date(),
  /** How many maps it holds for, in how many intakes. */
  files: z.number(),
  intakes: z.number(),
  /** Some of these maps. */
  examples: z.array(
    z.object({
      file: z.string(),
      sha256: z.string(),
      channel: z.enum(MAP_CHANNELS),
      name: z.string(),
      intake: z.string(),
      material: z.string().nullable(),
    }),
  ),
});
export type GivenAnswer = z.infer<typeof givenAnswerSchema>;

/** Most pictures that an answer is shown with. */
const EXAMPLES = 6;

const listGiven = (db: Db, where: string, values: unknown[]) =>
  rows(
    db,
    givenAnswerSchema,
    `SELECT a.id, a.intake, a.asks, a.channel, a.mark, a.companions, a.answer, a.is_kept AS "isKept", p.name AS by, a.made_at AS at,
       (SELECT count(*)::int FROM candidate_maps m WHERE m.answer = a.id) AS files,
       (SELECT count(DISTINCT c.intake)::int FROM candidate_maps m JOIN candidates c ON c.id = m.candidate WHERE m.answer = a.id) AS intakes,
       (SELECT coalesce(jsonb_agg(e), '[]') FROM (
          SELECT m.file, m.sha256, m.channel, c.name, c.intake, c.material FROM candidate_maps m JOIN candidates c ON c.id = m.candidate
           WHERE m.answer = a.id ORDER BY c.name, m.file LIMIT ${EXAMPLES}) AS e) AS examples
     FROM answers a JOIN people p ON p.id = a.made_by
    WHERE a.taken_back_at IS NULL AND ${where}`,
    values,
  );

/** All that are kept, the newest first. */
export const listKeptAnswers = (db: Db, { offset, limit }: Slice) =>
  listGiven(db, "a.is_kept ORDER BY a.made_at DESC, a.id OFFSET $1 LIMIT $2", [offset, limit]);

/** What was answered about an intake, here or before it came, the newest first. */
export const listAnswersOf = (db: Db, intake: string) =>
  listGiven(
    db,
    `a.id IN (SELECT m.answer FROM candidate_maps m JOIN candidates c ON c.id = m.candidate WHERE c.intake = $1)
     ORDER BY a.made_at DESC, a.id`,
    [intake],
  );
