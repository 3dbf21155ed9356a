import { Form, Link } from "react-router";
import { z } from "zod";
import { formatBytes } from "#core/length/formatBytes";
import type { Person } from "#server/auth/person";
import { readUpkeep, type SweepSummary } from "#server/upkeep/readUpkeep";
import { agree, startSweep } from "#server/upkeep/sweep";
import { LedgerHead } from "../components/LedgerHead";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { act, look } from "../guard";
import { useCatchUp, useFollow, useFresh } from "../view/live";
import { moment } from "../view/moment";
import { fieldsOf, intent, intents } from "../fieldsOf";
import type { Route } from "./+types/upkeep";

export const meta: Route.MetaFunction = () => [{ title: "Upkeep – Kalonomy" }];

export const loader = look(readUpkeep);

const ACTS = intents(intent("look"), intent("remove", { id: z.uuid() }));

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const asked = fieldsOf(form, ACTS);
  if (asked.intent === "look") await startSweep(person);
  else await agree(asked.id);
  return null;
});

/** Kinds of work, in the words of those who wait for it. */
const KIND_WORDS: Record<string, string> = {
  "count-modules": "counting modules",
  "fetch-products": "fetching from suppliers",
  "heal-previews": "making previews",
  "read-anew": "reading pictures anew",
  "read-intake": "reading intakes",
  "run-delivery": "making deliveries",
  "flatten-photo": "flattening photographs",
  "mend-material": "mending maps",
  "sweep-files": "looking for left-over files",
};

const FAILURE_LINKS: Record<string, (subject: string) => string | undefined> = {
  intake: (id) => `/intakes/${id}`,
  delivery: (id) => `/deliveries/${id}`,
  mend: (id) => `/materials/${id}`,
  flattening: (id) => `/materials/${id}/gauge/flatten`,
  job: () => undefined,
};

/** What the keeper looks after: the queue, the disk, what failed and why. */
export default function Upkeep({ loaderData, actionData }: Route.ComponentProps) {
  const { queue, workers, failures, guessed, disk, databaseBytes, files, fileBytes, sweep } = loaderData;
  const sweeping = isUnderWay(sweep);
  useCatchUp(sweep?.id ?? "", sweeping);
  useFollow("intake");
  useFollow("delivery");
  useFresh(() => true);
  const share = disk.freeBytes / disk.bytes;
  return (
    <div className="page">
      <h1>Upkeep</h1>
      <Refusal result={actionData} />
      <dl className="figures">
        <div>
          <dt>Workers</dt>
          <dd className={workers.length === 0 ? "mark wrong" : undefined}>
            {workers.length === 0 ? "none: nothing is worked on" : workers.length}
          </dd>
        </div>
        <div>
          <dt>Files</dt>
          <dd>
            {files}, {formatBytes(fileBytes)}
          </dd>
        </div>
        <div>
          <dt>Database</dt>
          <dd>{formatBytes(databaseBytes)}</dd>
        </div>
        <div>
          <dt>Free on the disk</dt>
          <dd className={share < 0.1 ? "mark wrong" : undefined}>
            {formatBytes(disk.freeBytes)} of {formatBytes(disk.bytes)}
          </dd>
        </div>
      </dl>
      <h2>Queue</h2>
      {queue.length === 0 ? (
        <p className="dim">Nothing waits.</p>
      ) : (
        <table className="ledger">
          <LedgerHead
            columns={["Work", { number: "waiting" }, { number: "running" }, { number: "given up" }]}
          />
          <tbody>
            {queue.map(({ kind, waiting, running, failed }) => (
              <tr key={kind}>
                <td>{KIND_WORDS[kind] ?? kind}</td>
                <td className="number">{waiting}</td>
                <td className="number">{running}</td>
                <td className={failed > 0 ? "number mark wrong" : "number"}>{failed}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <h2>What failed</h2>
      {failures.length === 0 ? (
        <p className="dim">Nothing.</p>
      ) : (
        <table className="ledger">
          <tbody>
            {failures.map(({ what, id, subject, at, reason }) => {
              const to = FAILURE_LINKS[what](subject);
              return (
                <tr key={what + id}>
                  <td className="number dim">{moment(at)}</td>
                  <td>{to ? <Link to={to}>{what}</Link> : (KIND_WORDS[subject] ?? subject)}</td>
                  <td>{reason}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {guessed.length > 0 && (
        <>
          <h2>Wrong passwords within a day</h2>
          <table className="ledger">
            <LedgerHead
              columns={["Account", { number: "times" }, { number: "addresses" }, { number: "last" }]}
            />
            <tbody>
              {guessed.map(({ account, times, addresses, last }) => (
                <tr key={account}>
                  <td>{account}</td>
                  <td className="number mark look">{times}</td>
                  <td className="number">{addresses}</td>
                  <td className="number dim">{moment(last)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      <h2>Left-over files</h2>
      <Sweep sweep={sweep} />
      {!sweeping && (
        <Form method="post">
          <input type="hidden" name="intent" value="look" />
          <Button type="submit" variant="outline-secondary" size="sm">
            Look for files that nothing refers to
          </Button>
        </Form>
      )}
    </div>
  );
}

const isUnderWay = (sweep: SweepSummary | null) =>
  sweep !== null && !sweep.failure && !sweep.removed && (sweep.found === null || sweep.agreed_at !== null);

const WHY_WORDS = {
  unknown: "kept, but known to no material",
  derived: "made from something that is gone",
  incoming: "left behind by a broken upload",
} as const;

function Sweep({ sweep }: { sweep: SweepSummary | null }) {
  if (!sweep)
    return <p className="dim">Nobody has looked yet. What is younger than a day is never touched.</p>;
  const { id, asked_at, found, agreed_at, removed, failure } = sweep;
  if (failure) return <p className="mark wrong">Looking failed: {failure}</p>;
  if (removed)
    return (
      <p>
        <span className="number">{removed.files}</span> files, {formatBytes(removed.bytes)}, were removed.
      </p>
    );
  if (agreed_at) return <p role="status">They are being removed…</p>;
  if (!found) return <p role="status">Looking…</p>;
  if (found.count === 0) return <p>Nothing was left over at {moment(asked_at)}.</p>;
  return (
    <>
      <p>
        At {moment(asked_at)} nothing referred to <span className="number">{found.count}</span> files,{" "}
        {formatBytes(found.bytes)}:
      </p>
      <ul className="left-over">
        {found.first.map(({ path, bytes, why }) => (
          <li key={path}>
            <code>{path}</code>{" "}
            <span className="dim">
              {formatBytes(bytes)}, {WHY_WORDS[why]}
            </span>
          </li>
        ))}
        {found.count > found.first.length && (
          <li className="dim">and {found.count - found.first.length} more</li>
        )}
      </ul>
      <Form method="post">
        <input type="hidden" name="intent" value="remove" />
        <input type="hidden" name="id" value={id} />
        <Button type="submit" variant="outline-danger" size="sm">
          Remove these {found.count}
        </Button>
      </Form>
    </>
  );
}
