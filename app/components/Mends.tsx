import { isMaking, mendWords } from "#core/mend/recipe";
import type { MendFigures, MendRow } from "#server/mending/queries";

const isOver = ({ toRevision, failure }: MendRow) => toRevision !== null || failure !== null;

export const isRunning = (mend: MendRow) => !isOver(mend) && !mend.proposal;
/** It is done, and waits to be kept or discarded. */
export const isWaiting = (mend: MendRow) => !isOver(mend) && mend.proposal !== null;

/** What was mended or made, with the figures before and after. */
export function Mends({ mends }: { mends: MendRow[] }) {
  if (mends.length === 0) return null;
  return (
    <ul className="mends" aria-live="polite">
      {mends.slice(0, 5).map((mend) => (
        <li key={mend.id}>
          {mendWords(mend.recipe)}
          {mend.failure && (
            <>
              {" "}
              <span className="mark wrong">not done: {mend.failure}</span>
            </>
          )}
          {isRunning(mend) && "…"}
          {isWaiting(mend) && ": to be kept or discarded"}
          {mend.figures && mend.toRevision && (
            <>
              {" "}
              (revision {mend.fromRevision} to {mend.toRevision})
              <Outcome recipe={mend.recipe} figures={mend.figures} />
            </>
          )}
        </li>
      ))}
    </ul>
  );
}

/** What a mend changed, in figures. */
export function Outcome({ recipe, figures }: { recipe: MendRow["recipe"]; figures: MendFigures }) {
  const { before, after, overlap, modules } = figures;
  const counted = [modules?.across, modules?.down].filter((one) => one !== undefined);
  return (
    <>
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
