import { fromEvent } from "file-selector";
import { Refusal } from "#core/text/refusal";
import { useRef, useState, type ChangeEvent, type DragEvent } from "react";
import { Alert } from "react-bootstrap";
import { useNavigate, useRevalidator } from "react-router";
import { Button } from "../components/Button";
import { Progress } from "../components/Progress";
import { matchArrived } from "./matchArrived";
import { sendFiles, type FileToSend, type Sent } from "./sendFiles";

interface DropPlaceProps {
  /** An intake whose sending was broken off, to go on with. */
  goOn?: { id: string; expected: number; arrived: { position: number; name: string; bytes: number }[] };
}

const CLUTTER = /(^|\/)(\.DS_Store|Thumbs\.db|desktop\.ini)$/i;

/** Takes dropped or picked files and whole folders and sends them as one intake, file by file. */
export function DropPlace({ goOn }: DropPlaceProps) {
  const navigate = useNavigate();
  const { revalidate } = useRevalidator();
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const stopper = useRef<AbortController | undefined>(undefined);
  const [over, setOver] = useState(false);
  const [sending, setSending] = useState<Sent & { total: number; of: number; what: string }>();
  const [failure, setFailure] = useState<string>();
  const options = useRef<HTMLFormElement>(null);

  async function send(chosen: FileToSend[]) {
    const wanted = chosen.filter(({ path }) => !CLUTTER.test(path));
    if (wanted.length === 0 || sending) return;
    setFailure(undefined);
    const stop = new AbortController();
    stopper.current = stop;
    try {
      const id = goOn?.id ?? (await begin(wanted.length, optionsOf(options.current)));
      const known = wanted.map((one) => ({ ...one, name: one.path, bytes: one.file.size }));
      const { ordered } = matchArrived(known, goOn?.arrived ?? []);
      const total = wanted.reduce((sum, { file }) => sum + file.size, 0);
      const what = wanted.length === 1 ? wanted[0].path : `${wanted.length} files`;
      const placed = ordered.map((one) => one ?? { file: new File([], "gone"), path: "gone" });
      const arrived = goOn?.arrived ?? [];
      await sendFiles(
        id,
        placed,
        arrived,
        (sent) => setSending({ ...sent, total, of: wanted.length, what }),
        stop.signal,
      );
      await ask(`/api/v1/intakes/${id}/complete`);
      await navigate(`/intakes/${id}`);
      void revalidate();
    } catch (error) {
      if (!stop.signal.aborted) setFailure(sentenceOf(error));
    } finally {
      setSending(undefined);
    }
  }

  const take = async (event: DragEvent | ChangeEvent<HTMLInputElement>) => {
    const found = await fromEvent(event.nativeEvent);
    await send(
      found.flatMap((file) =>
        file instanceof File
          ? [
              {
                file,
                path: (file.webkitRelativePath || file.relativePath || file.name).replace(/^\.?\//, ""),
              },
            ]
          : [],
      ),
    );
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
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void take(event);
      }}
    >
      {sending ? (
        <>
          <Progress
            label={`Sending ${sending.what}`}
            what={`${sending.files} of ${sending.of} arrived`}
            done={sending.bytes}
            total={sending.total}
          />
          <p className="aside">
            A lost line is taken up again by itself. If you close this page, pick the same files again to go
            on.
          </p>
          <Button size="sm" variant="outline-secondary" onClick={() => stopper.current?.abort()}>
            Stop
          </Button>
        </>
      ) : (
        <>
          <p className="drop-words">
            {goOn
              ? `${goOn.arrived.length} of ${goOn.expected} files have arrived. Drop the same files here to go on`
              : "Drop zips, images or a whole folder here"}
          </p>
          <Picker input={files} label="Files to hand in" onChange={(event) => void take(event)} />
          <Picker input={folder} label="Folder to hand in" folder onChange={(event) => void take(event)} />
          <Button variant="outline-secondary" onClick={() => files.current?.click()}>
            Choose files
          </Button>{" "}
          <Button variant="outline-secondary" onClick={() => folder.current?.click()}>
            Choose a folder
          </Button>
          {!goOn && <Options form={options} />}
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

interface PickerProps {
  input: React.RefObject<HTMLInputElement | null>;
  label: string;
  folder?: boolean;
  onChange: (event: ChangeEvent<HTMLInputElement>) => void;
}

function Picker({ input, label, folder = false, onChange }: PickerProps) {
  return (
    <input
      ref={input}
      type="file"
      multiple
      className="visually-hidden"
      aria-label={label}
      tabIndex={-1}
      {...(folder ? { webkitdirectory: "" } : {})}
      onChange={(event) => {
        onChange(event);
        const { target } = event;
        // The list is read by then; the same files can be picked again.
        window.setTimeout(() => (target.value = ""), 1000);
      }}
    />
  );
}

/** How the intake is to be read. */
function Options({ form }: { form: React.RefObject<HTMLFormElement | null> }) {
  return (
    <form ref={form} className="drop-options">
      <label className="inline-choice">
        It is for looking from{" "}
        <select name="purpose" defaultValue="near">
          <option value="near">near</option>
          <option value="far">far</option>
          <option value="backdrop">a backdrop</option>
        </select>
      </label>
      <label className="inline-choice">
        If the library has it already{" "}
        <select name="onClash" defaultValue="keep-both">
          <option value="keep-both">keep both</option>
          <option value="skip">skip it</option>
          <option value="replace">replace it by a new revision</option>
        </select>
      </label>
      <details>
        <summary>Limits and what to leave out</summary>
        <label>
          Set a file aside after{" "}
          <input type="number" name="itemSeconds" min={1} max={3600} defaultValue={120} /> seconds
        </label>
        <label>
          or above <input type="number" name="itemMib" min={16} max={65536} defaultValue={4096} /> MiB of
          memory.
        </label>
        <label>
          Leave out sets with fewer than{" "}
          <input type="number" name="leastMaps" min={1} max={9} defaultValue={1} /> maps
        </label>
        <label>
          or smaller than <input type="number" name="leastPixels" min={1} max={16384} defaultValue={1} /> px.
        </label>
      </details>
    </form>
  );
}

function optionsOf(form: HTMLFormElement | null): Record<string, string> {
  if (!form) return {};
  return Object.fromEntries([...new FormData(form)].map(([key, value]) => [key, String(value)]));
}

async function begin(files: number, options: Record<string, string>): Promise<string> {
  const { id } = (await ask("/api/v1/intakes/begin", { files, ...options })) as { id: string };
  return id;
}

async function ask(path: string, body: unknown = {}): Promise<unknown> {
  const response = await fetch(path, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(body),
  });
  const answer = (await response.json()) as { detail?: string };
  if (!response.ok) throw new Refusal(answer.detail ?? "The server did not take it. Try again.");
  return answer;
}

function sentenceOf(error: unknown): string {
  const response = (error as { originalResponse?: { getBody(): string } | null }).originalResponse;
  const body = response?.getBody();
  if (body) return body.slice(0, 300);
  return error instanceof Refusal
    ? error.message
    : "The connection is lost, and trying again did not help. Pick the same files again to go on where it was.";
}
