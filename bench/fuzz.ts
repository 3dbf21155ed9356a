import { readdir } from "node:fs/promises";
import { join } from "node:path";
import type { IgnoredFile } from "#core/candidates/candidate";
import { seededRandom } from "#core/pattern/random";
import { openTestStudio } from "#server/testing/testStudio";
import { mutate } from "./fuzz/mutate";
import { seeds, type Seed } from "./fuzz/seeds";

/**
 * Damaged and hostile files of every format that is read, handed in through the HTTP interface and read as the worker does. Checked
 * for each: the process lives, no limit is passed, every file stands in the account, and no word of a library or of the language is
 * shown. Wants DATABASE_URL; `BENCH_SECONDS` ends it early, `BENCH_SEED` repeats a run.
 */
const SEED = Number(process.env.BENCH_SEED ?? Date.now() % 1e9);
const SECONDS = Number(process.env.BENCH_SECONDS ?? Infinity);
const EACH = Number(process.env.BENCH_EACH ?? 1000);
const ZIPS = Number(process.env.BENCH_ZIPS ?? 3 * EACH);
/** Files of one intake: they are read together, and one must not disturb another. */
const TOGETHER = 40;
const LIMITS = { itemSeconds: "20", itemMib: "256" };
/** A file that is read takes no longer than its limit, and what the pool needs to end it. */
const MOST_SECONDS = Number(LIMITS.itemSeconds) * TOGETHER;

/** What libraries, the language and the system say, and people do not. */
const FOREIGN =
  /vips|libspng|libpng|VipsJpeg|Unexpected (token|end|non)|is not (a function|defined|iterable|valid JSON)|Cannot read|undefined|\[object|Maximum call|Invalid (array|typed|string)|out of (range|memory)|offset|ENOENT|EACCES|errno|at \w+ \(|node:|\/tmp\/|\/work\/|PayloadTooLarge|invalid byte sequence|null character|zlib|RangeError|TypeError|ERR_|code \d|malformed|expected|stack/i;

process.env.KALONOMY_LOG ??= "fatal";
const random = seededRandom(SEED);
const studio = await openTestStudio();
const { readIntake } = await import("#server/intake/stages/read");
const { settings } = await import("#server/settings");
settings().maxDayBytes = Number.MAX_SAFE_INTEGER;

const made = await seeds();
const troubles: string[] = [];
const counts = new Map<string, { files: number; read: number; aside: number }>();
let [files, intakes, peakMib] = [0, 0, 0];
for (const event of ["uncaughtException", "unhandledRejection"] as const)
  process.on(event, (error: Error) => {
    troubles.push(`${event}: ${error.stack ?? String(error)}`);
    console.log(troubles.at(-1));
  });

console.log(`fuzz with seed ${SEED}, ${made.length} seeds`);
const begun = Date.now();
const wanted = new Map(made.map((seed) => [seed.kind, seed.kind === "zip" ? ZIPS : EACH]));
const isOver = () => (Date.now() - begun) / 1000 > SECONDS;
while (!isOver() && [...wanted.values()].some((left) => left > 0)) await oneIntake();
await checkIncoming();
await studio.close();

for (const [kind, { files, read, aside }] of [...counts].sort())
  console.log(`${kind}: ${files} mutants, ${read} read, ${aside} set aside or told of`);
console.log(
  `${files} files in ${intakes} intakes, ${((Date.now() - begun) / 1000).toFixed(0)} s, this process took ${peakMib.toFixed(0)} MiB at most`,
);
for (const trouble of troubles.slice(0, 40)) console.log(`trouble: ${trouble}`);
console.log(troubles.length === 0 ? "no trouble" : `${troubles.length} troubles, seed ${SEED}`);
process.exit(troubles.length === 0 ? 0 : 1);

async function oneIntake(): Promise<void> {
  const sent: { name: string; seed: Seed }[] = [];
  const form = new FormData();
  for (const [name, value] of Object.entries(LIMITS)) form.append(name, value);
  const kinds = [...wanted].filter(([, left]) => left > 0).map(([kind]) => kind);
  for (let n = 0; n < TOGETHER; n++) {
    const kind = kinds[Math.floor(random() * kinds.length)];
    const of = made.filter((seed) => seed.kind === kind);
    const seed = of[Math.floor(random() * of.length)];
    wanted.set(kind, wanted.get(kind)! - 1);
    const name = `f${files++}${seed.ending}`;
    sent.push({ name, seed });
    form.append("files", new Blob([new Uint8Array(mutate(seed.bytes, random))]), name);
  }
  intakes++;
  const { json, status } = await studio.api("POST", "/intakes", form);
  if (status !== 202) return void troubles.push(`handing in answered ${status}: ${JSON.stringify(json)}`);
  const started = Date.now();
  try {
    await readIntake(json.id as string);
  } catch (error) {
    return void troubles.push(`an intake failed: ${(error as Error).stack}`);
  }
  if ((Date.now() - started) / 1000 > MOST_SECONDS)
    troubles.push(`an intake took ${(Date.now() - started) / 1000} s`);
  peakMib = Math.max(peakMib, process.memoryUsage.rss() / 2 ** 20);
  const intake = (await studio.api("GET", `/intakes/${json.id}`)).json;
  if (intake.state !== "review") troubles.push(`an intake is ${intake.state}: ${intake.failure}`);
  const account: string = await (await studio.api("GET", `/intakes/${json.id}/account`)).response.text();
  const said: string[] = [
    ...intake.ignored.map(({ reason }: IgnoredFile) => reason),
    ...intake.candidates.flatMap(({ findings }: { findings: { message: string }[] }) =>
      findings.map((one) => one.message),
    ),
  ];
  for (const sentence of said)
    if (FOREIGN.test(withoutNames(sentence))) troubles.push(`said to people: ${sentence}`);
  JSON.stringify(intake, (_key, value: unknown) => {
    if (typeof value === "string" && /\p{Cc}/u.test(value.replaceAll(/[\n\t]/g, " ")))
      troubles.push(`a control character came through: ${JSON.stringify(value).slice(0, 120)}`);
    return value;
  });
  for (const { name, seed } of sent) {
    const count = counts.get(seed.kind) ?? { files: 0, read: 0, aside: 0 };
    counts.set(seed.kind, count);
    count.files++;
    const asCandidate = intake.candidates.some(({ maps }: { maps: { file: string }[] }) =>
      maps.some(({ file }) => file.startsWith(name)),
    );
    if (asCandidate) count.read++;
    else count.aside++;
    // What holds others is accounted for by what it holds.
    if (!asCandidate && !account.includes(name)) troubles.push(`${name} (${seed.kind}) stands in no account`);
  }
}

/** What people named is theirs. */
function withoutNames(sentence: string): string {
  return sentence.replaceAll(/“[^”]*”|\([^)]*\)|\bf\d+\.\w+\S*/g, "");
}

async function checkIncoming(): Promise<void> {
  const left = await readdir(join(studio.folder, "incoming")).catch(() => [] as string[]);
  if (left.filter((name) => name !== "uploads").length > 0)
    troubles.push(`left in incoming: ${left.join(", ")}`);
}
