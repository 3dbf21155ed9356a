import { useFetcher } from "react-router";
import { Button } from "./Button";
import { Refusal } from "./Refusal";

interface ActLinkProps {
  /** Where it is done. */
  to: string;
  fields: Record<string, string>;
  title?: string;
  children: string;
}

/** One act, no larger than a link, with what it is refused for. It is no form of its own, so that it may stand within one. */
export function ActLink({ to, fields, title, children }: ActLinkProps) {
  const fetcher = useFetcher<object>();
  return (
    <>
      <Button
        variant="link"
        size="sm"
        title={title}
        disabled={fetcher.state !== "idle"}
        onClick={() => void fetcher.submit(fields, { method: "post", action: to })}
      >
        {children}
      </Button>
      <Refusal result={fetcher.data} />
    </>
  );
}
