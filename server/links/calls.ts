import { z } from "zod";
import { call, type Call } from "#server/http/api/call";
import { checkedLinkSchema, checkLinks, MOST_LINKS } from "#server/links/checkLinks";
import { listOf } from "#server/http/api/shapes";

/** Links of scenes to what was delivered. */
export const LINK_CALLS: Call[] = [
  call({
    method: "post",
    path: "/links/check",
    summary:
      "Whether paths lead to what was delivered: there, replaced by a newer revision, moved, or unknown",
    status: 200,
    body: z.object({ paths: z.array(z.string().max(1000)).min(1).max(MOST_LINKS) }).strict(),
    answer: listOf(checkedLinkSchema),
    handle: async ({ body }) => ({ items: await checkLinks(body.paths), next: null }),
  }),
];
