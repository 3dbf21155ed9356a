import { useState } from "react";
import { Alert } from "react-bootstrap";
import { Form, Link, redirect } from "react-router";
import { formatSize } from "#core/length/formatLength";
import { mayDo } from "#server/auth/levels";
import { database } from "#server/db/database";
import { findDelivery, readAccount } from "#server/delivery/queries";
import type { Person } from "#server/auth/person";
import { listProfiles } from "#server/profile/sql";
import type { AccountMaterial } from "#server/delivery/account";
import { cancelDelivery, deliverAgain } from "#server/delivery/commands";
import { LedgerHead } from "../components/LedgerHead";
import { Button } from "../components/Button";
import { DELIVERY_WORDS } from "../components/DeliveryTable";
import { Notes } from "../components/Notes";
import { Progress } from "../components/Progress";
import { Refusal } from "../components/Refusal";
import { act, found, idOf, look } from "../guard";
import { useCatchUp, useFresh, useProgress } from "../view/live";
import { useTitleBlock } from "../view/titleBlock";
import { useView } from "../view/viewContext";
import { useKept } from "../view/useKept";
import { fieldsOf, intent, intents } from "../fieldsOf";
import type { Route } from "./+types/delivery";

export const meta: Route.MetaFunction = () => [{ title: "Delivery – Kalonomy" }];

export const loader = look(async ({ params, person }: Route.LoaderArgs & { person: Person }) => {
  const id = idOf(params);
  const delivery = found(await findDelivery(database(), id), "delivery");
  const profiles = await listProfiles(database());
  const profileNames = Object.fromEntries(profiles.map((profile) => [profile.id, profile.name]));
  return {
    delivery,
    account: await readAccount(database(), id),
    profileNames,
    mayMake: mayDo(person, "make"),
  };
});

const ACTS = intents(intent("again"), intent("cancel"));

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const id = idOf(params);
    if (fieldsOf(form, ACTS).intent === "again")
      return redirect(`/deliveries/${(await deliverAgain(id, person)).id}`);
    await cancelDelivery(id);
    return null;
  },
);

export default function Delivery({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useKept(answer);
  const { delivery, account, profileNames, mayMake } = loaderData;
  const [progress, setProgress] = useState(delivery.progress);
  const active = delivery.state === "planned" || delivery.state === "running";
  useProgress(`delivery:${delivery.id}`, ({ progress }) => setProgress(progress));
  useCatchUp(delivery.id, active);
  useFresh((event) => event.topic === "delivery" && event.id === delivery.id && !event.progress);
  const files = account?.materials.reduce((sum, material) => sum + material.files.length, 0) ?? 0;
  const count = new Set(delivery.materials.map(({ id }) => id)).size;
  useTitleBlock(
    `${count} ${count === 1 ? "material" : "materials"}`,
    account ? `${files} files, ${account.unchanged} unchanged` : DELIVERY_WORDS[delivery.state],
  );
  const newer = delivery.materials.filter(({ revision, newest }) => newest > revision);
  const of =
    delivery.project?.name ??
    delivery.collection?.name ??
    delivery.materials.map(({ name }) => name).join(", ");
  return (
    <div className="page">
      <p className="path">
        <Link to="/deliveries">Deliveries</Link>
      </p>
      <div className="sentence-row">
        <h1>{of}</h1>
        <div className="acts">
          {account && (
            <a className="btn btn-primary btn-sm" href={`/api/v1/deliveries/${delivery.id}/archive`} download>
              Download the zip
            </a>
          )}
          {mayMake && !active && (
            <Form method="post">
              <input type="hidden" name="intent" value="again" />
              <Button type="submit" size="sm" variant="outline-secondary">
                Deliver again
              </Button>
            </Form>
          )}
          {mayMake && active && (
            <Form method="post">
              <input type="hidden" name="intent" value="cancel" />
              <Button type="submit" size="sm" variant="outline-danger" disabled={delivery.cancelAsked}>
                {delivery.cancelAsked ? "Stopping…" : "Cancel"}
              </Button>
            </Form>
          )}
        </div>
      </div>
      <p>
        For {delivery.profiles.map((id) => profileNames[id] ?? id).join("; ")}
        {delivery.destination ? (
          <>
            , into <strong>{delivery.destination.name}</strong>{" "}
            <span className="file">({delivery.destination.folder}/)</span>
          </>
        ) : (
          ", as an archive"
        )}
        . {account && sentence(account.written, account.unchanged)}
      </p>
      <Refusal result={actionData} />
      {active && (
        <>
          <Progress
            label={delivery.state === "planned" ? "Waiting for a worker" : "Converting"}
            {...progress}
          />
          <p className="aside">It goes on without you: leave this page and come back whenever you like.</p>
        </>
      )}
      {delivery.state === "cancelled" && (
        <Alert variant="warning">
          It was cancelled. Nothing half-made was delivered; start it again when you like.
        </Alert>
      )}
      {delivery.failure && <Alert variant="danger">It failed: {delivery.failure}</Alert>}
      {newer.length > 0 && account && (
        <Alert variant="warning">
          Changed since: {newer.map(({ name }) => name).join(", ")}.{" "}
          {delivery.project ? "Move the project on, and deliver" : "Deliver"} again to bring it up to date.
        </Alert>
      )}
      {account?.materials.map((material) => (
        <Made
          key={`${material.profile}/${material.id}`}
          material={material}
          profile={profileNames[material.profile] ?? material.profile}
          destination={delivery.destination !== null}
        />
      ))}
    </div>
  );
}

const sentence = (written: number, unchanged: number) =>
  unchanged === 0
    ? `${written} files were written.`
    : `${written} files were written; ${unchanged} had not changed and were left alone.`;

function Made({
  material,
  profile,
  destination,
}: {
  material: AccountMaterial;
  profile: string;
  destination: boolean;
}) {
  const { unit } = useView();
  return (
    <section className="plan">
      <h2>
        <Link to={`/materials/${material.id}`}>{material.name}</Link>{" "}
        <span className="dim">for {profile}</span>
      </h2>
      <p className="number dim">
        revision {material.revision}
        {material.repeat && ` · ${formatSize(material.repeat, unit)}`}
      </p>
      <Notes title="Left to do at the receiving end" lines={material.steps} />
      <Notes title="Look at" lines={material.warnings} look />
      <Notes title="Changed for this renderer alone" lines={material.correction ?? []} />
      <Notes title="Values that this renderer does not get" lines={material.notCarried ?? []} look />
      {material.files.length > 0 && (
        <table className="ledger tight">
          <LedgerHead
            columns={[
              "File",
              "What was done",
              { number: "Pixels" },
              { number: "Bits" },
              ...(destination ? ["Written"] : []),
            ]}
          />
          <tbody>
            {material.files.map((file) => (
              <tr key={file.path}>
                <td className="file">{file.path.replace(/^[^/]+\//, "")}</td>
                <td>
                  {file.operations.length === 0 ? (
                    <span className="dim">as it is</span>
                  ) : (
                    file.operations.map((word) => <code key={word}>{word}</code>)
                  )}
                </td>
                <td className="number">
                  {file.width} × {file.height}
                </td>
                <td className="number">
                  {file.bitDepth} {file.encoding === "srgb" ? "sRGB" : "raw"}
                </td>
                {destination && <td>{file.written ? "yes" : <span className="dim">unchanged</span>}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
