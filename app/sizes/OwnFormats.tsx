import { useFetcher } from "react-router";
import type { OwnFormat } from "#server/sizing/formats";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { formatWords } from "../gauge/formatFields";
import { useView } from "../view/viewContext";

/** The formats that the studio keeps of its own. */
export function OwnFormats({ formats, mayMake }: { formats: OwnFormat[]; mayMake: boolean }) {
  const { unit } = useView();
  const fetcher = useFetcher<object>();
  if (formats.length === 0) return null;
  return (
    <details className="own-formats">
      <summary>
        The studio’s own formats <span className="number dim">{formats.length}</span>
      </summary>
      <ul>
        {formats.map((format) => (
          <li key={format.id}>
            {formatWords(format, unit)}{" "}
            <span className="dim">
              ({format.kind}, by {format.madeBy})
            </span>{" "}
            {mayMake && (
              <Button
                size="sm"
                variant="link"
                aria-label={`Delete the format ${format.name}`}
                onClick={() => {
                  if (confirm(`Delete the format “${format.name}”? Sizes that were found by it stay.`))
                    void fetcher.submit(
                      { intent: "delete-format", format: format.id },
                      { method: "post", action: "/sizes" },
                    );
                }}
              >
                Delete
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Refusal result={fetcher.data} />
    </details>
  );
}
