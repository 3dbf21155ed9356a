import { Link } from "react-router";
import type { FlatteningRow } from "#server/flattening/queries";
import { Progress } from "../components/Progress";

/** What was taken from this photograph, newest first. */
export function Flattenings({
  flattenings,
  newest,
}: {
  flattenings: FlatteningRow[];
  newest: string | undefined;
}) {
  if (flattenings.length === 0) return null;
  return (
    <ul className="flattenings" aria-label="Taken from this photograph">
      {flattenings.slice(0, 4).map(({ id, recipe, made, failure, share }) => (
        <li key={id} className={id === newest ? "newest" : undefined}>
          {made ? (
            <Link to={`/materials/${made}`}>{recipe.name}</Link>
          ) : failure ? (
            <span className="mark wrong">
              {recipe.name}: {failure}
            </span>
          ) : (
            <Progress label={recipe.name} done={share} total={1} />
          )}
        </li>
      ))}
      {flattenings.length > 4 && <li className="dim">and {flattenings.length - 4} more</li>}
    </ul>
  );
}
