import { useEffect, useRef } from "react";
import type { PlannedFile } from "#core/convert/materialPlan";
import type { Profile } from "#core/convert/profile";
import type { MaterialState } from "#core/finish/material";
import { Notes } from "../components/Notes";
import type { MadeImage } from "./profileWorker";
import { useProfileSample } from "./useProfileSample";

/** What a profile makes of a sample material: each image as it will be, the values beside them, and what is left to do. */
export function ProfileSampleView({ profile, material }: { profile: Profile; material: MaterialState }) {
  const { plan, images, missing } = useProfileSample(profile, material);
  const settings = Object.entries(plan.settings);
  return (
    <div className="profile-sample">
      {missing.length > 0 && (
        <p className="look">There is no preview of {missing.join(", ")}: what is made of it is not shown.</p>
      )}
      <ul className="made-images" aria-label="Files">
        {plan.files.map((file) => (
          <li key={file.path}>
            <Picture file={file} made={images.get(file.path)} />
            <div>
              <strong>{file.slot}</strong>
              <div className="file">{file.path.replace(/^[^/]*\//, "")}</div>
              <div className="number dim">
                {file.width} × {file.height} px, {file.bitDepth}-bit {file.format.toUpperCase()}
                {file.tag === "icc" && ", with its colour profile"}
              </div>
              <div className="number">{file.operations.join(" · ") || "as it is"}</div>
            </div>
          </li>
        ))}
        {plan.files.length === 0 && <li>No image of this material is taken.</li>}
      </ul>
      {settings.length > 0 && (
        <table className="ledger tight">
          <caption>{plan.container ? "Values" : plan.settingsPath.replace(/^.*\//, "")}</caption>
          <tbody>
            {settings.map(([name, value]) => (
              <tr key={name}>
                <th scope="row">{name}</th>
                <td className="number">{typeof value === "boolean" ? (value ? "yes" : "no") : value}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Notes title="Left to do at the receiving end" lines={plan.steps} />
      <Notes title="Not taken" lines={plan.notCarried} look />
      <Notes title="To know" lines={plan.warnings} look />
    </div>
  );
}

function Picture({ file, made }: { file: PlannedFile; made: MadeImage | undefined }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = made && canvas.current?.getContext("2d");
    if (context) context.putImageData(new ImageData(made.data, made.width, made.height), 0, 0);
  }, [made]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`${file.slot} as it will be`}
      data-made={made !== undefined}
      width={made?.width ?? 1}
      height={made?.height ?? 1}
    />
  );
}
