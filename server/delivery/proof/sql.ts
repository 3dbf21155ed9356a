import { z } from "zod";
import type { Proof } from "#core/proof/prove";
import { type Db, rows } from "#server/db/database";

const sceneSchema = z.object({
  name: z.string(),
  mean: z.number(),
  p95: z.number(),
  most: z.number(),
  at: z.object({ x: z.number(), y: z.number() }),
});
export const proofSchema = z.object({
  scenes: z.array(sceneSchema),
  worst: z.number(),
  causes: z.array(z.string()),
}) satisfies z.ZodType<Proof>;

export const proofRowSchema = z.object({
  material: z.string(),
  profile: z.string(),
  state: z.enum(["waiting", "done", "failed"]),
  proof: proofSchema.nullable(),
  /** The hash of a PNG. */
  sheet: z.string().nullable(),
  failure: z.string().nullable(),
});
export type ProofRow = z.infer<typeof proofRowSchema>;

export const listProofs = (db: Db, delivery: string): Promise<ProofRow[]> =>
  rows(
    db,
    proofRowSchema,
    "SELECT material, profile, state, proof, sheet, failure FROM delivery_proofs WHERE delivery = $1",
    [delivery],
  );

/** Those that a delivery is to have; one that is there already stays as it is. */
export async function beginProofs(
  db: Db,
  delivery: string,
  wanted: { material: string; profile: string }[],
): Promise<void> {
  await db.query(
    `INSERT INTO delivery_proofs (delivery, material, profile)
     SELECT $1, w.material, w.profile FROM jsonb_to_recordset($2) AS w(material uuid, profile text)
     ON CONFLICT DO NOTHING`,
    [delivery, JSON.stringify(wanted)],
  );
}

export type ProofEnd = { state: "done"; proof: Proof; sheet: string } | { state: "failed"; failure: string };

export async function endProof(
  db: Db,
  delivery: string,
  { material, profile }: { material: string; profile: string },
  end: ProofEnd,
): Promise<void> {
  await db.query(
    `UPDATE delivery_proofs SET state = $4, proof = $5, sheet = $6, failure = $7
      WHERE delivery = $1 AND material = $2 AND profile = $3`,
    [
      delivery,
      material,
      profile,
      end.state,
      end.state === "done" ? JSON.stringify(end.proof) : null,
      end.state === "done" ? end.sheet : null,
      end.state === "failed" ? end.failure : null,
    ],
  );
}

/** After the last attempt: what still waits never comes. */
export async function failProofs(db: Db, delivery: string, failure: string): Promise<void> {
  await db.query(
    "UPDATE delivery_proofs SET state = 'failed', failure = $2 WHERE delivery = $1 AND state = 'waiting'",
    [delivery, failure],
  );
}
