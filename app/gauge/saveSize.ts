import { mergeFields, type MergedField } from "#core/finish/mergeFields";
import type { GaugeResult } from "#core/gauge/repeat";
import { database } from "#server/db/database";
import { findMaterial, type MaterialRow } from "#server/db/materials";
import type { Person } from "#server/db/people";
import { setRepeat, type RepeatRequest } from "#server/library/materials";
import { Problem } from "#server/problem";
import { sizeValues } from "./sizeValues";

/** What the second of two people who save a size at once is told. */
export interface SizeMeanwhile {
  /** The revision that is there now, and who found its size. */
  revision: number;
  by: string;
  fields: MergedField[];
}

/**
 * Saves a size. Where somebody has saved another size meanwhile, nothing is saved and both come back; where they have
 * changed something else, both are kept.
 * @param seen the revision that the person had before them
 * @throws {Problem}
 */
export async function saveSize(
  id: string,
  request: RepeatRequest,
  result: Pick<GaugeResult, "repeat">,
  seen: number,
  person: Person,
): Promise<{ saved: MaterialRow } | { meanwhile: SizeMeanwhile }> {
  try {
    return { saved: (await setRepeat(id, request, seen, person)).material };
  } catch (error) {
    if (!(error instanceof Problem) || error.status !== 412) throw error;
    const now = await findMaterial(database(), id);
    if (!now) throw error;
    const before = await findMaterial(database(), id, seen);
    const mine = {
      repeat: result.repeat,
      sizeState: request.assumed ? "assumed" : "known",
      gauge: { method: request.method },
    };
    const fields = mergeFields(before ? sizeValues(before) : {}, sizeValues(now), sizeValues(mine));
    if (fields.some(({ changedBy }) => changedBy !== "me"))
      return {
        meanwhile: { revision: now.currentRevision, by: String(now.gauge?.by ?? now.madeBy), fields },
      };
    return { saved: (await setRepeat(id, request, now.currentRevision, person)).material };
  }
}
