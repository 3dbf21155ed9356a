import { useId } from "react";
import { Form as Fields } from "react-bootstrap";
import { FAMILIES } from "#core/finish/family";
import { Button } from "../components/Button";
import { useHandIn } from "../view/useHandIn";

/** Takes in a list of coded colours by the call that scripts use, and goes to what was read in it. */
export function HandInColors({ suppliers }: { suppliers: string[] }) {
  const id = useId();
  const { sending, trouble, handIn } = useHandIn((list) => `/color-lists/${list}`);
  return (
    <form
      className="hand-in-colors"
      aria-label="Take in a list of colours"
      onSubmit={(event) => {
        event.preventDefault();
        const form = new FormData(event.currentTarget);
        form.set("look", "true");
        void handIn((form.get("file") as File).name, "/api/v1/lines/import", { body: form });
      }}
    >
      <Fields.Group controlId={`${id}-file`}>
        <Fields.Label>The list (.csv, .xlsx)</Fields.Label>
        <Fields.Control size="sm" type="file" name="file" accept=".csv,.tsv,.txt,.xlsx" required />
      </Fields.Group>
      <Fields.Group controlId={`${id}-supplier`}>
        <Fields.Label>Supplier</Fields.Label>
        <Fields.Control size="sm" name="supplier" list={`${id}-suppliers`} maxLength={200} required />
        <datalist id={`${id}-suppliers`}>
          {suppliers.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
      </Fields.Group>
      <Fields.Group controlId={`${id}-line`}>
        <Fields.Label>Line</Fields.Label>
        <Fields.Control size="sm" name="line" maxLength={200} placeholder="as the file is called" />
      </Fields.Group>
      <Fields.Group controlId={`${id}-family`}>
        <Fields.Label>Family</Fields.Label>
        <Fields.Select size="sm" name="family" defaultValue="paint">
          {FAMILIES.map((family) => (
            <option key={family}>{family}</option>
          ))}
        </Fields.Select>
      </Fields.Group>
      <Button type="submit" size="sm" disabled={sending !== ""}>
        Read the list
      </Button>
      {sending && <p role="status">Sending {sending} …</p>}
      {trouble && (
        <p className="mark wrong" role="alert">
          {trouble}
        </p>
      )}
    </form>
  );
}
