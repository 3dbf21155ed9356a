import type { SoughtRow } from "#server/sought/sql";
import { previewUrl } from "../components/previewUrl";

/** The picture that is looked for the like of, as a part of the sentence. */
export function SoughtPicture({ picture }: { picture: SoughtRow | null }) {
  if (!picture) return "a picture that is gone";
  if (picture.state === "reading") return <span role="status">“{picture.name}”, which is being read</span>;
  if (picture.state === "failed")
    return (
      <span className="mark wrong" role="alert">
        “{picture.name}”: {picture.failure}
      </span>
    );
  return (
    <img className="sought" src={previewUrl(picture.sha256, 64)} alt={picture.name} title={picture.name} />
  );
}
