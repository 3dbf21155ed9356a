import { useState } from "react";
import { Button } from "./Button";

/** Copies a text, and says that it has. @param what it is, for who hears the button */
export function CopyText({ text, what }: { text: string; what: string }) {
  const [copied, setCopied] = useState<"yes" | "no">();
  return (
    <Button
      size="sm"
      variant="outline-secondary"
      aria-label={`Copy ${what}`}
      onClick={() =>
        navigator.clipboard.writeText(text).then(
          () => setCopied("yes"),
          () => setCopied("no"),
        )
      }
    >
      {copied === "yes" ? "Copied" : copied === "no" ? "Select it and copy it by hand" : "Copy"}
    </Button>
  );
}
