import { Form as Fields } from "react-bootstrap";
import { Form, Link } from "react-router";
import type { KeptDestination } from "#server/delivery/kept";
import { Button } from "../components/Button";

/** Which destinations a project keeps up to date by itself, of those that it was delivered to. */
export function KeptDestinations({
  destinations,
  mayMake,
}: {
  destinations: KeptDestination[];
  mayMake: boolean;
}) {
  if (destinations.length === 0) return null;
  const failures = destinations.filter(({ failure }) => failure !== null);
  return (
    <section className="plan" aria-labelledby="kept">
      <h2 id="kept">Kept up to date by itself</h2>
      <p className="dim">
        Whenever the project moves on, or the profile of a renderer changes, what was delivered here is
        delivered again.
      </p>
      <Form
        method="post"
        preventScrollReset
        className="row-form"
        key={destinations.map(({ id, isKept }) => `${id}${isKept}`).join()}
      >
        <input type="hidden" name="intent" value="keep-destinations" />
        {destinations.map(({ id, name, isKept }) => (
          <Fields.Check
            key={id}
            inline
            type="checkbox"
            id={`kept-${id}`}
            name="destination"
            value={id}
            label={name}
            defaultChecked={isKept}
            disabled={!mayMake}
          />
        ))}
        {mayMake && (
          <Button type="submit" size="sm" variant="outline-secondary">
            Save
          </Button>
        )}
      </Form>
      {failures.map(({ id, name, failure }) => (
        <p key={id} className="mark look">
          <Link to={`/destinations/${id}`}>{name}</Link> could not be delivered to: {failure}
        </p>
      ))}
    </section>
  );
}
