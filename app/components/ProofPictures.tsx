import { PROOF_SIZE } from "#core/proof/scenes";
import type { Proof } from "#core/proof/prove";

interface ProofPicturesProps {
  /** Of the material and the renderer. */
  of: string;
  proof: Proof;
  /** Hash of its pictures. */
  sheet: string;
}

/** A difference that people see. */
const SEEN = 2;

const number = (value: number) => value.toFixed(1);

/** A delivery beside its material, as the renderer sees it, under the light and on the shape where they differ most. */
export function ProofPictures({ of, proof, sheet }: ProofPicturesProps) {
  const { scenes, worst, causes } = proof;
  const { name, mean, p95, most, at } = scenes[worst];
  return (
    <div className="proof">
      <Strip
        of={of}
        sheet={sheet}
        row={worst}
        scene={name}
        rows={scenes.length}
        at={most < SEEN ? undefined : at}
      />
      <ul className="proof-columns" aria-hidden="true">
        <li>material</li>
        <li>delivered</li>
        <li>difference</li>
      </ul>
      <p>
        {name}: ΔE <strong className="number">{number(mean)}</strong> on the whole,{" "}
        <span className="number">{number(p95)}</span> for 95 of 100 pixels,{" "}
        <span className="number">{number(most)}</span> at most.{" "}
        {causes.length === 0 && <span className="mark known">looks as it should</span>}
      </p>
      {causes.length > 0 && (
        <div className="notes look">
          <h3>Look at this</h3>
          <ul>
            {causes.map((cause) => (
              <li key={cause}>{cause}</li>
            ))}
          </ul>
        </div>
      )}
      <details>
        <summary>Under every light, on both shapes</summary>
        {scenes.map((scene, row) => (
          <figure key={scene.name}>
            <Strip
              of={of}
              sheet={sheet}
              row={row}
              scene={scene.name}
              rows={scenes.length}
              at={scene.most < SEEN ? undefined : scene.at}
            />
            <figcaption>
              {scene.name}: ΔE <span className="number">{number(scene.mean)}</span>, at most{" "}
              <span className="number">{number(scene.most)}</span>
            </figcaption>
          </figure>
        ))}
      </details>
    </div>
  );
}

interface StripProps {
  of: string;
  sheet: string;
  scene: string;
  row: number;
  rows: number;
  /** Where they differ most, as shares; nothing where nobody sees a difference. */
  at: { x: number; y: number } | undefined;
}

/** One row of the sheet: material, delivery, difference. */
function Strip({ of, sheet, scene, row, rows, at }: StripProps) {
  const { width, height } = PROOF_SIZE;
  return (
    <div className="proof-strip" style={{ aspectRatio: `${width * 3} / ${height}` }}>
      <img
        src={`/files/${sheet}`}
        alt={`${of}: the material, the delivery and their difference; ${scene}`}
        style={{ height: `${rows * 100}%`, top: `${-row * 100}%` }}
        loading="lazy"
      />
      {at && (
        <span
          className="proof-worst"
          style={{ left: `${(100 * (2 + at.x)) / 3}%`, top: `${100 * at.y}%` }}
          title="They differ most here"
        />
      )}
    </div>
  );
}
