import { useState } from "react";
import { Alert } from "react-bootstrap";
import { Form, Link, redirect } from "react-router";
import { z } from "zod";
import { MEANING_NAMES, MEANINGS, type Columns, type Meaning } from "#core/colorList/meaning";
import type { RowError } from "#core/colorList/readList";
import { WHITES } from "#core/colorList/white";
import { FAMILIES } from "#core/finish/family";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import {
  canUndo,
  changeColorList,
  listFactsSchema,
  makeColors,
  removeColorList,
  undoColors,
  wishSchema,
} from "#server/colorList/commands";
import { goneFrom, lookAtColors } from "#server/colorList/making";
import { findColorList, listSaid } from "#server/colorList/sql";
import { database } from "#server/db/database";
import { jsonField } from "#server/http/cleanForm";
import { badField } from "#server/problem";
import { ActButton } from "../components/ActButton";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, found, idOf, look } from "../guard";
import { ColorCard } from "../line/ColorCard";
import { listWords } from "../line/listWords";
import { useCatchUp, useFresh } from "../view/live";
import { moment } from "../view/moment";
import { useKept } from "../view/useKept";
import { useTitleBlock } from "../view/titleBlock";
import type { Route } from "./+types/colorList";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.list.name ?? "Colours"} – Kalonomy` },
];

/** So many rows are shown of each kind; the counts are of all. */
const SHOWN = 600;

export const loader = look(async ({ params, person }: Route.LoaderArgs & { person: Person }) => {
  const list = found(await findColorList(database(), idOf(params)), "list");
  const looked = list.state === "read" ? await lookAtColors(list) : [];
  const counts = { new: 0, changed: 0, same: 0, kept: 0 };
  for (const { is } of looked) counts[is]++;
  return {
    list,
    canUndo: canUndo(list),
    looked: (["changed", "kept", "new", "same"] as const).flatMap((kind) =>
      looked
        .filter(({ is }) => is === kind)
        .slice(0, SHOWN)
        .map(({ entry, is, material, now, said }) => ({
          ...{ row: entry.row, code: entry.code, name: entry.name, hex: entry.hex, gloss: entry.gloss },
          ...{ sheen: entry.sheen, outsideBy: entry.outsideBy, is, material, now, said },
        })),
    ),
    counts,
    gone: list.state === "done" ? await goneFrom(list) : 0,
    said: (
      await Promise.all((["changed", "kept"] as const).map((state) => listSaid(database(), list.id, state)))
    )
      .flat()
      .map(({ code, listed, said, material }) => ({
        code,
        name: listed.name,
        row: listed.row,
        said,
        material,
      })),
    mayMake: mayDo(person, "make"),
  };
});

const ACTS = intents(
  intent("read", {
    supplier: z.string("Say whose colours they are."),
    line: z.string("Say what the line is called."),
    family: z.enum(FAMILIES),
    wish: z.string().max(10_000),
  }),
  intent("make"),
  intent("undo"),
  intent("delete"),
);

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const fields = fieldsOf(form, ACTS);
    const id = idOf(params);
    switch (fields.intent) {
      case "make":
        await makeColors(id);
        return null;
      case "undo":
        await undoColors(id, person);
        return null;
      case "delete":
        await removeColorList(id);
        return redirect("/lines");
      case "read": {
        const wish = wishSchema.safeParse(jsonField(fields.wish));
        if (!wish.success) throw badField("/wish", "The columns cannot be read. Load the page again.");
        const { supplier, line: lineName, family } = fields;
        const facts = listFactsSchema.safeParse({ supplier, lineName, family, wish: wish.data });
        if (!facts.success) throw badField("/supplier", facts.error.issues[0].message);
        await changeColorList(id, facts.data);
        return null;
      }
    }
  },
);

/** One list of colours: what was read in it, what it would make, and what became of it. */
export default function ColorList({ loaderData, actionData: answer }: Route.ComponentProps) {
  const { list, looked, counts, gone, said, mayMake } = loaderData;
  const actionData = useKept(answer);
  const isBusy = ["reading", "making", "undoing"].includes(list.state);
  useFresh((event) => event.topic === "library" && event.id === list.id);
  useCatchUp(list.id, isBusy);
  const reading = list.table?.reading;
  useTitleBlock(list.lineName, listWords(list.state, list.counts));
  return (
    <div className="page">
      <p className="path">
        <Link to="/library">Library</Link> / <Link to="/lines">Lines</Link>
      </p>
      <div className="sentence-row">
        <h1>{list.name}</h1>
        <div className="acts">
          {list.line && (
            <Link className="btn btn-outline-secondary btn-sm" to={`/lines/${list.line}`}>
              Open the line
            </Link>
          )}
          {mayMake && list.state === "read" && reading && counts.new + counts.changed > 0 && (
            <ActButton intent="make" isMain>
              {makeWords(counts)}
            </ActButton>
          )}
          {mayMake && list.state === "done" && (list.counts.waiting ?? 0) > 0 && (
            <ActButton intent="make" isMain>
              {`Make the other ${list.counts.waiting}`}
            </ActButton>
          )}
          {mayMake && loaderData.canUndo && <ActButton intent="undo">Undo</ActButton>}
          {mayMake && list.doneAt === null && !isBusy && <ActButton intent="delete">Delete</ActButton>}
        </div>
      </div>
      <p className="dim">
        {list.supplier}, handed in by {list.madeBy}, {moment(list.madeAt)}
      </p>
      <Refusal result={actionData} />
      {list.failure && (
        <Alert variant="warning" role="alert">
          {list.failure}
        </Alert>
      )}
      <p role="status">
        {list.state === "reading"
          ? "It is being read …"
          : list.state === "read" && reading
            ? readWords(counts)
            : list.state === "read"
              ? ""
              : `${listWords(list.state, list.counts)}.`}
        {reading && list.state === "read" && mayMake && (
          <>
            {" "}
            <a href="#how-read">How it is read</a>
          </>
        )}
        {gone > 0 &&
          ` ${gone} ${gone === 1 ? "colour" : "colours"} of the line ${gone === 1 ? "stands" : "stand"} in this list no more, and ${gone === 1 ? "stays" : "stay"}.`}
      </p>
      {list.state === "read" && list.table?.lacking && (
        <p className="mark look" role="alert">
          {list.table.lacking}
        </p>
      )}
      {reading && (
        <ul className="list-notes">
          {reading.notes.map((note) => (
            <li key={note}>{note}</li>
          ))}
        </ul>
      )}
      {reading && <RowErrors {...reading} />}
      <ColorCard colors={looked} counts={counts} />
      {said.length > 0 && (
        <section>
          <h2>What was changed, and what was left</h2>
          <ul className="row-errors">
            {said.map(({ code, name, row, said, material }) => (
              <li key={row}>
                {material ? <Link to={`/materials/${material}`}>{name}</Link> : name}{" "}
                <span className="tag-code">{code}</span> {said}
              </li>
            ))}
          </ul>
        </section>
      )}
      {list.table && list.doneAt === null && mayMake && (
        <HowRead key={JSON.stringify([list.wish, list.table?.columns])} list={list} />
      )}
    </div>
  );
}

/** So many stand open; more are folded under their count. */
const OPEN = 6;

/** The rows that are no colour, each with what is wrong in it. */
function RowErrors({ errors, errorCount }: { errors: RowError[]; errorCount: number }) {
  if (errorCount === 0) return null;
  return (
    <details className="row-errors-of" open={errorCount <= OPEN}>
      <summary className="mark look">
        {errorCount} {errorCount === 1 ? "row is" : "rows are"} no colour
      </summary>
      <ul className="row-errors">
        {errors.map(({ row, code, detail }) => (
          <li key={row}>
            <span className="number">row {row}</span>
            {code && <span className="tag-code">{code}</span>} {detail}
          </li>
        ))}
      </ul>
      {errorCount > errors.length && <p className="dim">The first {errors.length} are shown.</p>}
    </details>
  );
}

type Counts = Route.ComponentProps["loaderData"]["counts"];

const makeWords = (counts: Counts) =>
  [
    counts.new > 0 && `Make ${counts.new}`,
    counts.changed > 0 && `${counts.new > 0 ? "change" : "Change"} ${counts.changed}`,
  ]
    .filter(Boolean)
    .join(", ");

const readWords = (counts: Counts) =>
  `${[
    `${counts.new} ${counts.new === 1 ? "is" : "are"} new`,
    counts.changed > 0 && `${counts.changed} would change`,
    counts.same > 0 && `${counts.same} ${counts.same === 1 ? "is" : "are"} there as listed`,
    counts.kept > 0 && `${counts.kept} ${counts.kept === 1 ? "stays" : "stay"} as changed here`,
  ]
    .filter(Boolean)
    .join(", ")}.`;

/** The table as it came, with what each column is taken for: to be corrected, and read again. */
function HowRead({ list }: { list: Route.ComponentProps["loaderData"]["list"] }) {
  const table = list.table!;
  const [columns, setColumns] = useState<Columns>(table.columns);
  const [white, setWhite] = useState<string>(
    table.reading?.whiteFrom === "said" || table.reading?.whiteFrom === "told" ? table.reading.white! : "",
  );
  const [sheet, setSheet] = useState(table.sheet);
  const isMeasured = ["lightness", "lab", "chromaX"].some((one) => columns[one as Meaning] !== undefined);
  const wish = {
    ...(sheet && { sheet }),
    // Of another sheet the columns are told anew.
    ...(sheet === table.sheet && { columns }),
    ...(white && { white }),
  };
  const meaningAt = (place: number) => MEANINGS.find((one) => columns[one] === place) ?? "";
  const choose = (place: number, meaning: string) => {
    const rest = Object.fromEntries(
      Object.entries(columns).filter(([one, at]) => at !== place && one !== meaning),
    ) as Columns;
    setColumns(meaning === "" ? rest : { ...rest, [meaning]: place });
  };
  return (
    <Form method="post" className="how-read" preventScrollReset>
      <h2 id="how-read">How it is read</h2>
      <input type="hidden" name="intent" value="read" />
      <input type="hidden" name="wish" value={JSON.stringify(wish)} />
      <div className="how-fields">
        <label>
          Supplier <input name="supplier" defaultValue={list.supplier} maxLength={200} required />
        </label>
        <label>
          Line <input name="line" defaultValue={list.lineName} maxLength={200} required />
        </label>
        <label>
          Family{" "}
          <select name="family" defaultValue={list.family}>
            {FAMILIES.map((family) => (
              <option key={family}>{family}</option>
            ))}
          </select>
        </label>
        {table.sheets.length > 1 && (
          <label>
            Sheet{" "}
            <select value={sheet} onChange={(event) => setSheet(event.target.value)}>
              {table.sheets.map((name) => (
                <option key={name}>{name}</option>
              ))}
            </select>
          </label>
        )}
        {isMeasured && (
          <label>
            Measured under{" "}
            <select value={white} onChange={(event) => setWhite(event.target.value)}>
              <option value="">not said</option>
              {WHITES.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
          </label>
        )}
        <Button type="submit" size="sm" variant="outline-secondary">
          Read again
        </Button>
      </div>
      <div className="table-scroll" tabIndex={0} role="region" aria-label="The first rows of the table">
        <table className="ledger tight came">
          <thead>
            <tr>
              {table.headings.map((heading, place) => (
                <th key={place} scope="col">
                  <select
                    aria-label={`Column ${place + 1}${heading ? `, ${heading}` : ""}, says`}
                    className={meaningAt(place) === "" ? "unsaid" : undefined}
                    value={meaningAt(place)}
                    onChange={(event) => choose(place, event.target.value)}
                  >
                    <option value="">nothing that is used</option>
                    {MEANINGS.map((meaning) => (
                      <option key={meaning} value={meaning}>
                        {MEANING_NAMES[meaning]}
                      </option>
                    ))}
                  </select>
                  <span className="came-heading">{heading}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {table.sample.map((row, at) => (
              <tr key={at}>
                {row.map((cell, place) => (
                  <td key={place}>{cell}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Form>
  );
}
