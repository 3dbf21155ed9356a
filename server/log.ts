import { pino } from "pino";

/** The level below which nothing is written; the tests and the demo keep quiet. */
const level = process.env.KALONOMY_LOG ?? (process.env.NODE_ENV === "test" ? "silent" : "info");

/**
 * One line of JSON for each thing that happened, on standard output. Fields that name secrets are left out, whoever logs
 * them.
 */
export const log = pino({
  level,
  base: { process: process.argv[1]?.includes("worker") ? "worker" : "web" },
  timestamp: pino.stdTimeFunctions.isoTime,
  // An error may carry a whole connection with it, of which nothing belongs into a log.
  serializers: {
    err: ({ name, message, stack, code }: NodeJS.ErrnoException) => ({ type: name, message, code, stack }),
  },
  formatters: { level: (label) => ({ level: label }) },
  redact: {
    paths: ["password", "token", "secret", "*.password", "*.token", "*.secret", "cookie", "authorization"],
    remove: true,
  },
});
