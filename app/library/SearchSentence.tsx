import { useEffect, useRef, useState } from "react";
import { Dropdown } from "react-bootstrap";
import { Form, Link, useLocation, useSubmit } from "react-router";
import { SIZE_STATES } from "#core/finish/material";
import { FAMILIES } from "#core/finish/family";
import { SAMPLE_SORTS, searchParams, type LibrarySearch } from "#core/library/librarySearch";
import { SentenceChoice } from "../components/SentenceChoice";
import { SoughtPicture } from "./SoughtPicture";
import { usePictureSearch } from "./usePictureSearch";
import { CLAUSES, FIRST_COLOR, type Clause, type ClauseChoices } from "./clauses";

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
  /** On the sheet of those without a size: they are assumed at most. */
  sheet?: boolean;
}

/** The search reads as a sentence whose words are the controls; what it does not say yet can be added to it. */
export function SearchSentence({ search, choices, total, all, sheet = false }: SearchSentenceProps) {
  const submit = useSubmit();
  const { key, state } = useLocation();
  const form = useRef<HTMLFormElement>(null);
  const [q, setQ] = useState(search.q ?? "");
  const [added, setAdded] = useState<readonly string[]>([]);
  const [version, setVersion] = useState(0);
  // What a link says, the sentence says: its words are written anew then. What it said itself it leaves alone, since somebody may have
  // typed on meanwhile.
  const isOwn = (state as { isOwn?: boolean } | null)?.isOwn === true;
  const seen = useRef(key);
  useEffect(() => {
    if (seen.current === key) return;
    seen.current = key;
    if (isOwn) return;
    setQ(search.q ?? "");
    setAdded([]);
    setVersion((before) => before + 1);
  }, [key, isOwn, search.q]);
  // What was added is what comes next.
  const last = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (added.length > 0) last.current?.querySelector<HTMLElement>("input, select")?.focus();
  }, [added]);
  const pictures = usePictureSearch(search, sheet ? "/sizes" : "/library");
  const chosen = useRef<HTMLInputElement>(null);
  const isSaid = ({ offer, keys }: Clause) =>
    added.includes(offer) || keys.some((key) => search[key] !== undefined);
  const said = CLAUSES.filter(isSaid);
  const send = (change?: (fields: FormData) => void) => {
    const fields = new FormData(form.current!);
    for (const [name, value] of [...fields]) if (value === "") fields.delete(name);
    change?.(fields);
    void submit(fields, { replace: true, preventScrollReset: true, state: { isOwn: true } });
  };
  const leaveOut = ({ offer, keys }: Clause) => {
    setAdded((before) => before.filter((one) => one !== offer));
    send((fields) => keys.forEach((key) => fields.delete(key)));
  };
  const add = (offer: string) => {
    setAdded((before) => [...before, offer]);
    // A colour is chosen already as it is shown.
    if (offer === "a colour") send((fields) => fields.set("color", FIRST_COLOR));
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
        any={sheet ? "no size" : "any size"}
        options={sheet ? ["assumed"] : SIZE_STATES}
        words={(state) => `size ${state}`}
      />
      {said.map((clause) => (
        <span key={clause.offer} className="said" ref={clause.offer === added.at(-1) ? last : undefined}>
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
      {search.likePicture && (
        <span className="said">
          , looking like <input type="hidden" name="likePicture" value={search.likePicture} />
          <SoughtPicture picture={choices.likePicture} />
          <button
            type="button"
            aria-label="Leave out the picture"
            title="Leave this out"
            onClick={() => send((fields) => fields.delete("likePicture"))}
          >
            ×
          </button>
        </span>
      )}
      {pictures.sending && <span role="status">, sending {pictures.sending} …</span>}
      {pictures.trouble && (
        <span className="mark wrong" role="alert">
          {pictures.trouble}
        </span>
      )}
      ,{" "}
      <Dropdown as="span">
        <Dropdown.Toggle as="button" type="button" className="more">
          and…<span className="visually-hidden"> add to the sentence</span>
        </Dropdown.Toggle>
        <Dropdown.Menu className="more-offers">
          {CLAUSES.filter((clause) => !isSaid(clause)).map(({ offer }) => (
            <Dropdown.Item key={offer} as="button" type="button" onClick={() => add(offer)}>
              {offer}
            </Dropdown.Item>
          ))}
          <Dropdown.Item as="button" type="button" onClick={() => chosen.current?.click()}>
            a picture it looks like
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      {/* Without a name it is no part of what the sentence sends. */}
      <input
        ref={chosen}
        type="file"
        accept="image/*"
        hidden
        aria-label="A picture that it looks like"
        onChange={(event) => {
          event.stopPropagation();
          const [picture] = event.target.files ?? [];
          if (picture) pictures.find(picture);
          event.target.value = "";
        }}
      />
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
          <Link to={sheet ? "/sizes" : "/library"} className="all">
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
