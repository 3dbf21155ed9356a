import { Form } from "react-router";
import { Button } from "./Button";

interface ActButtonProps {
  intent: string;
  /** What the act needs to know besides. */
  fields?: Record<string, string>;
  isMain?: boolean;
  children: string;
}

/** An act of the page that needs nothing but a click. */
export function ActButton({ intent, fields = {}, isMain = false, children }: ActButtonProps) {
  return (
    <Form method="post" preventScrollReset>
      <input type="hidden" name="intent" value={intent} />
      {Object.entries(fields).map(([name, value]) => (
        <input key={name} type="hidden" name={name} value={value} />
      ))}
      <Button type="submit" size="sm" variant={isMain ? "primary" : "outline-secondary"}>
        {children}
      </Button>
    </Form>
  );
}
