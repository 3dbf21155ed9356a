import { useState } from "react";
import type { IgnoredFile } from "#core/maps/candidate";

const KINDS: Record<IgnoredFile["kind"], string> = {
  "set-aside": "Set aside",
  "passed-over": "Passed over",
  "left-aside": "Left aside",
  text: "Texts",
  model: "Geometry",
};

const FIRST = 30;

/** The files that are in no candidate, by why. */
export function Aside({ ignored }: { ignored: IgnoredFile[] }) {
  const kinds = (Object.keys(KINDS) as IgnoredFile["kind"][]).filter((kind) =>
    ignored.some((file) => file.kind === kind),
  );
  return (
    <section aria-labelledby="aside">
      <h2 id="aside">In none of them</h2>
      {kinds.map((kind) => (
        <AsideTable key={kind} title={KINDS[kind]} files={ignored.filter((file) => file.kind === kind)} />
      ))}
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
