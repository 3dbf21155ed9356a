import { useMemo, useState } from "react";
import { Link } from "react-router";
import type { Asked } from "#server/change/asked";
import { ChangeStatus } from "../change/ChangeStatus";
import { PlanWords } from "../change/PlanWords";
import { usePlanned } from "../change/usePlanned";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { Swatch } from "./Swatch";

/** A member of a line as it is chosen. */
export interface Chosen {
  id: string;
  name: string;
  productCode: string | null;
  color: string | null;
  preview: string | null;
  projects: string[];
  collections: string[];
}

interface SwapVariantProps {
  chosen: Chosen;
  others: Chosen[];
  mayMake: boolean;
  onClose(): void;
}

/** One variant, where it is used, and another one that may take its places; what that would do stands there first. */
export function SwapVariant({ chosen, others, mayMake, onClose }: SwapVariantProps) {
  const [to, setTo] = useState("");
  const asked = useMemo(
    (): Asked | undefined => (to ? { kind: "swap", materials: [chosen.id], to } : undefined),
    [chosen.id, to],
  );
  const { plan, answer, isWorkedOut, start, started, starting } = usePlanned(asked);
  const other = others.find(({ id }) => id === to);
  const isUsed = chosen.projects.length + chosen.collections.length > 0;
  return (
    <section className="swap" aria-label={chosen.name}>
      <Swatch {...chosen} />
      <div>
        <p>
          <Link className="tall-link" to={`/materials/${chosen.id}`}>
            {chosen.name}
          </Link>{" "}
          <span className="tag-code">{chosen.productCode}</span>
        </p>
        <p className="dim">
          {isUsed
            ? `In ${[...chosen.projects.map((name) => `the project ${name}`), ...chosen.collections.map((name) => `the collection ${name}`)].join(", ")}.`
            : "In no project and no collection."}
        </p>
        {started ? (
          <ChangeStatus id={started} />
        ) : (
          mayMake && (
            <form
              onSubmit={(event) => {
                event.preventDefault();
                start();
              }}
            >
              <label>
                Swap it for{" "}
                <select value={to} disabled={!isUsed} onChange={(event) => setTo(event.target.value)}>
                  <option value="">another variant…</option>
                  {others.map(({ id, name, productCode }) => (
                    <option key={id} value={id}>
                      {name}
                      {productCode && ` (${productCode})`}
                    </option>
                  ))}
                </select>
              </label>{" "}
              {other && <Swatch {...other} />}{" "}
              <Button
                type="submit"
                size="sm"
                disabled={!plan || starting.state !== "idle"}
                title={plan ? undefined : "Choose first what takes its places."}
              >
                Swap everywhere
              </Button>
              {plan && <PlanWords {...plan} />}
              {asked && !isWorkedOut && <p role="status">Working out what it would do…</p>}
              <Refusal result={answer} />
              <Refusal result={starting.data} />
            </form>
          )
        )}
      </div>
      <Button size="sm" variant="link" onClick={onClose}>
        Close
      </Button>
    </section>
  );
}
