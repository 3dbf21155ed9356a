import { Readable } from "node:stream";
import { answerTasks } from "#server/pool/answerTasks";
import { Refusal } from "#core/text/refusal";

/** Tasks that go wrong in every way that reading bytes from outside can. */
answerTasks({
  add: ({ a, b }: { a: number; b: number }) => a + b,
  tell: ({ times }: { times: number }, tell) => {
    for (let n = 0; n < times; n++) tell(n);
    return "told";
  },
  spin: () => {
    for (;;);
  },
  hoard: ({ mebibytes }: { mebibytes: number }) => {
    const held: Uint8Array[] = [];
    for (let n = 0; n < mebibytes; n += 16) held.push(new Uint8Array(16 * 2 ** 20).fill(1));
    return held.length;
  },
  heap: () => {
    const held: unknown[] = [];
    for (;;) held.push({ n: held.length, text: String(held.length) });
  },
  refuse: () => {
    throw new Refusal("It is no picture.");
  },
  exit: () => process.exit(3),
  // A stream that fails after the task was answered, with nobody listening.
  late: () => {
    const stream = Readable.from([]);
    setTimeout(() => stream.destroy(new Error("late")), 20);
    return "answered";
  },
  pid: () => process.pid,
});
