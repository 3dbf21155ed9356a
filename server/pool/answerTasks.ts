import { readFileSync } from "node:fs";
import type { Tell } from "#server/opening/tell";
import { collect } from "#server/pixels/freePixels";
import type { Answer } from "#server/pool/processPool";

type Task = (task: never, tell: Tell) => unknown;

/**
 * The other end of the pool: takes one task after the other and answers. What a task leaves behind, such as a stream that fails
 * after it, ends this process and no other.
 */
export function answerTasks(tasks: Record<string, Task>): void {
  const before = allocatedMebibytes();
  /** What a task leaves allocated, once what nobody holds is given back. */
  const kept = () => {
    if (allocatedMebibytes() - before > LITTLE_MEBIBYTES) collect();
    return Math.max(0, allocatedMebibytes() - before);
  };
  const send = (answer: Answer, then?: () => void) => {
    if (process.connected) process.send!(answer, undefined, undefined, () => then?.());
    else process.exit();
  };
  process.on("message", ({ name, task }: { name: string; task: never }) => {
    Promise.resolve()
      .then(() => tasks[name](task, (value) => send({ kind: "told", value })))
      .then(
        (result) => send({ kind: "done", result, keepsMebibytes: kept() }),
        (error: unknown) => send({ kind: "failed", error: copyOf(error), ends: false }),
      );
  });
  const broken = (error: unknown) =>
    send({ kind: "failed", error: copyOf(error), ends: true }, () => process.exit(1));
  process.on("uncaughtException", broken);
  process.on("unhandledRejection", broken);
  process.on("disconnect", () => process.exit());
}

const LITTLE_MEBIBYTES = 32;

/** What the kernel's limit counts (RLIMIT_DATA). */
function allocatedMebibytes(): number {
  return Number(/VmData:\s+(\d+)/.exec(readFileSync("/proc/self/status", "utf8"))?.[1] ?? 0) / 1024;
}

function copyOf(error: unknown): { name: string; message: string; stack?: string; code?: string } {
  const { name, message, stack, code }: NodeJS.ErrnoException =
    error instanceof Error ? error : new Error(String(error));
  return { name, message, stack, ...(typeof code === "string" && { code }) };
}
