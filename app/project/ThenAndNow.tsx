/** Small enough for a list, large enough to see what changed. */
const PICTURE = { width: 224, height: 140 };

interface ThenAndNowProps {
  material: { id: string; name: string };
  then: number;
  now: number;
  /** Whose newest picture stands beside it, where that is another material. */
  other?: { id: string; name: string } | null;
}

/** A material as somebody took it, and as it is now, under one light. */
export function ThenAndNow({ material, then, now, other }: ThenAndNowProps) {
  const picture = (
    { id, name }: { id: string; name: string },
    revision: number | undefined,
    words: string,
  ) => (
    <figure>
      <img
        {...PICTURE}
        loading="lazy"
        alt={revision === undefined ? `${name}, newest` : `${name}, revision ${revision}`}
        src={`/api/v1/materials/${id}/picture?width=${PICTURE.width}&height=${PICTURE.height}${
          revision === undefined ? "" : `&revision=${revision}`
        }`}
      />
      <figcaption>{words}</figcaption>
    </figure>
  );
  return (
    <div className="then-and-now">
      {picture(material, then, `taken: revision ${then}`)}
      {other
        ? picture(other, undefined, `merged into ${other.name}`)
        : picture(material, now, `now: revision ${now}`)}
    </div>
  );
}
