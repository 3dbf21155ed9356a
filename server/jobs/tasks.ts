import type { TaskList } from "graphile-worker";
import { z } from "zod";
import { MAP_CHANNELS } from "#core/maps/channel";
import { database } from "#server/db/database";
import { setIntakeState } from "#server/db/intakes";
import { failDelivery, runDelivery } from "#server/delivery/run";
import { announce } from "#server/events/events";
import { healPreviews } from "#server/images/healPreviews";
import { readIntake } from "#server/intake/read";
import { countModulesOf, failModules } from "#server/library/countModules";
import { failFlattening, runFlattening } from "#server/library/flatten";
import { failMend, runMend } from "#server/library/mend";
import { DISK_FULL, isDiskFull } from "#server/ownFault";
import { failSweep } from "#server/db/sweeps";
import { runSweep } from "#server/upkeep/sweep";
import { failFetch, runFetch } from "#server/suppliers/fetchProducts";

type Helpers = { job: { attempts: number; max_attempts: number } };

const isLast = ({ job }: Helpers) => job.attempts >= job.max_attempts;

/** What is done for each kind of job, and what becomes of its subject where that fails for good. */
export const tasks = {
  "heal-previews": async (payload) => {
    const { sha256, channel } = z
      .object({ sha256: z.string(), channel: z.enum(MAP_CHANNELS) })
      .parse(payload);
    await healPreviews(sha256, channel);
  },
  "count-modules": async (payload, helpers) => {
    const { material } = z.object({ material: z.string() }).parse(payload);
    try {
      await countModulesOf(material);
    } catch (error) {
      if (isLast(helpers)) await failModules(material);
      throw error;
    }
  },
  "fetch-products": async (payload, helpers) => {
    const { intake } = z.object({ intake: z.string() }).parse(payload);
    try {
      await runFetch(intake);
    } catch (error) {
      const full = isDiskFull(error);
      if (full || isLast(helpers))
        await failFetch(intake, full ? DISK_FULL : `The fetch failed: ${(error as Error).message}`);
      if (!full) throw error;
    }
  },
  "read-intake": async (payload, helpers) => {
    const { intake } = z.object({ intake: z.string() }).parse(payload);
    try {
      await readIntake(intake);
    } catch (error) {
      const full = isDiskFull(error);
      if (full || isLast(helpers)) {
        const reason = full ? DISK_FULL : `The reading failed: ${(error as Error).message}`;
        await setIntakeState(database(), intake, "failed", reason);
        await announce(database(), { topic: "intake", id: intake, state: "failed" });
      }
      if (!full) throw error;
    }
  },
  "sweep-files": async (payload, helpers) => {
    const { sweep } = z.object({ sweep: z.string() }).parse(payload);
    try {
      await runSweep(sweep);
    } catch (error) {
      if (isLast(helpers)) await failSweep(database(), sweep, (error as Error).message);
      throw error;
    }
  },
  "mend-material": async (payload, helpers) => {
    const { mend } = z.object({ mend: z.string() }).parse(payload);
    try {
      await runMend(mend);
    } catch (error) {
      // Maps that do not fit will not fit the next time either.
      const hopeless = error instanceof RangeError || (error as Error).name === "RangeError";
      if (hopeless || isLast(helpers)) await failMend(mend, (error as Error).message);
      if (!hopeless) throw error;
    }
  },
  "flatten-photo": async (payload, helpers) => {
    const { flattening } = z.object({ flattening: z.string() }).parse(payload);
    try {
      await runFlattening(flattening);
    } catch (error) {
      // A region that cannot be flattened will not be the next time either.
      const hopeless = (error as Error).name === "RegionError";
      if (hopeless || isLast(helpers)) await failFlattening(flattening, (error as Error).message);
      if (!hopeless) throw error;
    }
  },
  "run-delivery": async (payload, helpers) => {
    const { delivery } = z.object({ delivery: z.string() }).parse(payload);
    try {
      await runDelivery(delivery);
    } catch (error) {
      if (isLast(helpers)) await failDelivery(delivery, (error as Error).message);
      throw error;
    }
  },
} satisfies TaskList;
