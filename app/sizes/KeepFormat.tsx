import { useState } from "react";
import { useFetcher } from "react-router";
import type { Family } from "#core/finish/family";
import { FORMAT_KINDS } from "#core/gauge/formats";
import type { Module } from "#core/gauge/layModule";
import { kindsOf } from "#core/gauge/proposeSizes";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { refusalOf } from "../refusal";

/** Keeps a module that was typed as a format of the studio's own. */
export function KeepFormat({ module, family }: { module: Module; family: Family | null }) {
  const fetcher = useFetcher<object>();
  const [isOpen, setOpen] = useState(false);
  if (fetcher.data && !refusalOf(fetcher.data)) return <span role="status"> Kept as a format.</span>;
  if (!isOpen)
    return (
      <button type="button" className="btn btn-link btn-sm" onClick={() => setOpen(true)}>
        Keep as a format
      </button>
    );
  return (
    <fetcher.Form method="post" className="keep-format">
      <input type="hidden" name="intent" value="keep-format" />
      <input type="hidden" name="module" value={JSON.stringify(module)} />
      <input
        name="name"
        required
        maxLength={200}
        aria-label="Name of the format"
        placeholder="its name"
        autoFocus
      />
      <select name="kind" aria-label="Kind of the format" defaultValue={kindsOf({ family, words: [] })[0]}>
        {FORMAT_KINDS.map((kind) => (
          <option key={kind}>{kind}</option>
        ))}
      </select>
      <Button size="sm" type="submit">
        Save
      </Button>
      <Refusal result={fetcher.data} />
    </fetcher.Form>
  );
}
