import { type Call } from "#server/api/call";
import { listen } from "#server/events/events";

/** What happens, as it happens. */
export const EVENT_CALLS: Call[] = [
  {
    method: "get",
    path: "/events",
    summary: "Progress of intakes and deliveries and changes of the library, as server-sent events",
    status: 200,
    gives: { "text/event-stream": {} },
    async raw({ request, response }) {
      // Listening comes first: whoever has the answer's head misses nothing that happens from then on.
      const early: string[] = [];
      let write = (line: string): unknown => early.push(line);
      const off = await listen((event) => write(`data: ${JSON.stringify(event)}\n\n`));
      response.writeHead(200, {
        "Content-Type": "text/event-stream",
        "Cache-Control": "no-store",
        "X-Accel-Buffering": "no",
      });
      write = (line) => response.write(line);
      ["retry: 2000\n\n", ...early].forEach(write);
      const beat = setInterval(() => response.write(": still here\n\n"), 20_000);
      request.on("close", () => {
        clearInterval(beat);
        off();
      });
    },
  },
];
