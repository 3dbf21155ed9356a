import { Link, useLocation } from "react-router";
import { z } from "zod";
import { FORMAT_KINDS } from "#core/gauge/formats";
import { readLibrarySearch } from "#core/library/librarySearch";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { readAsked, startChange } from "#server/change/commands";
import { database } from "#server/db/database";
import { searchChoices } from "../library/searchChoices";
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
import { Pages } from "../components/Pages";
import { fieldsOf, intent, intents, nameField } from "../fieldsOf";
import { act, look } from "../guard";
import { SearchSentence } from "../library/SearchSentence";
import { pageIn } from "../pageIn";
import { OwnFormats } from "../sizes/OwnFormats";
import { SizeSheet } from "../sizes/SizeSheet";
import { useCatchUp, useFresh } from "../view/live";
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
    searchChoices(db, search),
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
    case "take":
      return { change: await startChange(readAsked(asked.asked), person) };
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
  const { items, total, all, search, choices, own, page, next, range, mayMake } = loaderData;
  const { search: address } = useLocation();
  const counting = items.filter(({ modules }) => modules === null).length;
  useFresh(({ topic }) => topic === "library");
  useCatchUp(address, counting > 0);
  return (
    <div className="page sizes">
      <p className="path">
        <Link to="/library">Library</Link>
      </p>
      <h1>Sizes</h1>
      <div className="sentence-row">
        <SearchSentence search={search} choices={choices} total={total} all={all} sheet />
      </div>
      <SizeSheet key={address} {...loaderData} counting={counting} sheet={address} />
      <Pages page={page} next={next} range={range} />
      <OwnFormats formats={own} mayMake={mayMake} />
    </div>
  );
}
