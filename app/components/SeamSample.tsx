import type { LoudSpot } from "#core/judge/repetition";
import { EDGES, SEAM_LOOK, type SeamReading } from "#core/judge/seams";

interface SeamSampleProps {
  url: string;
  /** Three by three, shifted by half, so that the edges meet in the middle. */
  tiled: boolean;
  seams?: SeamReading;
  spots?: LoudSpot[];
  width: number;
  height: number;
}

/** A picture, or its tiling with the worst place of each bad edge and the loud spots marked. */
export function SeamSample({ url, tiled, seams, spots = [], width, height }: SeamSampleProps) {
  if (!tiled) return <img src={url} alt="" loading="lazy" />;
  const ratio = width / height;
  const bad = seams ? EDGES.filter((edge) => seams[edge].score >= SEAM_LOOK) : [];
  const words = bad.length > 0 ? `seams show at its ${bad.join(", ")} edge` : "no seam shows";
  // One tile is a third of the view; its edges meet at a sixth, a half and five sixths of it.
  const inTile = (share: number) => ((0.5 + share) / 3) * 100;
  return (
    <div
      className="seam-sample"
      role="img"
      aria-label={`Tiled three by three: ${words}`}
      style={{ aspectRatio: ratio, backgroundImage: `url("${url}")` }}
    >
      {seams &&
        bad.map((edge) => {
          const { worstAt } = seams[edge];
          const upright = edge === "left" || edge === "right";
          const line = edge === "left" || edge === "top" ? 0 : 1;
          return (
            <span
              key={edge}
              className="seam-mark"
              style={{
                left: `${inTile(upright ? line : worstAt)}%`,
                top: `${inTile(upright ? worstAt : line)}%`,
              }}
            />
          );
        })}
      {spots.map(({ x, y }) => (
        <span
          key={`${x} ${y}`}
          className="spot-mark"
          style={{ left: `${inTile(x)}%`, top: `${inTile(y)}%` }}
        />
      ))}
    </div>
  );
}
