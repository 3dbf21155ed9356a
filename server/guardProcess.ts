import { isDatabaseAway } from "#server/ownFault";
import { log } from "#server/log";
import { currentScope } from "#server/scope";

/** Long enough for the log, and for what else runs to notice. */
const LAST_MS = 500;

/**
 * The last net under a process: a stream that errs without a listener, a promise that nobody awaits. It is logged, and ends the
 * work that it belongs to. Where it belongs to none, the state of the process is unknown, and it ends: whoever keeps it starts
 * it again. A connection to the database that breaks belongs to nobody, and ends nothing.
 */
export const guardProcess = {
  install(ended: () => void = () => process.exit(1)): void {
    const caught = (kind: string) => (thrown: unknown) => {
      const error = thrown instanceof Error ? thrown : new Error(String(thrown));
      const scope = currentScope();
      log.error({ err: error, kind, of: scope?.what }, "nobody listened to this");
      if (scope) return scope.end(error);
      if (isDatabaseAway(error)) return;
      log.fatal({ err: error }, "the process ends, since its state is unknown");
      setTimeout(ended, LAST_MS).unref();
    };
    process.on("uncaughtException", caught("exception"));
    process.on("unhandledRejection", caught("rejection"));
  },
};
