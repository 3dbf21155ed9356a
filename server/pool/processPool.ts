import { execFile, fork, type ChildProcess } from "node:child_process";
import { promisify } from "node:util";
import { log } from "#server/log";

/** What a task may cost before it is ended. */
export interface TaskLimits {
  seconds: number;
  /** Memory that the task may take, besides what its process has anyway. */
  mebibytes: number;
  /** Somebody waits for it at their screen: it goes before those that wait for nobody. */
  isUrgent?: boolean;
  /** Ends the task at once. */
  signal?: AbortSignal;
  /** Called with what the task tells on its way. */
  told?: (value: unknown) => void;
}

/** A task took more than it may; said in a sentence for people. */
class LimitError extends Error {
  constructor(message: string) {
    super(message);
    this.name = "LimitError";
  }
}

interface Job {
  name: string;
  task: unknown;
  limits: TaskLimits;
  settle(error: Error | null, result?: unknown): void;
}

interface Member {
  child: ChildProcess;
  job?: Job;
  idle?: NodeJS.Timeout;
  /** Data limit that the process has now, in MiB. */
  mebibytes: number;
}

/** What a process of the pool answers. */
export type Answer =
  | { kind: "told"; value: unknown }
  | { kind: "done"; result: unknown; keepsMebibytes: number }
  | {
      kind: "failed";
      error: { name: string; message: string; stack?: string; code?: string };
      ends: boolean;
    };

/** Node, its libraries and our own code, before any pixel. */
const OWN_MEBIBYTES = 384;
/** A process that keeps more than this after a task is replaced: it would count against the next one. */
const KEEPS_MEBIBYTES = 128;

const run = promisify(execFile);

/**
 * A pool of processes for work on bytes from outside. Each task has a hard limit of time and memory; one that passes it, or
 * that brings its process down, ends alone. The processes have no secrets, and end with the one that started them.
 * @param script what each process runs: it answers by `answerTasks`
 */
export function processPool(script: string, { most, idleMs }: { most: number; idleMs: number }) {
  const members = new Set<Member>();
  const waiting: Job[] = [];
  let closed = false;

  function start(): Member {
    const child = fork(script, [], {
      serialization: "advanced",
      execPath: "setpriv",
      execArgv: [
        ...["--pdeathsig", "KILL", process.execPath],
        ...(script.endsWith(".ts") ? ["--import", "tsx"] : ["--enable-source-maps"]),
      ],
      env: {
        PATH: process.env.PATH,
        NODE_ENV: "production",
        KALONOMY_LOG: process.env.KALONOMY_LOG ?? "warn",
        // Images are given back to the system when they are freed, and not kept for the next ones in a heap full of gaps.
        MALLOC_MMAP_THRESHOLD_: "1048576",
        MALLOC_ARENA_MAX: "2",
      },
      stdio: ["ignore", "ignore", "ignore", "ipc"],
    });
    const member: Member = { child, mebibytes: Infinity };
    members.add(member);
    child.on("message", (answer: Answer) => heard(member, answer));
    child.on("error", (error) => log.error({ err: error }, "pool process"));
    child.on("exit", (code, signal) => {
      members.delete(member);
      clearTimeout(member.idle);
      settle(member, new LimitError(deathSentence(member.job, code, signal)));
      next();
    });
    return member;
  }

  function heard(member: Member, answer: Answer): void {
    if (answer.kind === "told") return member.job?.limits.told?.(answer.value);
    if (answer.kind === "failed") {
      const { name, message, stack, code } = answer.error;
      const error = Object.assign(new Error(message), { name, stack, ...(code !== undefined && { code }) });
      settle(member, isOutOfMemory(error) ? new LimitError(memorySentence(member.job)) : error);
      if (answer.ends || isOutOfMemory(error)) return end(member);
    } else {
      settle(member, null, answer.result);
      if (answer.keepsMebibytes > KEEPS_MEBIBYTES) return end(member);
    }
    rest(member);
    next();
  }

  function settle(member: Member, error: Error | null, result?: unknown): void {
    const { job } = member;
    member.job = undefined;
    job?.settle(error, result);
  }

  function rest(member: Member): void {
    member.child.unref();
    member.child.channel?.unref();
    member.idle = setTimeout(() => end(member), idleMs).unref();
  }

  function end(member: Member): void {
    members.delete(member);
    member.child.kill("SIGKILL");
    next();
  }

  function next(): void {
    while (waiting.length > 0 && !closed) {
      const member =
        [...members].find(({ job }) => job === undefined) ?? (members.size < most ? start() : undefined);
      if (!member) return;
      const job = waiting.shift()!;
      member.job = job;
      clearTimeout(member.idle);
      member.child.ref();
      member.child.channel?.ref();
      limitMemory(member, job.limits.mebibytes)
        .then(() => {
          if (member.job !== job) return;
          member.child.send({ name: job.name, task: job.task }, (error) => {
            if (error && member.job === job) end(member);
          });
        })
        .catch((error: Error) => {
          log.error({ err: error }, "pool limits");
          if (member.job === job) end(member);
        });
    }
  }

  return {
    /** @throws {LimitError} where the task passes its limits or ends its process; otherwise with the task's own error */
    run(name: string, task: unknown, limits: TaskLimits): Promise<unknown> {
      return new Promise((resolve, reject) => {
        const { signal, seconds } = limits;
        const memberOf = () => [...members].find((member) => member.job === job);
        let timer: NodeJS.Timeout | undefined;
        const leave = (error: Error) => {
          const at = waiting.indexOf(job);
          if (at >= 0) waiting.splice(at, 1);
          const member = memberOf();
          job.settle(error);
          if (member) {
            member.job = undefined;
            end(member);
          }
        };
        const aborted = () => leave(signal!.reason instanceof Error ? signal!.reason : new Error("aborted"));
        const job: Job = {
          name,
          task,
          limits,
          settle(error, result) {
            clearTimeout(timer);
            signal?.removeEventListener("abort", aborted);
            if (error) reject(error);
            else resolve(result);
          },
        };
        if (closed) return reject(new Error("The pool is closed."));
        if (signal?.aborted) return aborted();
        signal?.addEventListener("abort", aborted);
        // Time in the queue does not count: the clock starts with the work.
        const watch = () => {
          if (waiting.includes(job)) timer = setTimeout(watch, 200);
          else timer = setTimeout(() => leave(new LimitError(timeSentence(seconds))), seconds * 1000);
        };
        const behind = limits.isUrgent ? waiting.findIndex((other) => !other.limits.isUrgent) : -1;
        waiting.splice(behind < 0 ? waiting.length : behind, 0, job);
        next();
        watch();
      });
    },

    /** How many tasks are worked on, and how many wait. */
    state: () => ({ busy: [...members].filter(({ job }) => job).length, waiting: waiting.length }),

    async close(): Promise<void> {
      closed = true;
      for (const job of waiting.splice(0)) job.settle(new Error("The pool is closed."));
      const ended = [...members].map(({ child }) => new Promise((resolve) => child.once("exit", resolve)));
      for (const member of [...members]) {
        member.child.ref();
        member.child.kill("SIGKILL");
      }
      await Promise.all(ended);
    },
  };
}

/** A hard limit of the kernel on what the process may allocate (RLIMIT_DATA): beyond it, allocating fails. */
async function limitMemory(member: Member, mebibytes: number): Promise<void> {
  if (member.mebibytes === mebibytes) return;
  member.mebibytes = mebibytes;
  const bytes = Math.round((mebibytes + OWN_MEBIBYTES) * 2 ** 20);
  await run("prlimit", ["--pid", String(member.child.pid), `--data=${bytes}:`]);
}

/** How V8 and libvips say that memory ran out. */
const isOutOfMemory = ({ name, message }: Error) =>
  (name === "RangeError" && /allocation failed|Invalid typed array length|array length/i.test(message)) ||
  /out of memory|cannot allocate|std::bad_alloc/i.test(message);

const timeSentence = (seconds: number) => `Reading it took longer than ${seconds} s, the limit for one file.`;

const memorySentence = (job: Job | undefined) =>
  `It needs more memory than ${job?.limits.mebibytes ?? 0} MiB, the limit for one file.`;

/** Of a process that ended under its task: most often the memory ran out where no error could be made of it. */
function deathSentence(job: Job | undefined, code: number | null, signal: NodeJS.Signals | null): string {
  if (job) log.warn({ task: job.name, code, signal }, "a process of the pool ended under its task");
  return `Reading it ended its reader: it is damaged, or needs more memory than ${job?.limits.mebibytes ?? 0} MiB, the limit for one file.`;
}
