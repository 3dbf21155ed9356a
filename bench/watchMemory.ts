import { readdirSync, readFileSync } from "node:fs";

const EVERY_MS = 40;

/** Looks again and again at what a process and those that it started hold together in memory that nobody shares. */
export function watchMemory(pid: number) {
  let peak = 0;
  const timer = setInterval(() => (peak = Math.max(peak, held(pid))), EVERY_MS);
  return { peakMib: () => peak / 1024, stop: () => clearInterval(timer) };
}

/** In KiB. */
function held(pid: number): number {
  const children = new Map<number, number[]>();
  for (const name of readdirSync("/proc").filter((name) => /^\d+$/.test(name))) {
    const parent = /\) \S (\d+)/.exec(read(`/proc/${name}/stat`))?.[1];
    if (parent) children.set(Number(parent), [...(children.get(Number(parent)) ?? []), Number(name)]);
  }
  const all = [pid];
  for (const one of all) all.push(...(children.get(one) ?? []));
  return all.reduce(
    (sum, one) => sum + Number(/RssAnon:\s+(\d+)/.exec(read(`/proc/${one}/status`))?.[1] ?? 0),
    0,
  );
}

/** What has ended meanwhile holds nothing. */
function read(path: string): string {
  try {
    return readFileSync(path, "utf8");
  } catch {
    return "";
  }
}
