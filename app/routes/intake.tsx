import { useState } from "react";
import { Alert } from "react-bootstrap";
import { Form, Link, useNavigation } from "react-router";
import { z } from "zod";
import { ROLE_NAMES, ROLES, roleFromWord, type Role } from "#core/maps/roles";
import { mayDo } from "#server/auth/levels";
import { database } from "#server/db/database";
import { findIntake, listCandidates, listIgnored, type CandidateRow } from "#server/db/intakes";
import type { Person } from "#server/db/people";
import { acceptCandidates, type Choice, type ChosenRole } from "#server/intake/accept";
import { Button } from "../components/Button";
import { Findings } from "../components/Findings";
import { previewUrl } from "../components/previewUrl";
import { Progress } from "../components/Progress";
import { Refusal } from "../components/Refusal";
import { act, found, idOf, look } from "../guard";
import { refusalOf } from "../refusal";
import { useCatchUp, useFresh, useLive } from "../view/live";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/intake";

export const meta: Route.MetaFunction = () => [{ title: "Intake – Kalonomy" }];

export const loader = look(async ({ params, person }: Route.LoaderArgs & { person: Person }) => {
  const id = idOf(params);
  const db = database();
  const intake = found(await findIntake(db, id), "intake");
  return {
    intake,
    candidates: await listCandidates(db, id),
    ignored: await listIgnored(db, id),
    mayMake: mayDo(person, "make"),
  };
});

export const action = act(
  "make",
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const id = idOf(params);
    const only = form.get("only");
    const chosen = only ? [z.uuid().parse(only)] : z.array(z.uuid()).parse(form.getAll("candidate"));
    return acceptCandidates(
      id,
      chosen.map((candidate) => readChoice(candidate, form)),
      person,
    );
  },
);

/** The name, roles and direction that a person has set in a candidate's row. */
function readChoice(candidate: string, form: FormData): Choice {
  const roles: Record<string, ChosenRole> = {};
  for (const [field, value] of form) {
    const [owner, kind, ...file] = field.split("/");
    if (owner !== candidate || kind !== "role") continue;
    const role = value === "leave-out" ? "leave-out" : roleFromWord(String(value));
    if (role) roles[file.join("/")] = role;
  }
  const direction = form.get(`${candidate}/direction`);
  const name = form.get(`${candidate}/name`);
  return {
    id: candidate,
    roles,
    ...(typeof name === "string" && { name }),
    ...((direction === "+Y" || direction === "-Y") && { normalDirection: direction }),
  };
}

export default function Intake({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useKept(answer);
  const { intake, candidates, ignored, mayMake } = loaderData;
  const [progress, setProgress] = useState(intake.progress);
  const busy = useNavigation().state === "submitting";
  const waiting = candidates.filter(({ state }) => state === "waiting");
  useCatchUp(intake.id, intake.state === "reading");
  useFresh((event) => event.topic === "intake" && event.id === intake.id && event.state !== "reading");
  useLive((event) => {
    if (event.topic === "intake" && event.id === intake.id && event.progress) setProgress(event.progress);
  });
  const accepted = actionData && !refusalOf(actionData) && "materials" in actionData ? actionData : undefined;

  return (
    <div className="page">
      <p className="path">
        <Link to="/intakes">Intake</Link>
      </p>
      <h1>{intake.uploads.join(", ")}</h1>
      {(intake.state === "reading" || intake.state === "receiving") && (
        <>
          <Progress label="Reading" {...progress} />
          <p className="aside">It goes on without you: leave this page and come back whenever you like.</p>
        </>
      )}
      {intake.failure && (
        <Alert variant="danger">
          {intake.failure} Hand the files in again; nothing of them was taken into the library.
        </Alert>
      )}
      <Refusal result={actionData} />
      {accepted && (
        <Alert variant={accepted.materials.length > 0 ? "success" : "warning"}>
          {accepted.materials.length > 0 && (
            <p className="mb-1">
              In the library:{" "}
              {accepted.materials.map(({ id, name }, at) => (
                <span key={id}>
                  {at > 0 && ", "}
                  <Link to={`/materials/${id}/gauge`}>{name}</Link>
                </span>
              ))}
              . Its size is unknown until you gauge it.
            </p>
          )}
          {accepted.skipped.map(({ candidate, reason }) => (
            <p key={candidate} className="mb-0">
              {candidates.find(({ id }) => id === candidate)?.name}: {reason}
            </p>
          ))}
        </Alert>
      )}
      <Form method="post">
        {candidates.map((candidate) => (
          <Candidate key={candidate.id} candidate={candidate} mayMake={mayMake} busy={busy} />
        ))}
        {mayMake && waiting.length > 1 && (
          <div className="acts end">
            <Button type="submit" disabled={busy}>
              Accept all {waiting.length}
            </Button>
          </div>
        )}
      </Form>
      {intake.state === "review" && candidates.length === 0 && (
        <Alert variant="warning">Nothing in it could be read as a texture. The list below says why.</Alert>
      )}
      {ignored.length > 0 && (
        <section>
          <h2>Left aside</h2>
          <table className="ledger">
            <thead>
              <tr>
                <th scope="col">File</th>
                <th scope="col">Why</th>
              </tr>
            </thead>
            <tbody>
              {ignored.map(({ file, reason }, at) => (
                <tr key={at}>
                  <td className="file">{file}</td>
                  <td>{reason}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </div>
  );
}

interface CandidateProps {
  candidate: CandidateRow;
  mayMake: boolean;
  busy: boolean;
}

function Candidate({ candidate, mayMake, busy }: CandidateProps) {
  const { id, name, maps, findings, state, material } = candidate;
  const base = maps.find(({ role }) => role === "base_color") ?? maps[0];
  const open = state === "waiting" && mayMake;
  const normal = maps.find(({ role }) => role === "geometry_normal");
  return (
    <section className={`candidate ${state}`} aria-label={name}>
      {open && <input type="hidden" name="candidate" value={id} />}
      <div className="candidate-sample">
        {base && <img src={previewUrl(base.sha256, 256, base.channel)} alt="" />}
      </div>
      <div className="candidate-body">
        <div className="candidate-head">
          {open ? (
            <label>
              <span className="visually-hidden">Name</span>
              <input className="name-input" name={`${id}/name`} defaultValue={name} maxLength={200} />
            </label>
          ) : (
            <h2>{name}</h2>
          )}
          {open && (
            <Button type="submit" name="only" value={id} size="sm" disabled={busy}>
              Accept
            </Button>
          )}
          {material && <Link to={`/materials/${material}`}>In the library</Link>}
        </div>
        <table className="ledger tight">
          <thead>
            <tr>
              <th scope="col">File</th>
              <th scope="col">Role</th>
              <th scope="col">How sure</th>
              <th scope="col" className="number">
                Pixels
              </th>
              <th scope="col" className="number">
                Bits
              </th>
            </tr>
          </thead>
          <tbody>
            {maps.map((map) => (
              <tr key={map.file}>
                <td className="file">
                  <img className="thumb" src={previewUrl(map.sha256, 64, map.channel)} alt="" />
                  {map.file.replace(/#alpha$/, ", fourth channel")}
                </td>
                <td>
                  {open ? (
                    <RoleChoice
                      field={`${id}/role/${map.file}`}
                      role={map.role}
                      likely={map.likely}
                      file={map.file}
                    />
                  ) : map.role === "unknown" ? (
                    "left out"
                  ) : (
                    ROLE_NAMES[map.role]
                  )}
                </td>
                <td>
                  {open || map.role !== "unknown" ? (
                    <Sureness confidence={map.confidence} known={map.role !== "unknown"} />
                  ) : null}
                </td>
                <td className="number">
                  {map.width} × {map.height}
                </td>
                <td className="number">{map.bitDepth}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {open && normal && (
          <label className="inline-choice">
            Green of the normal map points{" "}
            <select name={`${id}/direction`} defaultValue={normal.normalDirection ?? ""}>
              <option value="">up, +Y (assumed)</option>
              <option value="+Y">up, +Y (sure)</option>
              <option value="-Y">down, −Y</option>
            </select>
          </label>
        )}
        <Findings findings={findings} />
      </div>
    </section>
  );
}

function RoleChoice({
  field,
  role,
  likely,
  file,
}: {
  field: string;
  role: Role | "unknown";
  likely: Role[];
  file: string;
}) {
  const rest = ROLES.filter((known) => !likely.includes(known));
  return (
    <select
      name={field}
      defaultValue={role === "unknown" ? "leave-out" : role}
      aria-label={`Role of ${file}`}
    >
      {likely.length > 0 && (
        <optgroup label="Likely">
          {likely.map((known) => (
            <option key={known} value={known}>
              {ROLE_NAMES[known]}
            </option>
          ))}
        </optgroup>
      )}
      <option value="leave-out">leave out</option>
      {rest.map((known) => (
        <option key={known} value={known}>
          {ROLE_NAMES[known]}
        </option>
      ))}
    </select>
  );
}

function Sureness({ confidence, known }: { confidence: number; known: boolean }) {
  if (known && confidence === 0) return <span>as somebody said</span>;
  if (!known) return <span className="mark look">please say</span>;
  const words = confidence >= 0.95 ? "certain" : confidence >= 0.8 ? "quite sure" : "a guess";
  return (
    <span className={confidence < 0.8 ? "mark look" : undefined}>
      {words} <span className="number dim">{Math.round(confidence * 100)} %</span>
    </span>
  );
}
