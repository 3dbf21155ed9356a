import { type Call } from "#server/http/api/call";
import { whoAsks } from "#server/auth/whoAsks";
import { log } from "#server/log";
import { listen } from "#server/events/events";
import { badField } from "#server/problem";
import { z } from "zod";

const BEAT_MS = 20_000;
/** Somebody who does not read gets no more. */
const MOST_WAITING_BYTES = 2 ** 20;

const STEPS = z
  .string()
  .max(500)
  .regex(
    /^((intake|delivery|flattening)(:[\w-]+)?(,(?!$)|$))*$/,
    "`steps` lists intake, delivery, flattening (of a photograph), or one of them as intake:ID",
  );

/** Whose progress is asked for: everybody's, where nothing is said. @throws {Problem} where it is no list of them */
function followed(steps: unknown): (work: { topic: string; id: string }) => boolean {
  if (steps === undefined) return () => true;
  const read = STEPS.safeParse(steps);
  if (!read.success) throw badField("/steps", read.error.issues[0].message);
  const asked = new Set(read.data.split(","));
  return ({ topic, id }) => asked.has(topic) || asked.has(`${topic}:${id}`);
}

/** What happens, as it happens. */
export const EVENT_CALLS: Call[] = [
  {
    method: "get",
    path: "/events",
    summary:
      "Progress of intakes, deliveries and flattenings, and changes of the library, as server-sent events; `?steps=` says whose progress, of all without it",
    status: 200,
    gives: { "text/event-stream": {} },
    async raw({ person, request, response }) {
      // Listening comes first: whoever has the answer's head misses nothing that happens from then on.
      const early: string[] = [];
      let write = (line: string): unknown => early.push(line);
      let over = false;
      const end = () => {
        if (over) return;
        over = true;
        clearInterval(beat);
        off();
        response.end();
      };
      /** Whoever may not look any more hears nothing more. */
      const check = async () => {
        const now = await whoAsks(request).catch(() => person);
        if (!now && !over) end();
      };
      const soon = () => void check().catch((error: Error) => log.warn({ err: error }, "who listens"));
      const off = await listen({
        follows: followed(request.query.steps),
        heard(event) {
          if (event.topic === "people") return event.id === person.id ? soon() : undefined;
          write(`data: ${JSON.stringify(event)}\n\n`);
        },
        // The browser comes back at once, and loads its page anew.
        missed: () => end(),
      });
      const beat = setInterval(() => {
        if (response.writableLength > MOST_WAITING_BYTES) return end();
        response.write(": still here\n\n");
        soon();
      }, BEAT_MS);
      request.on("close", end);
      if (request.destroyed) return end();
      response.writeHead(200, {
        "Content-Type": "text/event-stream",
        "Cache-Control": "no-store",
        "X-Accel-Buffering": "no",
      });
      write = (line) => over || response.write(line);
      ["retry: 2000\n\n", ...early].forEach(write);
    },
  },
];
