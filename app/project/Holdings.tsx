import { Form, Link } from "react-router";
import type { Holding } from "#server/project/queries";
import { Button } from "../components/Button";
import { ThenAndNow } from "./ThenAndNow";

interface HoldingsProps {
  material: { id: string; name: string };
  holdings: Holding[];
  mayMake: boolean;
  busy: boolean;
}

/** The projects that have a material: what each took, what a saved change would bring it, and the way there and back. */
export function Holdings({ material, holdings, mayMake, busy }: HoldingsProps) {
  const behind = holdings.filter(({ taken, newest }) => taken < newest);
  return (
    <section aria-label="Projects">
      {mayMake && behind.length > 1 && (
        <Form method="post" className="acts">
          <input type="hidden" name="intent" value="move-on" />
          {behind.map(({ id }) => (
            <input key={id} type="hidden" name="project" value={id} />
          ))}
          <Button type="submit" size="sm" variant="outline-secondary" disabled={busy}>
            Move all {behind.length} projects on
          </Button>
        </Form>
      )}
      <ul className="newer-list">
        {holdings.map(({ id, name, number, taken, newest, before, deliveries }) => (
          <li key={id}>
            {taken < newest && <ThenAndNow material={material} then={taken} now={newest} />}
            <p>
              {number && <span className="number dim">{number} </span>}
              <Link to={`/projects/${id}`}>{name}</Link>{" "}
              <span className="dim">
                {taken < newest ? `has revision ${taken}` : "has the newest revision"}
                {deliveries > 0 && `, in ${deliveries === 1 ? "one delivery" : `${deliveries} deliveries`}`}
              </span>
            </p>
            {mayMake && taken < newest && (
              <Form method="post">
                <input type="hidden" name="intent" value="move-on" />
                <input type="hidden" name="project" value={id} />
                <Button type="submit" size="sm" variant="outline-secondary" disabled={busy}>
                  Move on<span className="visually-hidden"> {name}</span>
                </Button>
              </Form>
            )}
            {mayMake && taken === newest && before !== null && before !== taken && (
              <Form method="post">
                <input type="hidden" name="intent" value="move-back" />
                <input type="hidden" name="project" value={id} />
                <Button type="submit" size="sm" variant="link" disabled={busy}>
                  Go back to revision {before}
                  <span className="visually-hidden"> in {name}</span>
                </Button>
              </Form>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
