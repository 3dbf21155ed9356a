import { Form as Fields } from "react-bootstrap";
import { Form } from "react-router";
import { Button } from "./Button";

interface MoreProps {
  label: string;
  /** Besides what the fields say. */
  intent: string;
  children: React.ReactNode;
}

/** A form that is seldom needed, on a sheet of its own below its button. */
export function More({ label, intent, children }: MoreProps) {
  return (
    <details className="more">
      <summary className="btn btn-outline-secondary btn-sm">{label}</summary>
      <Form method="post" className="row-form small" aria-label={label}>
        <input type="hidden" name="intent" value={intent} />
        {children}
        <Button type="submit" size="sm">
          Save
        </Button>
      </Form>
    </details>
  );
}

/** The name of something, in such a form. */
export const NameField = ({ name }: { name: string }) => (
  <Fields.Control size="sm" name="name" aria-label="Name" defaultValue={name} required maxLength={200} />
);
