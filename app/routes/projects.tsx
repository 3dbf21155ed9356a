import { z } from "zod";
import { Form as Fields } from "react-bootstrap";
import { Form, Link, redirect } from "react-router";
import { mayDo } from "#server/auth/levels";
import { database } from "#server/db/database";
import type { Person } from "#server/auth/person";
import { listProjectSummaries } from "#server/project/queries";
import { createProject } from "#server/project/commands";
import { LedgerHead } from "../components/LedgerHead";
import { Button } from "../components/Button";
import { Empty } from "../components/Empty";
import { Refusal } from "../components/Refusal";
import { act, look } from "../guard";
import { fieldsOf, nameField, orNull } from "../fieldsOf";
import { useFresh } from "../view/live";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/projects";

export const meta: Route.MetaFunction = () => [{ title: "Projects – Kalonomy" }];

export const loader = look(async ({ person }: Route.LoaderArgs & { person: Person }) => ({
  projects: await listProjectSummaries(database()),
  mayMake: mayDo(person, "make"),
}));

const NEW = z.object({ name: nameField("the project"), number: orNull(z.string().trim()) });

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const id = await createProject(fieldsOf(form, NEW), person);
  return redirect(`/projects/${id}`);
});

export default function Projects({
  loaderData: { projects, mayMake },
  actionData: answer,
}: Route.ComponentProps) {
  const actionData = useKept(answer);
  useFresh((event) => event.topic === "library");
  return (
    <div className="page">
      <h1>Projects</h1>
      {mayMake && (
        <Form method="post" className="row-form" aria-label="New project">
          <Fields.Control
            name="number"
            placeholder="Number"
            aria-label="Number"
            style={{ maxWidth: "8rem" }}
            maxLength={40}
          />
          <Fields.Control
            name="name"
            placeholder="Name of a new project"
            aria-label="Name of a new project"
            required
            maxLength={200}
          />
          <Button type="submit">Create</Button>
        </Form>
      )}
      <Refusal result={actionData} />
      {projects.length === 0 ? (
        <Empty title="No projects yet">
          <p>A project is one building. Create one above, then give it collections or single materials.</p>
        </Empty>
      ) : (
        <table className="ledger">
          <LedgerHead
            columns={[
              "Number",
              "Project",
              "Collections",
              { number: "Materials" },
              { number: "Newer revisions" },
            ]}
          />
          <tbody>
            {projects.map((project) => {
              return (
                <tr key={project.id}>
                  <td className="number">{project.number}</td>
                  <td>
                    <Link to={`/projects/${project.id}`}>{project.name}</Link>
                  </td>
                  <td>{project.collections.join(", ")}</td>
                  <td className="number">{project.count}</td>
                  <td className="number">
                    {project.newer > 0 ? <span className="mark look">{project.newer}</span> : "–"}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </div>
  );
}
