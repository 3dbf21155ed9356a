import type { ReactNode, Ref } from "react";
import { Link } from "react-router";
import { missingOf } from "#core/finish/material";
import { formatSize } from "#core/length/formatLength";
import type { Sample } from "#server/material/samples";
import { useView } from "../view/viewContext";
import { previewUrl } from "./previewUrl";

interface SamplePatchProps {
  sample: Sample;
  /** Side of the patch in pixels of the screen. */
  side: number;
  selected?: boolean;
  onToggle?(): void;
  /** Said on the tag: the revision that a project took, for instance. */
  remark?: ReactNode;
  /** Something to do with it, at the end of its tag. */
  act?: ReactNode;
  /** Which it is of how many, on a wall that is drawn in part. */
  place?: { at: number; of: number };
  /** The first of its row, by which the row is measured. */
  measured?: { row: number; by: Ref<HTMLLIElement> };
}

/**
 * A flat patch of a material at the drawing scale, with a tag under it. Without a known repeat it cannot be drawn to
 * scale: it lies on a hatched ground and says so; an assumed size is drawn and marked.
 */
export function SamplePatch(props: SamplePatchProps) {
  const { sample, side, selected = false, onToggle, remark, act, place, measured } = props;
  const { unit } = useView();
  const missing = missingOf({ ...sample, maps: sample.roles.map((role) => ({ role })) }).filter(
    (what) => what !== "size",
  );
  return (
    <li
      className={`sample${selected ? " selected" : ""}`}
      aria-posinset={place?.at}
      aria-setsize={place?.of}
      data-index={measured?.row}
      ref={measured?.by}
    >
      <Link
        to={`/materials/${sample.id}`}
        className="patch"
        style={{ width: side, height: side }}
        aria-label={`Open ${sample.name}`}
      >
        <Patch sample={sample} side={side} />
      </Link>
      <div className="tag" style={{ maxWidth: side }}>
        {onToggle && (
          <input
            type="checkbox"
            checked={selected}
            onChange={onToggle}
            aria-label={`Select ${sample.name}`}
          />
        )}
        <span className="tag-name" title={sample.name}>
          {sample.name}
        </span>
        <span className="tag-code">{sample.code}</span>
        {sample.repeat || sample.layout === "plain" ? (
          <span className="tag-size">
            {sample.repeat ? formatSize(sample.repeat, unit) : "plain colour"}
            <LightValue of={sample} />
          </span>
        ) : (
          <span className="tag-size">
            <span className="mark look">size unknown</span>
            <LightValue of={sample} />
          </span>
        )}
        {sample.kind === "wear" && <span className="tag-remark">wear layer</span>}
        {sample.sizeState === "assumed" && <span className="mark look">assumed</span>}
        {missing.length > 0 && <span className="mark look">{missing.join(", ")} missing</span>}
        {remark && <span className="tag-remark">{remark}</span>}
        {act}
      </div>
    </li>
  );
}

/** What architects weigh the contrast of two surfaces by. */
function LightValue({ of: { lightReflectance } }: { of: Sample }) {
  if (lightReflectance === null) return null;
  return (
    <span className="tag-light" title="Light reflectance value: Y of the mean colour under D65, in percent">
      LRV {Math.round(lightReflectance)}
    </span>
  );
}

function Patch({ sample, side }: { sample: Sample; side: number }) {
  const { pxPerMm } = useView();
  if (sample.layout === "plain")
    return <span className="face" style={{ background: sample.color ?? "#888888" }} />;
  if (!sample.preview) return <span className="face hatched">no base color</span>;
  if (!sample.repeat)
    return (
      <span className="face hatched">
        <img src={previewUrl(sample.preview, 256)} alt="" loading="lazy" />
        <span className="size-unknown">size unknown</span>
      </span>
    );
  const width = sample.repeat.width * pxPerMm;
  const height = sample.repeat.height * pxPerMm;
  const pixelRatio = typeof devicePixelRatio === "number" ? devicePixelRatio : 1;
  return (
    <>
      <span
        className="face"
        style={{
          backgroundImage: `url(${previewUrl(sample.preview, Math.max(width, height) * pixelRatio)})`,
          backgroundSize: `${width}px ${height}px`,
        }}
      />
      {/* The repeat's own corner, where it lies inside the patch. */}
      {width < side && height < side && <span className="repeat-corner" style={{ width, height }} />}
      {sample.sizeState === "assumed" && <span className="assumed-edge" />}
    </>
  );
}
