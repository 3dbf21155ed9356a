import { useEffect } from "react";
import { Form as Fields } from "react-bootstrap";
import { useFetcher } from "react-router";
import type { Light } from "#core/picture/condition";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import type { OfferedCondition } from "./light";

interface KeepConditionProps {
  /** The studio's own that is looked under now. */
  chosen: OfferedCondition | undefined;
  light: Light;
  onKept(id: string): void;
}

/** Keeps the light under a name, for everybody in the studio. */
export function KeepCondition({ chosen, light, onKept }: KeepConditionProps) {
  const fetcher = useFetcher<{ kept?: string; gone?: string }>();
  const { data } = fetcher;
  useEffect(() => {
    if (data?.kept) onKept(data.kept);
    if (data?.gone) onKept("studio");
    // eslint-disable-next-line react-hooks/exhaustive-deps -- when an answer comes
  }, [data]);
  const busy = fetcher.state !== "idle";
  return (
    <fetcher.Form method="post" className="keep-condition" aria-label="Keep this light">
      <input type="hidden" name="light" value={JSON.stringify(light)} />
      {chosen && <input type="hidden" name="id" value={chosen.id} />}
      <label>
        Name
        <Fields.Control
          size="sm"
          name="name"
          defaultValue={chosen?.name ?? ""}
          placeholder="North window"
          maxLength={80}
          required
        />
      </label>
      {chosen ? (
        <>
          <Button type="submit" size="sm" name="intent" value="change-condition" disabled={busy}>
            Save
          </Button>
          <Button
            type="submit"
            size="sm"
            variant="outline-danger"
            name="intent"
            value="delete-condition"
            disabled={busy}
          >
            Delete
          </Button>
        </>
      ) : (
        <Button type="submit" size="sm" name="intent" value="create-condition" disabled={busy}>
          Create condition
        </Button>
      )}
      <Refusal result={data} />
    </fetcher.Form>
  );
}
