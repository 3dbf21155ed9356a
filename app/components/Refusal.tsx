import { Alert } from "react-bootstrap";
import { refusalOf } from "../refusal";

/** Why an action was not done, if it was not. */
export function Refusal({ result }: { result: unknown }) {
  const refused = refusalOf(result);
  return refused ? (
    <Alert variant="danger" className="refusal">
      {refused.detail}
    </Alert>
  ) : null;
}
