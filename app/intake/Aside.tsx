import { useState } from "react";
import { Form } from "react-router";
import type { IgnoredFile } from "#core/candidates/candidate";
import { Button } from "../components/Button";
import { InlineNumber } from "../components/InlineNumber";

const KINDS: Record<IgnoredFile["kind"], string> = {
  "set-aside": "Set aside",
  "passed-over": "Passed over",
  "left-aside": "Left aside",
  text: "Texts",
  model: "Geometry",
};

const FIRST = 30;

/** Limits that suit most files; more is offered where these were not enough. */
const USUAL = { seconds: 120, mebibytes: 4096 };

interface AsideProps {
  ignored: IgnoredFile[];
  mayMake: boolean;
  /** Of the intake, for one file. */
  limits: { seconds: number; mebibytes: number };
}

/** The files that are in no candidate, by why; what could not be read can be tried again with more patience. */
export function Aside({ ignored, mayMake, limits }: AsideProps) {
  const kinds = (Object.keys(KINDS) as IgnoredFile["kind"][]).filter((kind) =>
    ignored.some((file) => file.kind === kind),
  );
  const again = ignored.filter(({ kind, sha256 }) => kind === "set-aside" && sha256).length;
  return (
    <section aria-labelledby="aside">
      <h2 id="aside">In none of them</h2>
      {kinds.map((kind) => (
        <AsideTable key={kind} title={KINDS[kind]} files={ignored.filter((file) => file.kind === kind)} />
      ))}
      {mayMake && again > 0 && (
        <Form method="post" className="inline-choice">
          <Button type="submit" name="again" value="set-aside" size="sm" variant="outline-secondary">
            Try the {again === 1 ? "file" : `${again} files`} set aside again
          </Button>{" "}
          <InlineNumber
            before="with up to"
            after="s"
            name="itemSeconds"
            min={1}
            max={3600}
            defaultValue={Math.min(3600, Math.max(USUAL.seconds, limits.seconds * 4))}
          />{" "}
          <InlineNumber
            before="and"
            after="MiB each"
            name="itemMib"
            min={16}
            max={65536}
            defaultValue={Math.min(65536, Math.max(USUAL.mebibytes, limits.mebibytes * 2))}
          />
        </Form>
      )}
    </section>
  );
}

function AsideTable({ title, files }: { title: string; files: IgnoredFile[] }) {
  const [all, setAll] = useState(false);
  return (
    <>
      <h3>
        {title} <span className="number dim">{files.length}</span>
      </h3>
      <table className="ledger tight">
        <thead>
          <tr>
            <th scope="col">File</th>
            <th scope="col">Why</th>
          </tr>
        </thead>
        <tbody>
          {(all ? files : files.slice(0, FIRST)).map(({ file, reason }, at) => (
            <tr key={at}>
              <td className="file">{file}</td>
              <td>{reason}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {!all && files.length > FIRST && (
        <button type="button" className="plain-button" onClick={() => setAll(true)}>
          Show the other {files.length - FIRST}
        </button>
      )}
    </>
  );
}
