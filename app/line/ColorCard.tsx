import { Link } from "react-router";

/** One colour of a list as it is shown before anything is made. */
export interface CardColor {
  row: number;
  code: string;
  name: string;
  hex: string;
  gloss: number | null;
  sheen: string | null;
  outsideBy: number;
  is: "new" | "changed" | "same" | "kept";
  material: string | null;
  now: string | null;
  said: string;
}

const TITLES = { changed: "Would change", kept: "Stay as changed here", new: "New", same: "There as listed" };

/** The colours of a list, or the first of them, side by side, by what would become of them; one that changes shows both, what it has on the left. */
export function ColorCard({
  colors,
  counts,
}: {
  colors: CardColor[];
  counts: Record<CardColor["is"], number>;
}) {
  return (Object.keys(TITLES) as (keyof typeof TITLES)[]).map((kind) => {
    const some = colors.filter(({ is }) => is === kind);
    if (some.length === 0) return null;
    return (
      <section key={kind}>
        <h2>
          {TITLES[kind]}
          {some.length < counts[kind] && ` (the first ${some.length} of ${counts[kind]})`}
        </h2>
        <ul className="color-card">
          {some.map((color) => (
            <li key={color.row} title={color.said || undefined}>
              <span className="swatch" style={{ background: faceOf(color) }} />
              <span className="color-name" title={color.name}>
                {color.material ? <Link to={`/materials/${color.material}`}>{color.name}</Link> : color.name}
              </span>
              <span className="tag-code">
                {color.code}
                {color.gloss !== null && ` · ${color.sheen ?? `${color.gloss} GU`}`}
              </span>
              {color.outsideBy > 0 && (
                <span className="mark look">nearest, ΔE {color.outsideBy.toFixed(1)}</span>
              )}
              {color.said && <span className="color-said">{color.said}</span>}
            </li>
          ))}
        </ul>
      </section>
    );
  });
}

const faceOf = ({ hex, now }: CardColor) =>
  now !== null && now !== hex ? `linear-gradient(115deg, ${now} 50%, ${hex} 50%)` : hex;
