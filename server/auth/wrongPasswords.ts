import { z } from "zod";
import { rows, type Db } from "#server/db/database";

const KEPT_DAYS = 14;

/** Counts a wrong attempt to sign in, by account, address and hour. */
export async function noteWrongPassword(db: Db, { account, address }: { account: string; address: string }) {
  await db.query(
    `INSERT INTO wrong_passwords (account, address, hour) VALUES ($1, $2, date_trunc('hour', now()))
     ON CONFLICT (account, address, hour) DO UPDATE SET times = wrong_passwords.times + 1, last_at = now()`,
    [account, address],
  );
  await db.query(`DELETE FROM wrong_passwords WHERE hour < now() - interval '${KEPT_DAYS} days'`);
}

/** Counts an attempt that was not even looked at, where the account is noted already: such attempts make no new rows. */
export async function countWrongPassword(db: Db, { account, address }: { account: string; address: string }) {
  await db.query(
    `UPDATE wrong_passwords SET times = times + 1, last_at = now()
      WHERE account = $1 AND address = $2 AND hour = date_trunc('hour', now())`,
    [account, address],
  );
}

/** A few are somebody's memory; from this many on the keeper is told. */
const MANY = 8;
const MOST_SHOWN = 20;

/** Accounts that many wrong passwords were tried for within a day, and from how many addresses. */
export const listGuessed = (db: Db) =>
  rows(
    db,
    z.object({ account: z.string(), times: z.number(), addresses: z.number(), last: z.date() }),
    `SELECT account, sum(times)::int AS times, count(DISTINCT address)::int AS addresses, max(last_at) AS last
       FROM wrong_passwords WHERE hour > now() - interval '1 day'
      GROUP BY account HAVING sum(times) >= ${MANY} ORDER BY times DESC LIMIT ${MOST_SHOWN}`,
  );
