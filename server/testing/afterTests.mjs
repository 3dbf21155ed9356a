import pg from "pg";

/** After the unit tests: takes away the database that the others were made like. */
export default async () => {
  const { DATABASE_URL, KALONOMY_TEST_FIRST } = process.env;
  if (!DATABASE_URL) return;
  const client = new pg.Client({ connectionString: DATABASE_URL });
  await client.connect();
  await client.query(`DROP DATABASE IF EXISTS ${KALONOMY_TEST_FIRST} WITH (FORCE)`);
  await client.end();
};
