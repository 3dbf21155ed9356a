import { type Call, call } from "#server/http/api/call";
import { listOf } from "#server/http/api/shapes";
import { database } from "#server/db/database";
import { licenceSchema, listLicences } from "#server/licence/queries";

/** What may be done with maps. */
export const LICENCE_CALLS: Call[] = [
  call({
    method: "get",
    path: "/licences",
    summary: "The licences that the studio knows",
    status: 200,
    answer: listOf(licenceSchema),
    handle: async () => ({ items: await listLicences(database()), next: null }),
  }),
];
