import { useState } from "react";
import { Link } from "react-router";
import { mayDo } from "#server/auth/levels";
import { database } from "#server/db/database";
import { listIntakes, type IntakeRow } from "#server/intake/queries";
import { readPage } from "#server/db/page";
import type { Person } from "#server/auth/person";
import { settings } from "#server/settings";
import { LedgerHead } from "../components/LedgerHead";
import { Empty } from "../components/Empty";
import { Pages } from "../components/Pages";
import { look } from "../guard";
import { pageIn } from "../pageIn";
import { DropPlace } from "../intake/DropPlace";
import { titleOf } from "../intake/titleOf";
import { useFresh, useProgress } from "../view/live";
import type { Route } from "./+types/intakes";
import { moment } from "../view/moment";

export const meta: Route.MetaFunction = () => [{ title: "Intake – Kalonomy" }];

export const loader = look(async ({ request, person }: Route.LoaderArgs & { person: Person }) => ({
  ...(await readPage(pageIn(request), (slice) => listIntakes(database(), slice))),
  mayMake: mayDo(person, "make"),
  dropFolder: settings().dropFolder,
}));

const STATES = {
  receiving: "coming in",
  reading: "being read",
  review: "to be reviewed",
  accepted: "accepted",
  failed: "failed",
} as const;

function howFar(
  { state, files, expected, fetch }: IntakeRow,
  { done, total }: { done: number; total: number },
): string {
  if (state === "receiving" && !fetch) return `, ${Math.max(files, done)} of ${expected ?? "?"} files`;
  return state === "reading" && total > 0 ? `, ${Math.round((100 * done) / total)} %` : "";
}

export default function Intakes({
  loaderData: { items, page, next, mayMake, dropFolder },
}: Route.ComponentProps) {
  useFresh((event) => event.topic === "intake" && !event.progress);
  const [live, setLive] = useState<Record<string, { state?: string; done: number; total: number }>>({});
  useProgress("intake", ({ id, state, progress }) =>
    setLive((before) => ({ ...before, [id]: { state, ...progress } })),
  );
  return (
    <div className="page">
      <h1>Intake</h1>
      {mayMake && <DropPlace />}
      {mayMake && (
        <p className="aside">
          What is put into <span className="file">{dropFolder}</span> on the server is taken in by itself once
          it has stopped growing; the original stays there. <Link to="/alike">Pictures that are alike</Link>,{" "}
          <Link to="/lines">lists of coded colours</Link>
        </p>
      )}
      {items.length === 0 ? (
        <Empty title="Nothing has come in yet">
          <p>Drop a download above: a zip as it came, several of them, loose images, or a whole folder.</p>
        </Empty>
      ) : (
        <table className="ledger">
          <LedgerHead
            columns={["Came in", "What", "State", { number: "Waiting" }, { number: "Accepted" }, "By"]}
          />
          <tbody>
            {items.map((intake) => (
              <tr key={intake.id}>
                <td className="number">{moment(intake.createdAt)}</td>
                <td>
                  <Link to={`/intakes/${intake.id}`}>{titleOf(intake) || "nothing yet"}</Link>
                  {intake.foundAt && <span className="dim"> from the drop folder</span>}
                </td>
                <td>
                  {intake.hold === "pause" ? "waits" : STATES[intake.state]}
                  {howFar(
                    intake,
                    live[intake.id]?.state === intake.state ? live[intake.id] : intake.progress,
                  )}
                </td>
                <td className="number">{intake.waiting}</td>
                <td className="number">{intake.accepted}</td>
                <td>{intake.person}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Pages page={page} next={next} />
    </div>
  );
}
