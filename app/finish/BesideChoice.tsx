import { useRef, useState } from "react";
import { Form as Fields } from "react-bootstrap";
import type { ReferenceRow } from "#server/reference/sql";
import { askReferences } from "./askReferences";

/** Asks which one. */
export const ANOTHER = "another";
const FROM_FILE = "a picture from a file";

interface BesideChoiceProps {
  /** Id of the material. */
  material: string;
  names: string[];
  references: ReferenceRow[];
  profiles: { id: string; name: string }[];
  other: string;
  onOther(name: string): void;
  mayMake: boolean;
}

/** What the material is compared with: a state of it, another one, or a picture. */
export function BesideChoice({
  material,
  names,
  references,
  profiles,
  other,
  onOther,
  mayMake,
}: BesideChoiceProps) {
  const file = useRef<HTMLInputElement>(null);
  const [trouble, setTrouble] = useState("");
  const [sending, setSending] = useState("");
  async function handIn(picture: File) {
    try {
      setTrouble("");
      setSending(picture.name);
      onOther(await askReferences.handIn(material, picture));
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    } finally {
      setSending("");
    }
  }
  const chosen = references.find(({ id }) => id === other);
  return (
    <div className="finish-beside">
      <label>
        Beside
        <Fields.Select
          aria-label="Beside"
          size="sm"
          value={other}
          onChange={(event) =>
            event.target.value === FROM_FILE ? file.current?.click() : onOther(event.target.value)
          }
        >
          <option value="">nothing</option>
          <optgroup label="Materials">
            {names.map((one) => (
              <option key={one}>{one}</option>
            ))}
            <option value={ANOTHER}>another material …</option>
          </optgroup>
          <optgroup label="Pictures">
            {references.map(({ id, name, profile, state }) => (
              <option key={id} value={id}>
                {name}
                {profile ? `, by ${profiles.find((one) => one.id === profile)?.name ?? profile}` : ""}
                {state === "there" ? "" : state === "reading" ? ", being read" : ", cannot be read"}
              </option>
            ))}
            {mayMake && <option value={FROM_FILE}>{FROM_FILE} …</option>}
          </optgroup>
        </Fields.Select>
      </label>
      <input
        ref={file}
        type="file"
        accept="image/*"
        hidden
        aria-label="Picture to compare with"
        onChange={(event) => {
          const [picture] = event.target.files ?? [];
          if (picture) void handIn(picture);
          event.target.value = "";
        }}
      />
      {sending && <p role="status">Sending {sending} …</p>}
      {(trouble || chosen?.failure) && (
        <p className="mark wrong" role="alert">
          {trouble || chosen?.failure}
        </p>
      )}
    </div>
  );
}
