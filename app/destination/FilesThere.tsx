import { Form, Link } from "react-router";
import type { CheckRow, FindingRow } from "#server/destination/checkSql";
import { Button } from "../components/Button";
import { moment } from "../view/moment";

const HEADINGS: Record<FindingRow["state"], [heading: string, says: string]> = {
  missing: ["Missing", "Delivered, and taken away since."],
  changed: ["Changed", "Somebody has put something else in its place since."],
  foreign: ["Put there by somebody else", "No delivery made these; they are left alone."],
};

/** Whether what was delivered lies at a destination as it was delivered, file by file. */
export function FilesThere({
  check,
  findings,
  mayMake,
}: {
  check: CheckRow | undefined;
  findings: FindingRow[];
  mayMake: boolean;
}) {
  const isLooking = check?.state === "looking";
  const isAskew = check?.state === "done" && check.missing + check.changed > check.written;
  return (
    <section className="plan" aria-labelledby="files-there">
      <div className="sentence-row">
        <h2 id="files-there">Files</h2>
        {mayMake && (
          <Form method="post" className="acts" preventScrollReset>
            {isAskew && (
              <Button type="submit" size="sm" name="intent" value="mend">
                Write {check.missing + check.changed === 1 ? "it" : "them"} again
              </Button>
            )}
            <Button
              type="submit"
              size="sm"
              name="intent"
              value="look"
              variant="outline-secondary"
              disabled={isLooking}
            >
              {check ? "Check again" : "Check the files"}
            </Button>
          </Form>
        )}
      </div>
      <p role="status">
        {check ? sentenceOf(check) : "Nobody has looked yet whether all that was delivered is there."}
      </p>
      {check?.state === "done" &&
        (["missing", "changed", "foreign"] as const).map((state) => {
          const of = findings.filter((one) => one.state === state);
          const [heading, says] = HEADINGS[state];
          return (
            of.length > 0 && (
              <details key={state} open={state !== "foreign"}>
                <summary>
                  {heading}: {check[state]}
                </summary>
                <p className="dim">{says}</p>
                <Findings findings={of} />
                {check[state] > of.length && <p className="dim">and {check[state] - of.length} more</p>}
              </details>
            )
          );
        })}
    </section>
  );
}

function sentenceOf({
  state,
  files,
  lookedAt,
  missing,
  changed,
  foreign,
  written,
  askedBy,
  askedAt,
}: CheckRow): string {
  if (state === "looking")
    return files > 0 ? `${lookedAt} of ${files} files are looked at …` : "It is being looked through …";
  const asked = `Asked for by ${askedBy}, ${moment(askedAt)}.`;
  if (state === "failed") return asked;
  if (files === 0) return `Nothing was delivered here yet. ${asked}`;
  const counts = [
    missing > 0 && `${missing} missing`,
    changed > 0 && `${changed} changed`,
    foreign > 0 && `${foreign} of somebody else’s beside them`,
  ].filter(Boolean);
  const all = `${files} ${files === 1 ? "file was" : "files were"} delivered here: ${counts.join(", ") || "all are there, as they were delivered"}.`;
  return `${all}${written > 0 ? ` ${written} ${written === 1 ? "was" : "were"} written again.` : ""} ${asked}`;
}

function Findings({ findings }: { findings: FindingRow[] }) {
  return (
    <table className="ledger tight">
      <tbody>
        {findings.map(({ path, isWritten, material }) => (
          <tr key={path}>
            <td className="file">{path}</td>
            <td>{material && <Link to={`/materials/${material.id}`}>{material.name}</Link>}</td>
            <td>{isWritten && <span className="mark known">written again</span>}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
