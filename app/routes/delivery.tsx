import { useState } from "react";
import { Alert } from "react-bootstrap";
import { Form, Link, redirect } from "react-router";
import { formatSize } from "#core/length/formatLength";
import { wholePath } from "#core/library/seenPath";
import { mayDo } from "#server/auth/levels";
import { database } from "#server/db/database";
import { profileChanges } from "#core/convert/profileChanges";
import { findDelivery, readAccount, type DeliveryRow } from "#server/delivery/queries";
import type { Person } from "#server/auth/person";
import { findProfileRevision } from "#server/profile/sql";
import { listProofs, type ProofRow } from "#server/delivery/proof/sql";
import type { AccountMaterial } from "#server/delivery/account";
import { cancelDelivery, deliverAgain } from "#server/delivery/commands";
import { LedgerHead } from "../components/LedgerHead";
import { Button } from "../components/Button";
import { DELIVERY_WORDS } from "../components/DeliveryTable";
import { CopyText } from "../components/CopyText";
import { Notes } from "../components/Notes";
import { ProofPictures } from "../components/ProofPictures";
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
  return {
    delivery,
    changedProfiles: await changedProfiles(delivery),
    account: await readAccount(database(), id),
    proofs: await listProofs(database(), id),
    mayMake: mayDo(person, "make"),
  };
});

/** What the profiles of a delivery say otherwise by now. */
const changedProfiles = ({ profileRevisions }: DeliveryRow) =>
  Promise.all(
    profileRevisions
      .filter(({ revision, newest }) => newest > revision)
      .map(async ({ id, name, revision, newest }) => {
        const [then, now] = await Promise.all(
          [revision, newest].map((number) => findProfileRevision(database(), id, number)),
        );
        return { id, name, changes: then && now ? profileChanges(then, now) : [] };
      }),
  );

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
  const { delivery, account, proofs, changedProfiles, mayMake } = loaderData;
  const profileNames = Object.fromEntries(delivery.profileRevisions.map(({ id, name }) => [id, name]));
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
        . {account && sentence(account.written, account.unchanged)} {provedWords(proofs)}
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
      {delivery.hasOldFacts && account && (
        <Alert variant="warning">
          Out of date: facts of a product that its material files carry have changed. Deliver again to bring
          it up to date.
        </Alert>
      )}
      {changedProfiles.map(({ id, name, changes }) => (
        <Alert variant="warning" key={id}>
          Out of date: <Link to={`/profiles/${id}`}>{name}</Link> has changed since. Deliver again to bring it
          up to date.
          <ul className="mb-0">
            {changes.map((change) => (
              <li key={change}>{change}</li>
            ))}
          </ul>
        </Alert>
      ))}
      {lookFirst(account?.materials ?? []).map((material) => (
        <Made
          key={`${material.profile}/${material.id}`}
          material={material}
          proof={proofs.find((one) => one.material === material.id && one.profile === material.profile)}
          profile={profileNames[material.profile] ?? material.profile}
          destination={delivery.destination}
        />
      ))}
    </div>
  );
}

const sentence = (written: number, unchanged: number) =>
  unchanged === 0
    ? `${written} files were written.`
    : `${written} files were written; ${unchanged} had not changed and were left alone.`;

/** What is to be looked at comes first, the farthest off before the others. */
const lookFirst = (materials: AccountMaterial[]): AccountMaterial[] => {
  const off = ({ proof }: AccountMaterial) => (proof?.isOverLimit ? proof.meanDeltaE : 0);
  return materials.toSorted((a, b) => off(b) - off(a));
};

/** How many of the proofs say what. */
function provedWords(proofs: ProofRow[]): string {
  const done = proofs.flatMap(({ proof }) => proof ?? []);
  const look = done.filter(({ causes }) => causes.length > 0).length;
  const waiting = proofs.filter(({ state }) => state === "waiting").length;
  const words = [
    done.length > 0 && `${done.length - look} of ${done.length} proofs look as they should`,
    look > 0 && `${look} to be looked at`,
    waiting > 0 && `${waiting} being drawn`,
  ].filter((word) => word !== false);
  return words.length > 0 ? `${words.join(", ")}.` : "";
}

function Made({
  material,
  proof,
  profile,
  destination,
}: {
  material: AccountMaterial;
  proof: ProofRow | undefined;
  profile: string;
  destination: DeliveryRow["destination"];
}) {
  const { unit } = useView();
  return (
    <section className="plan">
      <h2>
        <Link to={`/materials/${material.id}`}>{material.name}</Link>{" "}
        <span className="dim">for {profile}</span>
      </h2>
      <p className="number dim">
        <Link className="tall-link" to={`/materials/${material.id}/revisions?from=${material.revision}`}>
          revision {material.revision}
        </Link>
        {material.repeat && ` · ${formatSize(material.repeat, unit)}`}
      </p>
      {destination?.paths.map((seen) => {
        const whole = wholePath(seen, material.settings.path.replace(/\/[^/]*$/, ""));
        return (
          <p key={seen.system} className="whole-path">
            <span className="dim">{seen.system}</span> <span className="file">{whole}</span>{" "}
            <CopyText text={whole} what={`the path of ${material.name} for ${seen.system}`} />
          </p>
        );
      })}
      {proof && <Proved of={`${material.name} for ${profile}`} {...proof} />}
      <Notes title="Left to do at the receiving end" lines={material.steps} />
      <Notes title="Look at" lines={material.warnings} look />
      <Notes title="Changed for this renderer alone" lines={material.correction ?? []} />
      <Notes title="Values that this renderer does not get" lines={material.notCarried ?? []} look />
      {material.files.length > 0 && (
        <details>
          <summary>
            {material.files.length === 1 ? "One file" : `${material.files.length} files`}, and what was done
          </summary>
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
                    {file.tag === "icc" && ", with profile"}
                  </td>
                  {destination && <td>{file.written ? "yes" : <span className="dim">unchanged</span>}</td>}
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      )}
    </section>
  );
}

/** How a delivery looks beside its material, or how far that is. */
function Proved({ of, state, proof, sheet, failure }: ProofRow & { of: string }) {
  if (proof && sheet) return <ProofPictures of={of} proof={proof} sheet={sheet} />;
  return (
    <p className="dim" role="status">
      {state === "failed"
        ? `It could not be proved: ${failure}`
        : "The proof is being drawn; the files are there already."}
    </p>
  );
}
