import { database } from "#server/db/database";

/** The demo studio's people have addresses that can exist nowhere else (RFC 2606). */
const DEMO_DOMAIN = "tern-gable.example";

/** @throws where a database with demo people would be served as a real one. */
export async function refuseDemoPeople(): Promise<void> {
  if (process.env.KALONOMY_DEMO === "1") return;
  const { rowCount } = await database().query(
    "SELECT 1 FROM people WHERE retired_at IS NULL AND email LIKE '%@' || $1 LIMIT 1",
    [DEMO_DOMAIN],
  );
  if (rowCount)
    throw new Error(
      "This database holds the demo studio, whose passwords are printed on screens. Use another database, or retire its people.",
    );
}
