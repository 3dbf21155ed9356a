import type { LoudSpot } from "#core/judge/repetition";
import { DIRECTION_WORDS, SEAM_LOOK, type SeamReading } from "#core/judge/seams";
import { DIRECTIONS } from "#core/raster/directions";

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
  const bad = seams ? DIRECTIONS.filter((direction) => seams[direction].broken >= SEAM_LOOK) : [];
  const words =
    bad.length > 0
      ? `it does not seem to continue from ${bad.map((direction) => DIRECTION_WORDS[direction]).join(" and from ")}`
      : "no seam shows";
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
        bad.flatMap((direction) =>
          [0, 1].map((line) => {
            const worstAt = inTile(seams[direction].worstAt);
            const [left, top] = direction === "across" ? [inTile(line), worstAt] : [worstAt, inTile(line)];
            return (
              <span
                key={`${direction} ${line}`}
                className="seam-mark"
                style={{ left: `${left}%`, top: `${top}%` }}
              />
            );
          }),
        )}
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
