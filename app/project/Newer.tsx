import { useState } from "react";
import { Form, Link } from "react-router";
import { Button } from "../components/Button";
import { ThenAndNow } from "./ThenAndNow";

interface NewerProps {
  project: { name: string };
  newer: {
    id: string;
    name: string;
    taken: number;
    newest: number;
    note: string;
    by: string;
    mergedInto: { id: string; name: string } | null;
  }[];
  /** All of them, by id; more than are shown, perhaps. */
  total: string[];
  /** What it moved on with, and can go back. */
  movedOn: { id: string; name: string; taken: number; before: number }[];
  mayMake: boolean;
}

/** What is newer than a project took, as it was and as it is, to move on with one of them, with all, or with none. */
export function Newer({ project, newer, total, movedOn, mayMake }: NewerProps) {
  const isFew = total.length > 0 && total.length <= OPEN;
  // It opens when something newer comes, and stays open: what one has moved on with is there to go back with.
  const [isOpen, setOpen] = useState(isFew);
  if (isFew && !isOpen) setOpen(true);
  if (total.length === 0 && movedOn.length === 0) return null;
  return (
    <details className="newer-materials" open={isOpen}>
      <summary>
        {total.length > 0 && (
          <span className="mark look">
            {total.length} {total.length === 1 ? "material is" : "materials are"} newer than {project.name}{" "}
            took
          </span>
        )}
        {total.length > 0 && movedOn.length > 0 && ", "}
        {movedOn.length > 0 &&
          `${movedOn.length} moved on since ${movedOn.length === 1 ? "it was" : "they were"} taken`}
      </summary>
      {mayMake && total.length > 1 && (
        <Form method="post" className="acts">
          <input type="hidden" name="intent" value="move-on" />
          {total.map((material) => (
            <input key={material} type="hidden" name="material" value={material} />
          ))}
          <Button type="submit" size="sm" variant="outline-secondary">
            Move on with all {total.length}
          </Button>
        </Form>
      )}
      <ul className="newer-list">
        {newer.map((one) => (
          <li key={one.id}>
            <ThenAndNow material={one} then={one.taken} now={one.newest} other={one.mergedInto} />
            <p>
              <Link to={`/materials/${one.id}/revisions?from=${one.taken}`}>{one.name}</Link>{" "}
              <span className="dim">
                {one.note}, by {one.by}
              </span>
            </p>
            {mayMake && (
              <Form method="post">
                <input type="hidden" name="intent" value="move-on" />
                <input type="hidden" name="material" value={one.id} />
                <Button type="submit" size="sm" variant="outline-secondary">
                  Move on<span className="visually-hidden"> with {one.name}</span>
                </Button>
              </Form>
            )}
          </li>
        ))}
      </ul>
      {total.length > newer.length && <p className="dim">and {total.length - newer.length} more</p>}
      {movedOn.length > 0 && (
        <ul className="done-list" aria-label="Moved on">
          {movedOn.map(({ id, name, taken, before }) => (
            <li key={id}>
              <Link to={`/materials/${id}/revisions?from=${before}`}>{name}</Link>: revision {before} to{" "}
              {taken}
              {mayMake && (
                <Form method="post" className="inline-act">
                  <input type="hidden" name="intent" value="move-back" />
                  <input type="hidden" name="material" value={id} />
                  <Button type="submit" variant="link" size="sm">
                    Go back<span className="visually-hidden"> with {name}</span>
                  </Button>
                </Form>
              )}
            </li>
          ))}
        </ul>
      )}
    </details>
  );
}

/** More than these are shown when somebody asks. */
const OPEN = 6;
