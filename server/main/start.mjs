// The web processes: one for each core serves the built application on PORT, and one that ends is started again.
import cluster from "node:cluster";
import { availableParallelism } from "node:os";
import { AggregatorRegistry } from "prom-client";

const MOST = 4;
/** A process that lives shorter than this has failed to start; after so many in a row there is no sense in another. */
const SHORT_MS = 5_000;
const MOST_SHORT = 3;
const PAUSE_MS = 300;

const given = process.env.KALONOMY_WEB_PROCESSES;
const count = given === undefined ? Math.min(MOST, availableParallelism()) : Number(given);
if (!Number.isInteger(count) || count < 1 || count > 64) {
  console.error("The environment does not fit. KALONOMY_WEB_PROCESSES: a number from 1 to 64");
  process.exit(1);
}

if (count === 1 || cluster.isWorker) {
  const { start } = await import("../../build/server/index.js");
  await start();
} else keep();

function keep() {
  const figures = new AggregatorRegistry();
  cluster.on("message", (worker, message) => {
    if (typeof message?.wantsFigures !== "string") return;
    const answer = (text) =>
      worker.isConnected() && worker.send({ figuresFor: message.wantsFigures, figures: text });
    figures.clusterMetrics().then(answer, () => answer(""));
  });
  let stopping = false;
  let short = 0;
  const begin = () => {
    const begun = Date.now();
    cluster.fork().once("exit", () => {
      if (stopping) {
        if (Object.keys(cluster.workers).length === 0) process.exit(0);
        return;
      }
      short = Date.now() - begun < SHORT_MS ? short + 1 : 0;
      if (short >= MOST_SHORT) process.exit(1);
      setTimeout(() => stopping || begin(), PAUSE_MS);
    });
  };
  for (let n = 0; n < count; n++) begin();
  for (const signal of ["SIGINT", "SIGTERM"])
    process.on(signal, () => {
      stopping = true;
      for (const worker of Object.values(cluster.workers)) worker.process.kill("SIGTERM");
      if (Object.keys(cluster.workers).length === 0) process.exit(0);
    });
}
