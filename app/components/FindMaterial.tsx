import { useEffect, useId, useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { useFetcher } from "react-router";
import type { FoundMaterial } from "../routes/materialFind";
import { previewUrl } from "./previewUrl";

interface FindMaterialProps {
  label: string;
  chosen: FoundMaterial | undefined;
  /** Those that are of no use here, by id. */
  without?: string[];
  onChoose(material: FoundMaterial): void;
  /** What is said of each. */
  describe(material: FoundMaterial): string;
}

const WAIT_MS = 200;

/** Finds one material of the library by what the library is searched by. */
export function FindMaterial({ label, chosen, without = [], onChoose, describe }: FindMaterialProps) {
  const id = useId();
  const [text, setText] = useState("");
  const { load, data } = useFetcher<{ found: FoundMaterial[] }>();
  useEffect(() => {
    const timer = setTimeout(() => void load(`/materials/find?text=${encodeURIComponent(text)}`), WAIT_MS);
    return () => clearTimeout(timer);
  }, [text, load]);
  const found = (data?.found ?? []).filter((one) => !without.includes(one.id));
  return (
    <div className="find-material">
      <Fields.Group controlId={id}>
        <Fields.Label>{label}</Fields.Label>
        <Fields.Control
          type="search"
          value={text}
          placeholder="name, code, supplier or colour"
          autoComplete="off"
          // The search is part of a larger form, which Enter must not send.
          onKeyDown={(event) => event.key === "Enter" && event.preventDefault()}
          onChange={(event) => setText(event.target.value)}
        />
      </Fields.Group>
      <ul aria-label={label}>
        {found.map((material) => (
          <li key={material.id}>
            <button
              type="button"
              aria-pressed={material.id === chosen?.id}
              onClick={() => onChoose(material)}
            >
              <span
                className="find-picture"
                style={
                  material.preview
                    ? { backgroundImage: `url(${previewUrl(material.preview, 64)})` }
                    : undefined
                }
              />
              <span>
                {material.name}
                <span className="dim number"> {describe(material)}</span>
              </span>
            </button>
          </li>
        ))}
        {data && found.length === 0 && <li className="dim">Nothing of that name.</li>}
      </ul>
    </div>
  );
}
