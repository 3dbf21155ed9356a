import { Form, Link } from "react-router";

interface ChipProps {
  to: string;
  name: string;
  count?: number;
  /** What the cross sends, and what it is called; without it there is no cross. */
  remove?: { label: string; fields: Record<string, string> };
}

/** Something that belongs to what is shown, with a cross to take it off. */
export function Chip({ to, name, count, remove }: ChipProps) {
  return (
    <Form method="post" className="chip">
      <Link to={to}>{name}</Link>
      {count !== undefined && <span className="number dim"> {count}</span>}
      {remove && (
        <>
          {Object.entries(remove.fields).map(([field, value]) => (
            <input key={field} type="hidden" name={field} value={value} />
          ))}
          <button type="submit" aria-label={remove.label}>
            ×
          </button>
        </>
      )}
    </Form>
  );
}
