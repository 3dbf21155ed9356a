import { Form } from "react-router";
import type { ToldChange } from "#server/history/history";
import { Button } from "../components/Button";
import { moment } from "../view/moment";

/** What was changed, by whom, the newest first; each change can be put back. */
export function History({ changes, mayMake }: { changes: ToldChange[]; mayMake: boolean }) {
  if (changes.length === 0) return <p className="dim">Nothing was changed since it was first said.</p>;
  return (
    <ul className="fact-history">
      {changes.map(({ id, madeAt, madeBy, fields }) => (
        <li key={id}>
          <span className="number dim">{moment(madeAt)}</span>
          <span>
            {madeBy ?? "by itself"}:{" "}
            {fields.map(({ name, before, after }, at) => (
              <span key={name}>
                {at > 0 && ", "}
                {name} <del>{before}</del> <ins>{after}</ins>
              </span>
            ))}
          </span>
          {mayMake && (
            <Form method="post" preventScrollReset>
              <input type="hidden" name="intent" value="put-back" />
              <input type="hidden" name="change" value={id} />
              <Button
                type="submit"
                size="sm"
                variant="link"
                aria-label={`Put back what was changed ${moment(madeAt)}`}
              >
                Put back
              </Button>
            </Form>
          )}
        </li>
      ))}
    </ul>
  );
}
