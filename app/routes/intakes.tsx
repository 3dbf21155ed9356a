import { useRef, useState, type DragEvent } from "react";
import { Alert } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import { mayDo } from "#server/auth/levels";
import { database } from "#server/db/database";
import { listIntakes } from "#server/db/intakes";
import type { Person } from "#server/db/people";
import { Button } from "../components/Button";
import { Empty } from "../components/Empty";
import { Progress } from "../components/Progress";
import { look } from "../guard";
import { useFresh } from "../view/live";
import type { Route } from "./+types/intakes";

export const meta: Route.MetaFunction = () => [{ title: "Intake – Kalonomy" }];

export const loader = look(async ({ person }: Route.LoaderArgs & { person: Person }) => ({
  intakes: await listIntakes(database()),
  mayMake: mayDo(person, "make"),
}));

const STATES = {
  receiving: "coming in",
  reading: "being read",
  review: "to be reviewed",
  accepted: "accepted",
  failed: "failed",
} as const;

export default function Intakes({ loaderData: { intakes, mayMake } }: Route.ComponentProps) {
  useFresh((event) => event.topic === "intake");
  return (
    <div className="page">
      <h1>Intake</h1>
      {mayMake && <DropPlace />}
      {intakes.length === 0 ? (
        <Empty title="Nothing has come in yet">
          <p>Drop a download above: a zip as it came, several of them, or loose images.</p>
        </Empty>
      ) : (
        <table className="ledger">
          <thead>
            <tr>
              <th scope="col">Came in</th>
              <th scope="col">What</th>
              <th scope="col">State</th>
              <th scope="col" className="number">
                Waiting
              </th>
              <th scope="col" className="number">
                Accepted
              </th>
              <th scope="col">By</th>
            </tr>
          </thead>
          <tbody>
            {intakes.map((intake) => (
              <tr key={intake.id}>
                <td className="number">
                  {new Date(intake.createdAt).toISOString().slice(0, 16).replace("T", " ")}
                </td>
                <td>
                  <Link to={`/intakes/${intake.id}`}>{intake.uploads.join(", ")}</Link>
                </td>
                <td>
                  {STATES[intake.state]}
                  {intake.state === "reading" &&
                    intake.progress.total > 0 &&
                    `, ${Math.round((100 * intake.progress.done) / intake.progress.total)} %`}
                </td>
                <td className="number">{intake.waiting}</td>
                <td className="number">{intake.accepted}</td>
                <td>{intake.person}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

interface Sending {
  what: string;
  done: number;
  total: number;
}

/** Takes dropped or picked files and sends them as one intake, with the bytes that have left. */
function DropPlace() {
  const navigate = useNavigate();
  const picker = useRef<HTMLInputElement>(null);
  const request = useRef<XMLHttpRequest | undefined>(undefined);
  const [over, setOver] = useState(false);
  const [onClash, setOnClash] = useState("keep-both");
  const [sending, setSending] = useState<Sending>();
  const [failure, setFailure] = useState<string>();

  function send(files: File[]) {
    if (files.length === 0 || sending) return;
    setFailure(undefined);
    const form = new FormData();
    form.set("onClash", onClash);
    for (const file of files) form.append("files", file);
    const what = files.length === 1 ? files[0].name : `${files.length} files`;
    const xhr = new XMLHttpRequest();
    request.current = xhr;
    setSending({ what, done: 0, total: files.reduce((sum, file) => sum + file.size, 0) });
    xhr.upload.onprogress = (event) => setSending({ what, done: event.loaded, total: event.total });
    xhr.onload = () => {
      setSending(undefined);
      const answer = JSON.parse(xhr.responseText || "{}") as { id?: string; detail?: string };
      if (xhr.status === 202 && answer.id) void navigate(`/intakes/${answer.id}`);
      else setFailure(answer.detail ?? "The server did not take it. Try again.");
    };
    xhr.onerror = () => {
      setSending(undefined);
      setFailure(
        "The connection broke off before everything had arrived. Nothing was taken in; send it again.",
      );
    };
    xhr.onabort = () => setSending(undefined);
    xhr.open("POST", "/api/v1/intakes");
    xhr.send(form);
  }

  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    send([...event.dataTransfer.files]);
  };
  return (
    <section
      className={`drop-place${over ? " over" : ""}`}
      aria-label="Hand in files"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      {sending ? (
        <>
          <Progress label={`Sending ${sending.what}`} done={sending.done} total={sending.total} />
          <Button size="sm" variant="outline-secondary" onClick={() => request.current?.abort()}>
            Stop
          </Button>
        </>
      ) : (
        <>
          <p className="drop-words">Drop zips or images here</p>
          <input
            ref={picker}
            type="file"
            multiple
            accept=".zip,.png,.jpg,.jpeg,.tif,.tiff,.webp,.tga"
            className="visually-hidden"
            aria-label="Files to hand in"
            tabIndex={-1}
            onChange={(event) => {
              send([...(event.target.files ?? [])]);
              event.target.value = "";
            }}
          />
          <Button variant="outline-secondary" onClick={() => picker.current?.click()}>
            Choose files
          </Button>
          <label className="inline-choice">
            If the library has it already{" "}
            <select value={onClash} onChange={(event) => setOnClash(event.target.value)}>
              <option value="keep-both">keep both</option>
              <option value="skip">skip it</option>
              <option value="replace">replace it by a new revision</option>
            </select>
          </label>
        </>
      )}
      {failure && (
        <Alert variant="danger" className="mt-3 mb-0">
          {failure}
        </Alert>
      )}
    </section>
  );
}
