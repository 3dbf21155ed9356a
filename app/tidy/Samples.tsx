import { Link } from "react-router";
import type { ShownMaterial } from "#server/tidy/queries";
import { Swatch } from "../line/Swatch";

/** Materials as small pictures that open them. */
export function Samples({ of }: { of: ShownMaterial[] }) {
  return (
    <span className="tidy-samples">
      {of.map((material) => (
        <Link key={material.id} to={`/materials/${material.id}`} title={`${material.name}, ${material.code}`}>
          <Swatch {...material} />
          <span className="visually-hidden">{material.name}</span>
        </Link>
      ))}
    </span>
  );
}
