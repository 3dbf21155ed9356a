import type { Sample } from "#server/material/samples";
import { DragHandle } from "../components/DragHandle";
import { SamplePatch } from "../components/SamplePatch";
import { SampleWall, SIDE } from "../components/SampleWall";
import { useSelection } from "../view/selection";

interface SelectableWallProps {
  label: string;
  samples: Sample[];
  /** Whether they may be dragged to other places. */
  mayDrag: boolean;
}

/** Samples that are selected, and dragged where they may be. */
export function SelectableWall({ label, samples, mayDrag }: SelectableWallProps) {
  const selection = useSelection();
  return (
    <SampleWall label={label}>
      {samples.map((sample) => {
        const { id, name } = sample;
        return (
          <SamplePatch
            key={id}
            sample={sample}
            side={SIDE}
            selected={selection.ids.has(id)}
            onToggle={() => selection.toggle(id)}
            act={mayDrag && <DragHandle id={id} name={name} data={{ id, name }} />}
          />
        );
      })}
    </SampleWall>
  );
}
