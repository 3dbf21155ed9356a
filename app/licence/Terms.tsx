import { Form as Fields } from "react-bootstrap";
import { PRICES } from "#core/library/licence";
import type { LicenceRow } from "#server/licence/queries";
import { PRICE_WORDS } from "./priceWords";

interface TermsProps {
  projects: { id: string; name: string }[];
  licence?: LicenceRow;
}

/** The fields of a licence: a new one, or one that is there. */
export function Terms({ projects, licence }: TermsProps) {
  return (
    <div className="fields">
      <Fields.Group controlId="name">
        <Fields.Label>What it is called</Fields.Label>
        <Fields.Control name="name" required maxLength={200} defaultValue={licence?.name} />
      </Fields.Group>
      <Fields.Group controlId="price">
        <Fields.Label>Price</Fields.Label>
        <Fields.Select name="price" defaultValue={licence?.price ?? "unknown"}>
          {PRICES.map((price) => (
            <option key={price} value={price}>
              {PRICE_WORDS[price]}
            </option>
          ))}
        </Fields.Select>
      </Fields.Group>
      <Fields.Group controlId="project">
        <Fields.Label>For</Fields.Label>
        <Fields.Select name="project" defaultValue={licence?.project ?? ""}>
          <option value="">every project</option>
          {projects.map(({ id, name }) => (
            <option key={id} value={id}>
              {name} alone
            </option>
          ))}
        </Fields.Select>
      </Fields.Group>
      <Fields.Group controlId="endsOn">
        <Fields.Label>Last day</Fields.Label>
        <Fields.Control name="endsOn" type="date" defaultValue={licence?.endsOn ?? ""} />
        <Fields.Text>empty: for ever</Fields.Text>
      </Fields.Group>
      <Fields.Group controlId="credit">
        <Fields.Label>Whom to name</Fields.Label>
        <Fields.Control name="credit" maxLength={200} defaultValue={licence?.credit ?? ""} />
        <Fields.Text>empty: nobody</Fields.Text>
      </Fields.Group>
    </div>
  );
}
