import { useState } from "react";
import { Link, useFetcher, useLocation } from "react-router";
import { z } from "zod";
import { FORMAT_KINDS } from "#core/gauge/formats";
import { readLibrarySearch } from "#core/library/librarySearch";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { readAsked, startChange } from "#server/change/commands";
import { database } from "#server/db/database";
import { listSearchChoices } from "#server/material/choices";
import { countMaterials } from "#server/material/queries";
import { jsonField } from "#server/http/cleanForm";
import {
  createFormat,
  deleteFormat,
  listFormats,
  listOwnFormats,
  newFormatSchema,
} from "#server/sizing/formats";
import { readSizeSheet } from "#server/sizing/sheet";
import { ChangeStatus } from "../change/ChangeStatus";
import { Button } from "../components/Button";
import { Empty } from "../components/Empty";
import { Pages } from "../components/Pages";
import { Refusal } from "../components/Refusal";
import { fieldsOf, intent, intents, nameField } from "../fieldsOf";
import { act, look } from "../guard";
import { SearchSentence } from "../library/SearchSentence";
import { pageIn } from "../pageIn";
import { refusalOf } from "../refusal";
import { alikeOf, cardState, type CardEdit, type CardState } from "../sizes/cardState";
import { OwnFormats } from "../sizes/OwnFormats";
import { SizeCard } from "../sizes/SizeCard";
import { useCatchUp, useFresh } from "../view/live";
import { useTitleBlock } from "../view/titleBlock";
import { useView } from "../view/viewContext";
import type { Route } from "./+types/sizes";

export const meta: Route.MetaFunction = () => [{ title: "Sizes – Kalonomy" }];

/** Cards on one page: as many as one looks over, and are soon counted. */
const CARDS = 24;

export const loader = look(async ({ request, person }: Route.LoaderArgs & { person: Person }) => {
  const search = readLibrarySearch(new URL(request.url).searchParams);
  const page = pageIn(request);
  const db = database();
  const [{ items, total }, all, choices, formats, own] = await Promise.all([
    readSizeSheet(db, search, { offset: (page - 1) * CARDS, limit: CARDS }),
    countMaterials(db),
    listSearchChoices(db, search),
    listFormats(db),
    listOwnFormats(db),
  ]);
  const last = Math.min(total, page * CARDS);
  return {
    ...{ items, total, all, search, choices, formats, own, page },
    next: last < total ? page + 1 : null,
    range: total > 0 ? `${(page - 1) * CARDS + 1}–${last} of ${total}` : "",
    mayMake: mayDo(person, "make"),
  };
});

const ACTS = intents(
  intent("take", { asked: z.string().max(1_000_000) }),
  intent("keep-format", {
    name: nameField("the format"),
    kind: z.enum(FORMAT_KINDS),
    module: z.string().max(2000),
  }),
  intent("delete-format", { format: z.uuid() }),
);

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const asked = fieldsOf(form, ACTS);
  switch (asked.intent) {
    case "take": {
      return { change: await startChange(readAsked(asked.asked), person) };
    }
    case "keep-format": {
      const { name, kind } = asked;
      const module = z.looseObject({}).parse(jsonField(asked.module));
      await createFormat(newFormatSchema.parse({ ...module, name, kind }), person);
      return {};
    }
    case "delete-format":
      await deleteFormat(asked.format);
      return {};
  }
});

export default function Sizes({ loaderData }: Route.ComponentProps) {
  const { items, total, all, search, choices, formats, own, page, next, range, mayMake } = loaderData;
  const { unit } = useView();
  const { search: address } = useLocation();
  const fetcher = useFetcher<typeof action>();
  const [edits, setEdits] = useState<Record<string, CardEdit>>({});
  // What was asked for stays marked until the sheet is read anew without it; a new revision has to be looked at again.
  const [taken, setTaken] = useState<ReadonlySet<string>>(new Set());
  const counting = items.filter(({ modules }) => modules === null).length;
  useFresh(({ topic }) => topic === "library" || topic === "change");
  useCatchUp(address, counting > 0);
  const states = items.map((item) => cardState(item, edits[item.id] ?? {}, unit));
  const keyOf = ({ item }: CardState) => `${item.id} ${item.revision}`;
  const isTaken = (state: CardState) => taken.has(keyOf(state));
  const sure = states.filter((state) => state.isSure && !isTaken(state));
  useTitleBlock(
    `${total} without a size`,
    counting > 0 ? `${counting} being counted` : `${sure.length} of this page sure`,
  );

  const send = (sizes: { state: CardState; method: NonNullable<CardState["size"]>["method"] }[]) => {
    const asked = {
      kind: "size",
      items: sizes.map(({ state: { item }, method }) => ({
        ...{ material: item.id, seen: item.revision },
        size: method.method === "same-as" ? { method: method.method, material: method.material } : method,
      })),
    };
    void fetcher.submit({ intent: "take", asked: JSON.stringify(asked) }, { method: "post" });
    setTaken((before) => new Set([...before, ...sizes.map(({ state }) => keyOf(state))]));
  };
  const refused = refusalOf(fetcher.data);
  const change = fetcher.data && !refused && "change" in fetcher.data ? fetcher.data.change : undefined;

  return (
    <div className="page sizes">
      <p className="path">
        <Link to="/library">Library</Link>
      </p>
      <h1>Sizes</h1>
      <div className="sentence-row">
        <SearchSentence search={search} choices={choices} total={total} all={all} sheet />
        {mayMake && items.length > 0 && (
          <div className="acts">
            <Button
              disabled={sure.length === 0}
              aria-describedby="sure-why"
              onClick={() => send(sure.map((state) => ({ state, method: state.size!.method })))}
            >
              Take the {sure.length} sure {sure.length === 1 ? "one" : "ones"}
            </Button>
          </div>
        )}
      </div>
      <p className="aside" id="sure-why" role="status">
        {counting > 0 && `${counting} ${counting === 1 ? "is" : "are"} still being counted. `}
        {items.length > 0 &&
          (sure.length > 0
            ? `Of ${sure.length} the count is sure, and a name or the line says what they are made of.`
            : "None is sure: look at what is drawn over each, and take it or correct it.")}
      </p>
      {change && (
        <ChangeStatus
          key={change}
          id={change}
          onRefused={(ids) =>
            setTaken((before) => new Set([...before].filter((key) => !ids.some((id) => key.startsWith(id)))))
          }
        />
      )}
      <Refusal result={fetcher.data} />
      {items.length === 0 ? (
        <Empty title={page > 1 ? "No more on this page" : "Nothing here is without a size"}>
          <p>
            {page > 1 ? (
              <Link to="?">Show the first page</Link>
            ) : (
              <Link to="/library">Back to the library</Link>
            )}
          </p>
        </Empty>
      ) : (
        <ul className="size-sheet" aria-label="Materials without a size">
          {states.map((state) => {
            const { item } = state;
            const alike = alikeOf(state, states).filter(({ state: other }) => !isTaken(other));
            return (
              <SizeCard
                key={keyOf(state)}
                {...{ state, formats, unit, mayMake }}
                alike={alike.length}
                sheet={address}
                isTaken={isTaken(state)}
                onEdit={(edit) =>
                  setEdits((before) => ({ ...before, [item.id]: { ...before[item.id], ...edit } }))
                }
                onTake={(withAlike) =>
                  send([{ state, method: state.size!.method }, ...(withAlike ? alike : [])])
                }
              />
            );
          })}
        </ul>
      )}
      <Pages page={page} next={next} range={range} />
      <OwnFormats formats={own} mayMake={mayMake} />
    </div>
  );
}
