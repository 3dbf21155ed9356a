import { Link } from "react-router";
import { useBench } from "../view/useBench";

/** Named one by one. */
const NAMED = 3;

/** Who has a material, beside the button that saves a change of it: nobody gets it unasked. */
export function Reached() {
  const { material, holders, deliveries, siblings } = useBench();
  if (holders.length === 0 && deliveries === 0) return null;
  const names = holders.slice(0, NAMED).map(({ name }) => name);
  const more = holders.length - names.length;
  return (
    <p className="aside reached">
      {holders.length > 0 && (
        <>
          {names.join(", ")}
          {more > 0 && ` and ${more} more`} {holders.length === 1 ? "keeps" : "keep"} what{" "}
          {holders.length === 1 ? "it has" : "they have"} until moved on.{" "}
        </>
      )}
      {deliveries > 0 &&
        `${deliveries === 1 ? "One delivery has" : `${deliveries} deliveries have`} it as it was. `}
      {siblings.length > 0 &&
        (siblings.length === 1
          ? "The other one of its line stays as it is. "
          : `${siblings.length} others of its line stay as they are. `)}
      <Link to={`/materials/${material.id}/uses`}>Then and now</Link>
    </p>
  );
}
