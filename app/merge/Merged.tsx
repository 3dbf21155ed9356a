import { Link } from "react-router";
import { ActLink } from "../components/ActLink";
import { previewUrl } from "../components/previewUrl";
import { moment } from "../view/moment";

interface MergedProps {
  merges: {
    id: string;
    kept: { id: string; name: string; preview: string | null };
    lost: { id: string; name: string; code: string; preview: string | null };
    by: string;
    at: Date;
  }[];
  mayMake: boolean;
}

/** What was merged, with a way to make two of each again. */
export function Merged({ merges, mayMake }: MergedProps) {
  if (merges.length === 0) return null;
  return (
    <ul className="done-list" aria-label="What was merged">
      {merges.map(({ id, kept, lost, by, at }) => (
        <li key={id}>
          {[lost, kept].map(({ id, preview }) =>
            preview ? (
              <img key={id} className="thumb" src={previewUrl(preview, 64)} alt="" loading="lazy" />
            ) : null,
          )}{" "}
          <Link to={`/materials/${lost.id}`}>
            {lost.code} {lost.name}
          </Link>{" "}
          was merged into <Link to={`/materials/${kept.id}`}>{kept.name}</Link>, by {by}, {moment(at)}{" "}
          {mayMake && (
            <ActLink to="/merge" fields={{ intent: "undo", merge: id }}>
              Undo
            </ActLink>
          )}
        </li>
      ))}
    </ul>
  );
}
