import { useState } from "react";
import { useFetcher } from "react-router";
import { Button } from "../components/Button";
import type { loader } from "../routes/sizesSure";
import type { Take } from "./takes";

interface SureOfAllProps {
  /** What the sheet shows, as its address says it. */
  sheet: string;
  total: number;
  onTake(takes: Take[]): void;
}

/** The sure sizes of all pages: looked for first, and counted, before they are taken in one act. */
export function SureOfAll({ sheet, total, onTake }: SureOfAllProps) {
  const { load, data, state } = useFetcher<typeof loader>();
  const [taken, setTaken] = useState<typeof data>();
  const look = (
    <Button
      size="sm"
      variant="link"
      disabled={state !== "idle"}
      onClick={() => void load(`/sizes/sure${sheet}`)}
    >
      {state === "idle" ? `Look through all ${total}` : `Looking through all ${total} …`}
    </Button>
  );
  if (!data) return look;
  const { takes, looked, counting } = data;
  return (
    <>
      <span role="status">
        {takes.length === 0 ? "None is sure" : `${takes.length} ${takes.length === 1 ? "is" : "are"} sure`} of{" "}
        {looked < data.total ? `the first ${looked} of ${data.total}` : data.total}
        {counting > 0 && `; ${counting} are still being counted`}.
      </span>{" "}
      {takes.length > 0 && taken !== data && (
        <Button
          size="sm"
          onClick={() => {
            setTaken(data);
            onTake(takes.map(({ material, seen, method }) => ({ material, seen, method })));
          }}
        >
          Take all {takes.length}
        </Button>
      )}{" "}
      {look}
    </>
  );
}
