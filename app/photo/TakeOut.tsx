import { Trash } from "react-bootstrap-icons";
import { Button } from "../components/Button";

/** Takes one point, edge or patch out of a region. */
export function TakeOut({ what, onClick }: { what: string; onClick(): void }) {
  return (
    <Button size="sm" variant="link" aria-label={`Take ${what} out`} onClick={onClick}>
      <Trash aria-hidden="true" />
    </Button>
  );
}
