import { useState } from "react";
import { formatSize } from "#core/length/formatLength";
import { FindMaterial } from "../components/FindMaterial";
import { useView } from "../view/viewContext";
import type { PatchFields } from "./readRegion";
import { TakeOut } from "./TakeOut";

interface PatchRowProps {
  index: number;
  patch: PatchFields;
  onChange(changed: Partial<PatchFields>, touched?: string): void;
  onRemove(): void;
}

/** A rectangle that is painted out, and what it is filled with. */
export function PatchRow({ index, patch, onChange, onRemove }: PatchRowProps) {
  const { unit } = useView();
  const [other, setOther] = useState(patch.material !== null);
  const typed = (field: Exclude<keyof PatchFields, "material">, label: string) => (
    <label>
      <span>{label}</span>
      <input
        className="form-control form-control-sm number"
        aria-label={`Patch ${index + 1}, ${label}`}
        value={patch[field]}
        onChange={(event) => onChange({ [field]: event.target.value }, field)}
      />
    </label>
  );
  return (
    <fieldset className="patch-row">
      <legend>
        Painted out {index + 1}
        <TakeOut what={`patch ${index + 1}`} onClick={onRemove} />
      </legend>
      {typed("x", "from the left")}
      {typed("y", "from the top")}
      {typed("width", "wide")}
      {typed("height", "high")}
      {!other && typed("shiftX", "taken so far right")}
      {!other && typed("shiftY", "and so far down")}
      <label className="whole">
        <input
          type="checkbox"
          checked={other}
          onChange={(event) => {
            setOther(event.target.checked);
            if (!event.target.checked) onChange({ material: null });
          }}
        />{" "}
        filled with another material{patch.material && `: ${patch.material.name}`}
      </label>
      {other && (
        <div className="whole">
          <FindMaterial
            label={`Material of patch ${index + 1}`}
            chosen={undefined}
            onChoose={({ id, name, preview, repeat }) =>
              onChange({ material: { id, name, preview, repeat } })
            }
            describe={({ repeat }) => (repeat ? formatSize(repeat, unit) : "size unknown")}
          />
        </div>
      )}
    </fieldset>
  );
}
