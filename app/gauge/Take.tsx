import { useState } from "react";
import { Form, useNavigation } from "react-router";
import { MUCH_STRETCH, stretchOf } from "#core/gauge/repeat";
import { formatSize } from "#core/length/formatLength";
import { Button } from "../components/Button";
import { useBench } from "../view/useBench";
import { useView } from "../view/viewContext";

interface TakeProps {
  size: { width: number; height: number };
  surface: Record<string, number | undefined>;
  children: string;
}

/** Saves a size that fits; one that stretches the image much is asked for twice. */
export function Take({ size, surface, children }: TakeProps) {
  const { material } = useBench();
  const { unit } = useView();
  const busy = useNavigation().state !== "idle";
  const [asked, setAsked] = useState(false);
  const map = material.maps.find(({ role }) => role === "base_color") ?? material.maps[0];
  const stretch = Math.abs(stretchOf(map, size));
  const much = stretch > MUCH_STRETCH;
  const label = `${children}: the image covers ${formatSize(size, unit)}`;
  const look = { size: "sm", variant: "outline-secondary", disabled: busy } as const;
  if (much && !asked)
    return (
      <Button {...look} aria-label={label} onClick={() => setAsked(true)}>
        {children}
      </Button>
    );
  return (
    <Form method="post" onSubmit={() => setAsked(false)}>
      <input type="hidden" name="seen" value={material.revision} />
      <input type="hidden" name="width" value={size.width} />
      <input type="hidden" name="height" value={size.height} />
      {much && <input type="hidden" name="meant" value="on" />}
      {Object.entries(surface).map(([name, mm]) => (
        <input key={name} type="hidden" name={name} value={mm ?? ""} />
      ))}
      <Button type="submit" {...look} autoFocus={much} aria-label={much ? undefined : label}>
        {much ? `Stretch by ${stretch.toFixed(1)} %?` : children}
      </Button>
    </Form>
  );
}
