import { isMaking, mendWords } from "#core/mend/recipe";
import type { MendRow } from "#server/db/mends";

export const isRunning = ({ toRevision, failure }: MendRow) => toRevision === null && failure === null;

/** What was mended or made, with the figures before and after. */
export function Mends({ mends }: { mends: MendRow[] }) {
  if (mends.length === 0) return null;
  return (
    <ul className="mends" aria-live="polite">
      {mends.slice(0, 5).map((mend) => (
        <li key={mend.id}>
          {mendWords(mend.recipe)}
          {mend.failure && <span className="mark wrong"> not done: {mend.failure}</span>}
          {isRunning(mend) && "…"}
          {mend.figures && mend.toRevision && <Outcome {...mend} figures={mend.figures} />}
        </li>
      ))}
    </ul>
  );
}

function Outcome({
  recipe,
  fromRevision,
  toRevision,
  figures,
}: MendRow & { figures: NonNullable<MendRow["figures"]> }) {
  const { before, after, overlap, modules } = figures;
  const counted = [modules?.across, modules?.down].filter((one) => one !== undefined);
  return (
    <>
      {" "}
      (revision {fromRevision} to {toRevision})
      {!isMaking(recipe) && (
        <>
          :{" "}
          {before.broken !== undefined && after.broken !== undefined && (
            <>
              a seam is likely by{" "}
              <span className="number">
                {Math.round(before.broken * 100)} → {Math.round(after.broken * 100)} %
              </span>
              ,{" "}
            </>
          )}
          gives itself away{" "}
          <span className="number">
            {Math.round(before.giveaway * 100)} → {Math.round(after.giveaway * 100)} %
          </span>
        </>
      )}
      {counted.length > 0 && (
        <>
          , <span className="number">{counted.map(({ modules }) => modules).join(" × ")}</span> repeats of the
          pattern left, each of{" "}
          <span className="number">{counted.map(({ pitch }) => pitch.toFixed(1)).join(" × ")}</span> px
        </>
      )}
      {overlap.across + overlap.down > 0 && `, ${overlap.across} × ${overlap.down} px given up`}
    </>
  );
}
