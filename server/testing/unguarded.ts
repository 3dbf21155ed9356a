import { Readable } from "node:stream";
import { guardProcess } from "#server/guardProcess";
import { inScope } from "#server/scope";

/** A process in which nobody listens: what is left of a job ends the job, and what belongs to none ends the process. */
guardProcess.install();
const say = (text: string) => process.stdout.write(`${text}\n`);
const scope = (what: string) => ({
  request: what,
  what,
  end: (error: Error) => say(`${what} ended: ${error.message}`),
});

inScope(scope("stream"), () => {
  const stream = new Readable({ read() {} });
  setTimeout(() => stream.destroy(new Error("nobody listens")), 10);
});
inScope(scope("promise"), () => {
  setTimeout(() => Promise.reject(new Error("nobody awaits")), 20);
});
// A connection that broke belongs to nobody, and ends nothing.
setTimeout(() => Promise.reject(Object.assign(new Error("gone"), { code: "57P01" })), 30);
setTimeout(() => say("alive"), 100);
setTimeout(() => {
  throw new Error("belongs to nobody");
}, 150);
setInterval(() => undefined, 1000);
