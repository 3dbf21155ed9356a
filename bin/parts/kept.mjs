import { say } from "./say.mjs";

/** A process that lives shorter than this has failed to start, and after so many of them it is given up. */
const SHORT_MS = 10_000;
const MOST_SHORT = 3;
const PAUSE_MS = 500;

/**
 * Keeps a process running: one that ends by itself is started again.
 * @param start starts it, and returns the child process
 * @param isExcused whether a short life is not the process's own fault just now, as while the database is away
 * @returns a promise that ends when it is given up, and a function that stops it
 */
export function kept(what, start, isExcused = () => false) {
  let child;
  let stopped = false;
  let short = 0;
  let giveUp;
  const givenUp = new Promise((resolve) => (giveUp = resolve));
  const begin = () => {
    if (stopped) return;
    const begun = Date.now();
    child = start();
    child.once("exit", () => {
      if (stopped) return;
      if (!isExcused()) short = Date.now() - begun < SHORT_MS ? short + 1 : 0;
      if (short === MOST_SHORT) return giveUp();
      say(`The ${what} has ended, and is started again`);
      setTimeout(begin, PAUSE_MS);
    });
  };
  begin();
  return {
    givenUp,
    async stop() {
      stopped = true;
      if (child.exitCode !== null || child.signalCode !== null) return;
      const ended = new Promise((resolve) => child.once("exit", resolve));
      child.kill("SIGTERM");
      await ended;
    },
  };
}
