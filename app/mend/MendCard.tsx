import { Link } from "react-router";
import { mendWords } from "#core/mend/recipe";
import type { OpenMend } from "#server/mending/many";
import { Outcome } from "../components/Mends";
import { closePreviewUrl } from "../components/previewUrl";
import { SeamSample } from "../components/SeamSample";

interface MendCardProps {
  mend: OpenMend;
  isChosen: boolean;
  mayMake: boolean;
  onToggle(): void;
}

/** Somebody has saved the material since: what was mended is not of what it is now. */
export const isOutdated = ({ fromRevision, material }: OpenMend) => fromRevision !== material.revision;

/** One material that is mended: tiled as it is, and beside it as it would be. */
export function MendCard({ mend, isChosen, mayMake, onToggle }: MendCardProps) {
  const { material, recipe, failure, before, after, figures } = mend;
  const waits = after !== null && failure === null;
  return (
    <li className="mend-card">
      <div className="then-and-now">
        <Tiled picture={before} words="as it is" />
        {waits && <Tiled picture={after} words="mended" />}
      </div>
      <p>
        {waits && mayMake && (
          <input
            type="checkbox"
            checked={isChosen}
            onChange={onToggle}
            aria-label={`Keep what was mended of ${material.name}`}
          />
        )}{" "}
        <Link to={`/materials/${material.id}/judge`} className="tall-link">
          {material.name}
        </Link>{" "}
        <span className="dim">
          {mendWords(recipe)}
          {figures && <Outcome recipe={recipe} figures={figures} />}
        </span>
        {waits && isOutdated(mend) && (
          <span className="mark look">it was saved meanwhile: discard this, and mend it again</span>
        )}
        {failure !== null && <span className="mark wrong"> not done: {failure}</span>}
        {!waits && failure === null && <span className="dim">, under way …</span>}
      </p>
    </li>
  );
}

function Tiled({ picture, words }: { picture: OpenMend["before"]; words: string }) {
  if (!picture) return null;
  return (
    <figure>
      <SeamSample
        url={closePreviewUrl({ ...picture, channel: "color" })}
        tiled
        {...picture}
        seams={picture.seams ?? undefined}
      />
      <figcaption>{words}</figcaption>
    </figure>
  );
}
