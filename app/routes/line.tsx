import { useState } from "react";
import { Link } from "react-router";
import { variantGrid, type LineMember } from "#core/library/variantGrid";
import { keyOf } from "#core/supply/catalogue";
import type { OfferedVariant } from "#core/library/offeredVariants";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { missingOnOffer } from "#server/line/onOffer";
import { findLineById, listLineMembers, MOST_MEMBERS, type LineMemberRow } from "#server/line/queries";
import { Empty } from "../components/Empty";
import { found, idOf, look } from "../guard";
import { Swatch } from "../line/Swatch";
import { SwapVariant } from "../line/SwapVariant";
import { useFresh } from "../view/live";
import { useTitleBlock } from "../view/titleBlock";
import type { Route } from "./+types/line";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.line.name ?? "Line"} – Kalonomy` },
];

export const loader = look(async ({ params, person }: Route.LoaderArgs & { person: Person }) => {
  const line = found(await findLineById(database(), idOf(params)), "line");
  const members = await listLineMembers(database(), line.id);
  const missing = await missingOnOffer(line, members);
  // What is on offer has its place among them, so that one sees what is missing.
  const offered = (missing?.products ?? []).slice(0, MOST_OFFERED).map((offer) => ({
    ...{ id: keyOf(offer.code, offer.joint), name: offer.name, offer },
    ...{ variant: offer.variant, colorOrder: offer.colorOrder },
  }));
  const there = members.map(({ id, name, variant, colorOrder }) => ({
    ...{ id, name, colorOrder, variant: missing?.variants[id] ?? variant },
  }));
  return {
    line,
    members,
    grid: variantGrid<Placed>([...there, ...offered]),
    missing,
    most: MOST_MEMBERS,
    mayMake: mayDo(person, "make"),
  };
});

/** A place in the grid: a member of the line, or what might become one. */
interface Placed extends LineMember {
  offer?: OfferedVariant;
}

/** More that is on offer than fits in among what is there. */
const MOST_OFFERED = 200;

/** A line: its variants by in what they differ, what is missing of it, and one swapped for another. */
export default function LinePage({ loaderData }: Route.ComponentProps) {
  const { line, members, grid, missing, most, mayMake } = loaderData;
  const { down, across, cells } = grid;
  const [chosenId, setChosen] = useState<string>();
  const chosen = members.find(({ id }) => id === chosenId);
  useFresh(({ topic }) => topic === "library" || topic === "change");
  useTitleBlock(line.name, members.length === 1 ? "1 variant" : `${members.length} variants`);
  const unsized = members.filter(({ layout, sizeState }) => layout !== "plain" && sizeState === "unknown");
  const colorless = members.filter(({ hasColor }) => !hasColor);
  const byId = new Map(members.map((member) => [member.id, member]));
  const cell = (some: Placed[], label: string) =>
    some.length === 0 ? (
      <span className="no-variant" title={label}>
        none
      </span>
    ) : (
      <ul className="variant-cell">
        {some.map(({ id, offer }) => {
          if (offer) return <Offered key={id} offer={offer} line={missing!.line} />;
          const member = byId.get(id)!;
          return (
            <li key={id}>
              <button
                type="button"
                className={member.id === chosenId ? "chosen" : undefined}
                aria-pressed={member.id === chosenId}
                onClick={() => setChosen(member.id === chosenId ? undefined : member.id)}
              >
                <Swatch {...member} />
                <span className="color-name" title={member.name}>
                  {member.name}
                </span>
                <span className="tag-code">{member.productCode ?? member.code}</span>
                {member.projects.length > 0 && (
                  <span className="used">
                    {member.projects.length === 1 ? "1 project" : `${member.projects.length} projects`}
                  </span>
                )}
              </button>
            </li>
          );
        })}
      </ul>
    );
  return (
    <div className="page line-members">
      <p className="path">
        <Link to="/library">Library</Link> / <Link to="/lines">Lines</Link>
        {line.supplier !== null && ` / ${line.supplier}`}
      </p>
      <div className="sentence-row">
        <h1>{line.name}</h1>
        <div className="acts">
          <Link
            className="btn btn-outline-secondary btn-sm"
            to={`/library?${new URLSearchParams({ line: line.name })}`}
          >
            Show on the wall
          </Link>
        </div>
      </div>
      {members.length === 0 && (
        <Empty title="Nothing of this line is in the library any more">
          <p>
            What was delivered stays. Look for others among the <Link to="/lines">lines</Link>.
          </p>
        </Empty>
      )}
      {members.length >= most && <p className="mark look">The first {most} variants are shown.</p>}
      <Missing missing={missing} unsized={unsized} colorless={colorless} />
      {chosen && (
        <SwapVariant
          key={chosen.id}
          chosen={chosen}
          others={members.filter(({ id }) => id !== chosen.id)}
          mayMake={mayMake}
          onClose={() => setChosen(undefined)}
        />
      )}
      {across && down ? (
        <div className="table-scroll" tabIndex={0} role="region" aria-label={`Variants of ${line.name}`}>
          <table className="variant-grid">
            <thead>
              <tr>
                <th scope="col" className="axis">
                  {down.axis} / {across.axis}
                </th>
                {across.values.map((value) => (
                  <th key={value} scope="col">
                    {value || "not said"}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {down.values.map((row, r) => (
                <tr key={row}>
                  <th scope="row">{row || "not said"}</th>
                  {across.values.map((column, c) => (
                    <td key={column}>{cell(cells[r][c], `${row}, ${column}`)}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ) : (
        cells.map(([some], r) => (
          <section key={down?.values[r] ?? "all"}>
            {down && <h2>{down.values[r] || `no ${down.axis}`}</h2>}
            {some.length > 0 && cell(some, "")}
          </section>
        ))
      )}
    </div>
  );
}

/** What the supplier has and the library has not, at its place in the grid. */
function Offered({
  offer: { code, joint, jointName, name, hex },
  line,
}: {
  offer: OfferedVariant;
  line: string;
}) {
  const asked = new URLSearchParams({ product: code, ...(joint !== null && { joint }) });
  return (
    <li>
      <Link className="offered" to={`/suppliers/${line}?${asked}`}>
        <Swatch color={hex} preview={null} />
        <span className="color-name">{jointName === null ? name : `${name} with ${jointName}`}</span>
        <span className="tag-code">on offer</span>
      </Link>
    </li>
  );
}

type Loaded = Route.ComponentProps["loaderData"];

/** What is missing of a line: on offer and not there, without a size, without a colour. */
function Missing({
  missing,
  unsized,
  colorless,
}: {
  missing: Loaded["missing"];
  unsized: LineMemberRow[];
  colorless: LineMemberRow[];
}) {
  const products = missing?.products ?? [];
  if (products.length + unsized.length + colorless.length === 0) return null;
  const names = (some: LineMemberRow[], step: string) => (
    <span>
      {some.slice(0, 8).map(({ id, name }, at) => (
        <span key={id}>
          {at > 0 && ", "}
          <Link to={`/materials/${id}${step}`}>{name}</Link>
        </span>
      ))}
      {some.length > 8 && " …"}
    </span>
  );
  return (
    <ul className="missing-of-line">
      {products.length > 0 && (
        <li>
          <span className="mark look">{products.length} more on offer</span>
          <Link className="tall-link" to={`/suppliers/${missing!.line}`}>
            Choose what to fetch
          </Link>
        </li>
      )}
      {unsized.length > 0 && (
        <li>
          <span className="mark look">{unsized.length} without a size</span> {names(unsized, "/gauge")}
        </li>
      )}
      {colorless.length > 0 && (
        <li>
          <span className="mark look">{colorless.length} without a colour</span> {names(colorless, "")}
        </li>
      )}
    </ul>
  );
}
