import { Form as Fields } from "react-bootstrap";
import { Form } from "react-router";
import { Button } from "../components/Button";

/** A material of its own that begins as this one is saved. @param isTouched whether something is changed, and not saved */
export const Copy = ({ name, isTouched }: { name: string; isTouched: boolean }) => (
  <section className="finish-more">
    <h2>A new material from this one</h2>
    <Form method="post" className="row-form">
      <input type="hidden" name="intent" value="copy" />
      <Fields.Control name="name" aria-label="Name of the copy" defaultValue={`${name}, variant`} required />
      <Button type="submit" variant="outline-secondary" disabled={isTouched}>
        Create copy
      </Button>
    </Form>
    {isTouched && <Fields.Text>Save first, or take back what you changed.</Fields.Text>}
  </section>
);

/** Takes it out of the library, by its name. */
export const Remove = ({ name }: { name: string }) => (
  <section className="finish-more">
    <h2>Take it out of the library</h2>
    <Form
      method="post"
      onSubmit={(event) => {
        if (
          !confirm(
            `Take “${name}” out of the library? Projects and collections lose it; deliveries keep what they have.`,
          )
        )
          event.preventDefault();
      }}
    >
      <input type="hidden" name="intent" value="delete" />
      <Button type="submit" variant="outline-danger">
        Remove {name}
      </Button>
    </Form>
  </section>
);
