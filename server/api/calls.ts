import type { Call } from "#server/api/call";
import { DELIVERY_CALLS } from "#server/api/deliveryCalls";
import { EVENT_CALLS } from "#server/api/eventCalls";
import { INTAKE_CALLS } from "#server/api/intakeCalls";
import { MATERIAL_CALLS } from "#server/api/materialCalls";
import { PEOPLE_CALLS } from "#server/api/peopleCalls";
import { PROJECT_CALLS } from "#server/api/projectCalls";
import { idSchema } from "#server/api/shapes";
import { UPKEEP_CALLS } from "#server/api/upkeepCalls";
import { notFound } from "#server/problem";

/** Everything that a script can do, in the order of the work. */
export const CALLS: Call[] = [
  ...INTAKE_CALLS,
  ...MATERIAL_CALLS,
  ...PROJECT_CALLS,
  ...DELIVERY_CALLS,
  ...PEOPLE_CALLS,
  ...UPKEEP_CALLS,
  ...EVENT_CALLS,
];

/** Ids in paths are checked here, so that a wrong one is “not found” and no error of the database. */
export function checkIds(params: Record<string, string>, path: string): void {
  const what = path.split("/")[1].replace(/ies$/, "y").replace(/s$/, "");
  for (const value of Object.values(params)) if (!idSchema.safeParse(value).success) throw notFound(what);
}
