import { useEffect, useState } from "react";
import { Link, useFetcher } from "react-router";
import type { Format } from "#core/gauge/formats";
import type { Unsized } from "#server/sizing/sheet";
import { ChangeStatus } from "../change/ChangeStatus";
import { Button } from "../components/Button";
import { Empty } from "../components/Empty";
import { Refusal } from "../components/Refusal";
import { refusalOf, type Refused } from "../refusal";
import { useTitleBlock } from "../view/titleBlock";
import { useView } from "../view/viewContext";
import { alikeOf, cardState, type CardEdit, type CardState } from "./cardState";
import { heldItems } from "./heldItems";
import { SizeCard } from "./SizeCard";
import { SureOfAll } from "./SureOfAll";
import { askedOf, type Take } from "./takes";

/** What taking sizes answers. */
type Answer = { change: string } | Refused;

interface SizeSheetProps {
  items: Unsized[];
  total: number;
  formats: Format[];
  page: number;
  mayMake: boolean;
  /** How many on it are still being counted. */
  counting: number;
  /** Its address, to come back to. */
  sheet: string;
}

/** The cards of one sheet, and what is taken on it. */
export function SizeSheet({ items, total, formats, page, mayMake, counting, sheet }: SizeSheetProps) {
  const { unit } = useView();
  const fetcher = useFetcher<Answer>();
  const [edits, setEdits] = useState<Record<string, CardEdit>>({});
  // The revision at which each was taken: one that is put back has another, and can be taken again.
  const [taken, setTaken] = useState<ReadonlyMap<string, number>>(new Map());
  const [held, setHeld] = useState(items);
  const [seen, setSeen] = useState(items);
  if (seen !== items) {
    setSeen(items);
    setHeld(heldItems(held, items, (id) => taken.has(id)));
  }
  const there = new Set(items.map(({ id }) => id));
  const isTaken = ({ item }: CardState) => !there.has(item.id) || taken.get(item.id) === item.revision;
  const states = held.map((item) => cardState(item, edits[item.id] ?? {}, unit));
  const sure = states.filter((state) => state.isSure && !isTaken(state));
  useTitleBlock(
    `${total} without a size`,
    counting > 0 ? `${counting} being counted` : `${sure.length} of this page sure`,
  );

  // What is taken while something else is on its way goes with the next.
  const [waiting, setWaiting] = useState<readonly Take[]>([]);
  const [sent, setSent] = useState<readonly string[]>([]);
  const { state: way, submit } = fetcher;
  useEffect(() => {
    if (way !== "idle" || waiting.length === 0) return;
    setSent(waiting.map(({ material }) => material));
    setWaiting([]);
    void submit({ intent: "take", asked: askedOf(waiting) }, { method: "post", action: "/sizes" });
  }, [way, waiting, submit]);
  const take = (takes: Take[]) => {
    setWaiting((before) => [...before, ...takes]);
    setTaken(
      (before) => new Map([...before, ...takes.map(({ material, seen }) => [material, seen] as const)]),
    );
  };
  const putBack = (ids: readonly string[]) =>
    setTaken((before) => new Map([...before].filter(([id]) => !ids.includes(id))));
  const refused = refusalOf(fetcher.data);
  useEffect(() => {
    if (refused) putBack(sent);
  }, [refused, sent]);
  const change = fetcher.data && !refused && "change" in fetcher.data ? fetcher.data.change : undefined;

  return (
    <>
      {held.length > 0 && (
        <div className="size-acts-row">
          <p className="aside" id="sure-why" role="status">
            {counting > 0 && `${counting} ${counting === 1 ? "is" : "are"} still being counted. `}
            {sure.length > 0
              ? `Of ${sure.length} the count is sure, and a name or the line says what they are made of.`
              : counting < held.length &&
                "None is sure: look at what is drawn over each, and take it or correct it."}
          </p>
          {mayMake && (
            <Button
              disabled={sure.length === 0}
              aria-describedby="sure-why"
              onClick={() => take(sure.map((state) => takeOf(state)))}
            >
              Take the {sure.length} sure {sure.length === 1 ? "one" : "ones"}
            </Button>
          )}
          {mayMake && total > items.length && (
            <SureOfAll key={sheet} sheet={sheet} total={total} onTake={take} />
          )}
        </div>
      )}
      {change && <ChangeStatus key={change} id={change} onRefused={putBack} />}
      <Refusal result={fetcher.data} />
      {held.length === 0 ? (
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
                key={`${item.id} ${item.revision}`}
                {...{ state, formats, unit, mayMake, sheet }}
                alike={alike.length}
                isTaken={isTaken(state)}
                onEdit={(edit) =>
                  setEdits((before) => ({ ...before, [item.id]: { ...before[item.id], ...edit } }))
                }
                onTake={(withAlike) =>
                  take([
                    takeOf(state),
                    ...(withAlike ? alike : []).map(({ state: other, method }) => takeOf(other, method)),
                  ])
                }
              />
            );
          })}
        </ul>
      )}
    </>
  );
}

const takeOf = ({ item, size }: CardState, method = size!.method): Take => ({
  ...{ material: item.id, seen: item.revision, method },
});
