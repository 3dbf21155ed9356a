import { useState } from "react";
import { Button } from "../components/Button";
import { FindMaterial } from "../components/FindMaterial";
import type { FoundMaterial } from "../routes/materialFind";
import { useArranging } from "./Arrange";

interface MoveFileProps {
  candidate: string;
  file: string;
  /** All files of its candidate. */
  siblings: string[];
  onClose(): void;
}

const OWN = "own";
const LIBRARY = "library";

/** Says where a file belongs: to another candidate, to none, or to a material that is there already. */
export function MoveFile({ candidate, file, siblings, onClose }: MoveFileProps) {
  const arranging = useArranging()!;
  const others = arranging.targets.filter(({ id }) => id !== candidate);
  const [to, setTo] = useState(siblings.length > 1 ? OWN : (others[0]?.id ?? LIBRARY));
  const [withAll, setWithAll] = useState(false);
  const [material, setMaterial] = useState<FoundMaterial>();
  const isReady = to === LIBRARY ? material !== undefined : true;
  const move = () => {
    const files = (withAll ? siblings : [file]).map((one) => ({ candidate, file: one }));
    arranging.move(
      files,
      to === OWN ? { own: true } : to === LIBRARY ? { material: material!.id } : { candidate: to },
    );
    onClose();
  };
  return (
    <div className="move-file">
      <label>
        Move {withAll ? `all ${siblings.length} files` : "it"} to{" "}
        <select value={to} onChange={(event) => setTo(event.target.value)} autoFocus>
          {siblings.length > 1 && !withAll && <option value={OWN}>a material of its own</option>}
          <option value={LIBRARY}>a material of the library</option>
          {others.length > 0 && (
            <optgroup label="Candidates on this page">
              {others.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </optgroup>
          )}
        </select>
      </label>
      {siblings.length > 1 && (
        <label>
          <input
            type="checkbox"
            checked={withAll}
            onChange={(event) => {
              setWithAll(event.target.checked);
              if (event.target.checked && to === OWN) setTo(others[0]?.id ?? LIBRARY);
            }}
          />{" "}
          with all {siblings.length} files of its candidate
        </label>
      )}
      <Button
        size="sm"
        disabled={!isReady || arranging.isBusy}
        title={isReady ? undefined : "Choose the material first."}
        onClick={move}
      >
        Move
      </Button>
      <Button size="sm" variant="link" onClick={onClose}>
        Cancel
      </Button>
      {to === LIBRARY && (
        <FindMaterial
          label="The material that it belongs to"
          chosen={material}
          onChoose={setMaterial}
          describe={({ code }) => code}
        />
      )}
    </div>
  );
}
