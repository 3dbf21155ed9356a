import { summedPlans } from "#core/convert/planSummary";
import { planDelivery } from "#server/delivery/plan";
import { secondsExpected } from "#server/delivery/timeExpected";
import { openTestStudio, picture, takeIn } from "#server/testing/testStudio";
import { fillLibrary } from "./fillLibrary";

/**
 * What a page that looks before a delivery waits for: plans of many materials for three profiles, their summary and the time that
 * they will take. Against it, the same of one material. Wants DATABASE_URL.
 */
const MATERIALS = Number(process.env.BENCH_MATERIALS ?? 2000);
const PROFILES = ["gloss-path-tracer-cm", "packed-walkthrough-m", "materialx-openpbr"];
const RUNS = 5;

const studio = await openTestStudio();
try {
  const { database } = await import("#server/db/database");
  const intake = await takeIn(studio, {
    "brick_basecolor.png": await picture("#aa5533", 64),
    "brick_roughness.png": await picture("#777777", 64),
  });
  await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  await fillLibrary(database(), MATERIALS);
  const { rows } = await database().query<{ id: string }>("SELECT id FROM materials");
  const ids = rows.map(({ id }) => id);
  const looked = async (materials: string[]) => {
    const times: number[] = [];
    for (let run = 0; run < RUNS; run++) {
      const began = performance.now();
      const plan = await planDelivery({ materials, profiles: PROFILES });
      summedPlans(plan.materials);
      await secondsExpected(database(), plan.materials);
      times.push(performance.now() - began);
    }
    return times.sort((a, b) => a - b)[Math.floor(RUNS / 2)];
  };
  const [many, one] = [await looked(ids), await looked(ids.slice(0, 1))];
  console.log(
    `${ids.length} materials for ${PROFILES.length} profiles: ${Math.round(many)} ms (1500 allowed), one material ${one.toFixed(1)} ms: ${(many / one / ids.length).toFixed(2)} of it for each`,
  );
} finally {
  await studio.close();
}
