import { Link } from "react-router";
import { fieldSide, HUES, LIGHTS, type HueField } from "#core/library/hueChart";
import { searchParams, type LibrarySearch } from "#core/library/librarySearch";

/** What the search finds, from warm to cool and from light to dark; a field leads to what has its colour. */
export function HueChart({ fields, search }: { fields: HueField[]; search: LibrarySearch }) {
  if (fields.length === 0) return null;
  const most = Math.max(...fields.map(({ materials }) => materials));
  const { sort: _, ...rest } = search;
  return (
    <figure className="hue-chart" aria-label="The colours of what was found">
      <div
        className="hue-fields"
        style={{
          gridTemplateColumns: `1fr 0.6fr repeat(${HUES}, 1fr)`,
          gridTemplateRows: `repeat(${LIGHTS}, 1fr)`,
        }}
      >
        {fields.map(({ hue, row, materials, hex }) => {
          const count = materials === 1 ? "1 material" : `${materials} materials`;
          const side = `${Math.round(fieldSide(materials, most) * 100)}%`;
          return (
            <Link
              key={`${hue} ${row}`}
              to={`/library?${new URLSearchParams(searchParams({ ...rest, color: hex }))}`}
              className="hue-field"
              // The greys stand apart.
              style={{ gridColumn: hue === 0 ? 1 : hue + 2, gridRow: row + 1 }}
              aria-label={`${count} near ${hex}`}
              title={`${count} near ${hex}`}
            >
              <span style={{ background: hex, width: side, height: side }} />
            </Link>
          );
        })}
      </div>
      <figcaption>
        <span>greys</span>
        <span>warm, lighter above</span>
        <span>cool</span>
      </figcaption>
    </figure>
  );
}
