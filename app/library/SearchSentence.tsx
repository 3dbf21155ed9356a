import { useEffect, useRef, useState } from "react";
import { Form, Link, useSearchParams, useSubmit } from "react-router";
import { SIZE_STATES } from "#core/finish/material";
import { FAMILIES } from "#core/finish/family";
import { SAMPLE_SORTS, searchParams, type LibrarySearch } from "#core/library/librarySearch";
import { SentenceChoice } from "../components/SentenceChoice";
import { CLAUSES, type Clause, type ClauseChoices } from "./clauses";

const SORT_WORDS: Record<string, string> = {
  name: "by name",
  newest: "newest first",
  used: "most used first",
  color: "by colour",
  size: "largest repeat first",
};

interface SearchSentenceProps {
  search: LibrarySearch;
  choices: ClauseChoices;
  total: number;
  all: number;
}

/** The search reads as a sentence whose words are the controls; what it does not say yet can be added to it. */
export function SearchSentence({ search, choices, total, all }: SearchSentenceProps) {
  const submit = useSubmit();
  const [params] = useSearchParams();
  const form = useRef<HTMLFormElement>(null);
  const [q, setQ] = useState(search.q ?? "");
  const [added, setAdded] = useState<readonly string[]>([]);
  useEffect(() => setQ(search.q ?? ""), [search.q]);
  // What a link says, the sentence says: its words are written anew then, and not while somebody changes them.
  const [version, setVersion] = useState(0);
  const own = useRef(params.toString());
  useEffect(() => {
    if (own.current === params.toString()) return;
    own.current = params.toString();
    setAdded([]);
    setVersion((before) => before + 1);
  }, [params]);
  const isSaid = ({ offer, keys }: Clause) =>
    added.includes(offer) || keys.some((key) => search[key] !== undefined);
  const said = CLAUSES.filter(isSaid);
  const send = (change?: (fields: FormData) => void) => {
    const fields = new FormData(form.current!);
    for (const [name, value] of [...fields]) if (value === "") fields.delete(name);
    change?.(fields);
    own.current = new URLSearchParams([...fields] as [string, string][]).toString();
    void submit(fields, { replace: true, preventScrollReset: true });
  };
  const leaveOut = ({ offer, keys }: Clause) => {
    setAdded((before) => before.filter((one) => one !== offer));
    send((fields) => keys.forEach((key) => fields.delete(key)));
  };
  const add = (offer: string) => {
    setAdded((before) => [...before, offer]);
    // A colour is chosen already as it is shown.
    if (offer === "a colour") send((fields) => fields.set("color", "#9a7b5c"));
  };
  return (
    <Form ref={form} key={version} method="get" className="sentence" role="search" onChange={() => send()}>
      Showing{" "}
      <input
        type="search"
        name="q"
        value={q}
        onChange={(event) => setQ(event.target.value)}
        placeholder="every name and colour"
        aria-label="Words in name, code, tag, supplier, line, family or colour"
        title="Names, codes, tags, suppliers, lines, families and colours, in any order: oak, wood, pale grey, warm white"
        size={Math.max(20, q.length)}
      />{" "}
      of{" "}
      <SentenceChoice
        name="family"
        label="Family"
        value={search.family}
        any="any family"
        options={FAMILIES}
      />{" "}
      with{" "}
      <SentenceChoice
        name="sizeState"
        label="Size"
        value={search.sizeState}
        any="any size"
        options={SIZE_STATES}
        words={(state) => `size ${state}`}
      />
      {said.map((clause) => (
        <span key={clause.offer} className="said">
          , {clause.write(search, choices)}
          <button
            type="button"
            aria-label={`Leave out ${clause.offer}`}
            title="Leave this out"
            onClick={() => leaveOut(clause)}
          >
            ×
          </button>
        </span>
      ))}
      {search.like && (
        <span className="said">
          , looking like <input type="hidden" name="like" value={search.like} />
          {choices.like ? (
            <Link to={`/materials/${choices.like.id}`}>{choices.like.name}</Link>
          ) : (
            "something that is gone"
          )}
          <button
            type="button"
            aria-label="Leave out what it looks like"
            title="Leave this out"
            onClick={() => send((fields) => fields.delete("like"))}
          >
            ×
          </button>
        </span>
      )}
      ,{" "}
      <select
        className="more"
        aria-label="Add to the sentence"
        value=""
        onChange={(event) => {
          event.stopPropagation();
          add(event.target.value);
        }}
      >
        <option value="">and…</option>
        {CLAUSES.filter((clause) => !isSaid(clause)).map(({ offer }) => (
          <option key={offer} value={offer}>
            {offer}
          </option>
        ))}
      </select>
      ,{" "}
      <SentenceChoice
        name="sort"
        label="Order"
        value={search.sort}
        any="in the usual order"
        options={SAMPLE_SORTS.filter((sort) => sort !== "fit")}
        words={(sort) => SORT_WORDS[sort]}
      />
      : <strong>{total}</strong> of {all}.
      {searchParams(search).length > 0 && (
        <>
          {" "}
          <Link to="/library" className="all">
            Show all
          </Link>
        </>
      )}
      <noscript>
        <button type="submit">Show</button>
      </noscript>
    </Form>
  );
}
