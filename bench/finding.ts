import { colorTerms, dominantColors } from "#core/library/colorWords";
import { seededRandom } from "#core/pattern/random";
import { openTestStudio, picture, takeIn } from "#server/testing/testStudio";
import { fillLibrary } from "./fillLibrary";

/**
 * How long a search of the library takes among many materials whose names say nothing of their colours, against reading a page of it
 * without one. Wants DATABASE_URL.
 */
const COUNTS = (process.env.BENCH_MATERIALS ?? "20000,100000").split(",").map(Number);
const QUERIES = [
  "brown",
  "pale grey",
  "warm white brick",
  "dark oak",
  "slate",
  "salte",
  "terazzo",
  "red brick",
  "zzzzzz",
  "turquoise plaster",
];
const RUNS = 5;

const studio = await openTestStudio();
try {
  const { database } = await import("#server/db/database");
  const { listSamples } = await import("#server/material/queries");
  const intake = await takeIn(studio, { "brick_basecolor.png": await picture("#aa5533", 64) });
  await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  const db = database();
  const median = async (act: () => Promise<unknown>) => {
    const times: number[] = [];
    for (let run = 0; run < RUNS; run++) {
      const began = performance.now();
      await act();
      times.push(performance.now() - began);
    }
    return times.sort((a, b) => a - b)[Math.floor(RUNS / 2)];
  };
  for (const count of COUNTS) {
    await fillLibrary(db, count);
    await paint(count);
    await db.query("VACUUM ANALYZE materials");
    const bare = await median(() => listSamples(db, {}));
    console.log(`${count} materials: a page without a search ${bare.toFixed(0)} ms`);
    for (const q of QUERIES) {
      const { total, instead } = await listSamples(db, { q });
      const ms = await median(() => listSamples(db, { q }));
      const read = instead.map((one) => one.read.join(", ") || "nothing").join("; ");
      console.log(
        `  ${q.padEnd(18)} ${ms.toFixed(0).padStart(4)} ms (300 allowed), ${(ms / bare).toFixed(1)} of that; ${total} found${read && `, by ${read}`}`,
      );
    }
  }

  /** Each is of two colours at random. */
  async function paint(count: number): Promise<void> {
    const random = seededRandom(count);
    const color = () => [random() ** 2, random() ** 2, random() ** 2] as const;
    const looks = Array.from({ length: 500 }, () => {
      const [one, other] = [color(), color()];
      return JSON.stringify(colorTerms(dominantColors([one, one, one, other])));
    });
    await db.query(
      `UPDATE materials m SET color_terms = looks.terms
         FROM unnest($1::jsonb[]) WITH ORDINALITY AS looks(terms, n)
        WHERE looks.n = 1 + abs(hashtext(m.code)) % ${looks.length}`,
      [looks],
    );
  }
} finally {
  await studio.close();
}
