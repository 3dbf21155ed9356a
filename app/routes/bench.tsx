import { NavLink, Outlet, useParams } from "react-router";
import type { Finish } from "#core/finish/finish";
import { isLaid } from "#core/finish/wear";
import { missingOf } from "#core/finish/material";
import { licenceNotes } from "#core/library/licence";
import type { SaidFinding } from "#core/findings/say";
import { formatSize } from "#core/length/formatLength";
import { mayDo } from "#server/auth/levels";
import { database } from "#server/db/database";
import { findMaterial, listUses } from "#server/material/queries";
import { saidOf } from "#server/material/saidOf";
import type { Person } from "#server/auth/person";
import { listSiblings } from "#server/supplier/queries";
import { found, idOf, look } from "../guard";
import { useFresh } from "../view/live";
import { useTitleBlock } from "../view/titleBlock";
import { useView } from "../view/viewContext";
import type { Route } from "./+types/bench";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.material.name ?? "Bench"} – Kalonomy` },
];

export const loader = look(async ({ params, person }: Route.LoaderArgs & { person: Person }) => {
  const id = idOf(params);
  const [here, uses, variants] = await Promise.all([
    findMaterial(database(), id),
    listUses(database(), id),
    listSiblings(database(), id),
  ]);
  const material = found(here, "material");
  const siblings = material.line ? variants : [];
  return {
    material: { ...material, findings: saidOf(material) },
    siblings,
    uses: uses.length,
    holders: uses.filter(({ kind }) => kind === "project").map(({ id, name }) => ({ id, name })),
    deliveries: uses.filter(({ kind }) => kind === "delivery").length,
    // Which project it is for is known only where it is used.
    warnings: material.licence
      ? licenceNotes({ ...material.licence, project: null }, { project: null, today: today() }).warnings
      : [],
    mayMake: mayDo(person, "make"),
    mayKeep: mayDo(person, "keep"),
  };
});

/** Variants of the same line that are named. */
const SIBLINGS = 6;

const serious = (findings: SaidFinding[]) => findings.filter(({ level }) => level !== "note").length;

function judged(findings: SaidFinding[]): string {
  const count = serious(findings);
  return count === 0 ? "no faults found" : `${count} ${count === 1 ? "thing" : "things"} to look at`;
}

/** Whether it can be converted, and what ought to be looked at before. */
function convertible(
  missing: string[],
  findings: SaidFinding[],
  licence: object | null,
  warnings: unknown[],
) {
  if (missing.length > 0) return { state: `${missing.join(", ")} missing` };
  const before = [
    serious(findings) > 0 && "what Judge says",
    (licence === null || warnings.length > 0) && "the licence",
  ].filter((one) => one !== false);
  return before.length === 0
    ? { state: "ready" }
    : { state: `look at ${before.join(" and ")} first`, look: true };
}

/** What takes the place of a finish for what is no material. */
const ASIDE = { wear: "Marks", environment: "Environment" } as const;

function finishWords({ finish }: { finish: Finish }): string {
  const layers = finish.wear?.filter(isLaid).length ?? 0;
  return layers === 0 ? "how it looks" : `with ${layers} ${layers === 1 ? "layer" : "layers"} of wear`;
}

const today = () => new Date().toISOString().slice(0, 10);

function factsOf({
  source,
  licence,
}: {
  source: { supplier: string | null };
  licence: object | null;
}): string {
  if (source.supplier) return licence ? "source and licence" : "licence not known";
  return licence ? "licence" : "not known";
}

/** What the steps of the bench get from it. */
export type BenchData = Route.ComponentProps["loaderData"];

/** One material: a work order on one side, each step with its state in words; beside it the view that the step needs. */
export default function Bench({ loaderData }: Route.ComponentProps) {
  const { material, siblings, uses, warnings } = loaderData;
  const { unit } = useView();
  const { id } = useParams();
  const page = /^https?:/.test(material.source.page ?? "") ? material.source.page! : undefined;
  useFresh(({ topic, ...event }) => (topic === "library" || topic === "flattening") && event.id === id);
  const plain = material.layout === "plain";
  const missing = missingOf(material);
  useTitleBlock(
    `${material.code} ${material.name}`,
    material.repeat ? `repeat ${formatSize(material.repeat, unit)}` : plain ? "plain colour" : "size unknown",
  );
  const size = material.repeat ? `${formatSize(material.repeat, unit)}, ${material.sizeState}` : "unknown";
  const steps = [
    {
      to: ".",
      name: "Maps",
      state: plain
        ? "none: a plain colour"
        : `${material.maps.length} ${material.maps.length === 1 ? "map" : "maps"}`,
      end: true,
    },
    ...(plain
      ? []
      : [
          {
            to: "judge",
            name: "Judge",
            state: judged(material.findings),
            look: serious(material.findings) > 0,
          },
        ]),
    ...(plain ? [] : [{ to: "gauge", name: "Gauge", state: size, look: material.sizeState !== "known" }]),
    ...(material.kind === "material"
      ? [
          { to: "finish", name: "Finish", state: finishWords(material) },
          {
            to: `/deliveries/new?material=${material.id}`,
            name: "Convert",
            ...(plain && missing.length === 0
              ? { state: "ready" }
              : convertible(missing, material.findings, material.licence, warnings)),
          },
        ]
      : [{ to: "finish", name: ASIDE[material.kind], state: "its name, and how it looks" }]),
    {
      to: "facts",
      name: "Facts",
      state: warnings.length > 0 ? "licence to look at" : factsOf(material),
      look: warnings.length > 0,
    },
    {
      to: "uses",
      name: "Uses",
      state: uses === 0 ? "not used yet" : `in ${uses} ${uses === 1 ? "place" : "places"}`,
    },
  ];
  return (
    <div className="bench">
      <aside className="work-order" aria-label="Work order">
        <p className="tag-code">
          {material.code} · revision {material.revision}
        </p>
        <h1>{material.name}</h1>
        <nav aria-label="Steps">
          <ol>
            {steps.map((step) => (
              <li key={step.name}>
                <NavLink to={step.to} end={step.end}>
                  <span className="step-name">{step.name}</span>
                  <span className={`step-state${step.look ? " mark look" : ""}`}>{step.state}</span>
                </NavLink>
              </li>
            ))}
          </ol>
        </nav>
        <dl className="facts">
          {material.family && (
            <>
              <dt>Family</dt>
              <dd>{material.family}</dd>
            </>
          )}
          {material.tags.length > 0 && (
            <>
              <dt>Tags</dt>
              <dd>{material.tags.join(", ")}</dd>
            </>
          )}
          {material.maps.some(({ role }) => role === "base_color") && (
            <>
              <dt>Alike</dt>
              <dd>
                <NavLink to={`/library?like=${material.id}`}>what looks like this</NavLink>
              </dd>
            </>
          )}
          {material.source.supplier && (
            <>
              <dt>Supplier</dt>
              <dd>
                {page ? (
                  <a href={page} target="_blank" rel="noreferrer">
                    {material.source.supplier}
                  </a>
                ) : (
                  material.source.supplier
                )}
              </dd>
            </>
          )}
          {material.line && (
            <>
              <dt>Line</dt>
              <dd>
                <NavLink to={`/lines/${material.lineId}`}>{material.line}</NavLink>
                {Object.entries(material.variant).map(([key, value]) => `, ${key} ${value}`)}
              </dd>
            </>
          )}
          {siblings.length > 0 && (
            <>
              <dt>Variants</dt>
              <dd className="siblings">
                {siblings.slice(0, SIBLINGS).map(({ id, name, variant }) => (
                  <NavLink key={id} to={`/materials/${id}`} title={name}>
                    {Object.values(variant).join(", ") || name}
                  </NavLink>
                ))}
                {siblings.length > SIBLINGS && <span>and {siblings.length - SIBLINGS} more</span>}
              </dd>
            </>
          )}
          {material.source.productCode && (
            <>
              <dt>Product code</dt>
              <dd className="number">{material.source.productCode}</dd>
            </>
          )}
          <dt>Licence</dt>
          <dd>
            {material.licence?.name ?? <span className="mark look">not known</span>}
            {warnings.map((warning) => (
              <p key={warning} className="mark look">
                {warning}
              </p>
            ))}
          </dd>
          {material.mergedInto && (
            <>
              <dt>Merged into</dt>
              <dd>
                <NavLink to={`/materials/${material.mergedInto.id}`}>{material.mergedInto.name}</NavLink>
              </dd>
            </>
          )}
          {material.madeFrom && (
            <>
              <dt>Made from</dt>
              <dd>
                <NavLink to={`/materials/${material.madeFrom.id}`}>{material.madeFrom.name}</NavLink>
              </dd>
            </>
          )}
          <dt>Saved by</dt>
          <dd>{material.madeBy}</dd>
        </dl>
      </aside>
      <div className="bench-view">
        {/* Each material begins with a form of its own. */}
        <Outlet key={material.id} context={loaderData} />
      </div>
    </div>
  );
}
