import { useEffect, useRef, useState } from "react";
import { Alert } from "react-bootstrap";
import { Form, Link, useNavigate, useSearchParams, useSubmit } from "react-router";
import { z } from "zod";
import {
  FAMILIES,
  FIRE_CLASSES,
  SLIP_CLASSES,
  USES,
  type Catalogue,
  type Line,
  type Product,
} from "#core/supply/catalogue";
import { filterLines, type LineFilter } from "#core/supply/filterLines";
import { heldVariant } from "#core/supply/heldVariant";
import { database } from "#server/db/database";
import { listHeld } from "#server/supplier/queries";
import { readCatalogue } from "#server/supplier/catalogue";
import { Button } from "../components/Button";
import { Empty } from "../components/Empty";
import { look } from "../guard";
import { factsOf } from "../supplier/factsOf";
import { SentenceChoice } from "../components/SentenceChoice";
import { ProductPatch } from "../supplier/ProductPatch";
import { useTitleBlock } from "../view/titleBlock";
import { useView } from "../view/viewContext";
import type { Route } from "./+types/suppliers";

export const meta: Route.MetaFunction = () => [{ title: "Suppliers – Kalonomy" }];

const filterSchema = z.object({
  words: z.string().max(200).optional().catch(undefined),
  family: z.enum(FAMILIES).optional().catch(undefined),
  supplier: z.string().min(1).max(120).optional().catch(undefined),
  use: z.enum(USES).optional().catch(undefined),
  frost: z
    .literal("yes")
    .transform(() => true)
    .optional()
    .catch(undefined),
  slip: z.enum(SLIP_CLASSES).optional().catch(undefined),
  fire: z.enum(FIRE_CLASSES).optional().catch(undefined),
});

/** Products of a line that are shown beside it. */
const STRIP = 8;

export const loader = look(async ({ request }: Route.LoaderArgs) => {
  const filter: LineFilter = filterSchema.parse(Object.fromEntries(new URL(request.url).searchParams));
  const [{ catalogue, fault }, held] = await Promise.all([readCatalogue(), listHeld(database())]);
  if (!catalogue) return { catalogue: null, fault, filter };
  const shown = filterLines(catalogue.lines, filter);
  return {
    fault,
    filter,
    catalogue: {
      suppliers: catalogue.suppliers.map(({ name }) => name),
      lines: catalogue.lines.length,
    },
    products: shown.reduce((sum, { products }) => sum + products.length, 0),
    shown: shown.map(({ line, products }) => {
      const own = held.filter(({ supplier }) => supplier === line.supplier);
      return {
        line: { ...line, products: [] as Product[] },
        products: products.slice(0, STRIP),
        more: Math.max(0, products.length - STRIP),
        place: placeOf(catalogue, line),
        held: products.filter((product) => heldVariant(own, product, null)).map(({ code }) => code),
      };
    }),
  };
});

const placeOf = ({ suppliers }: Catalogue, { supplier }: Line) =>
  suppliers.find(({ name }) => name === supplier)?.place ?? "";

export default function Suppliers({ loaderData }: Route.ComponentProps) {
  const { catalogue, fault, filter } = loaderData;
  const [compared, setCompared] = useState<string[]>([]);
  const navigate = useNavigate();
  useTitleBlock(
    compared.length === 0
      ? "nothing"
      : `${compared.length} ${compared.length === 1 ? "line" : "lines"} to compare`,
    "",
  );
  return (
    <div className="page">
      <h1 className="visually-hidden">Suppliers</h1>
      {fault && (
        <Alert variant="warning">
          {fault} {catalogue && "What is shown was read before."}
        </Alert>
      )}
      {!catalogue && !fault && (
        <Empty title="No supplier's service is set up">
          <p>
            Whoever runs the server names its address in <span className="file">KALONOMY_SUPPLIERS</span>.
          </p>
        </Empty>
      )}
      {catalogue && loaderData.shown && (
        <>
          <div className="sentence-row">
            <OfferSentence
              filter={filter}
              suppliers={catalogue.suppliers}
              lines={loaderData.shown.length}
              all={catalogue.lines}
              products={loaderData.products}
            />
            {compared.length === 0 && (
              <Link className="tall-link" to="/lines">
                Lines in the library
              </Link>
            )}
            {compared.length > 1 && (
              <Button
                size="sm"
                onClick={() =>
                  void navigate(
                    `/suppliers/compare?${new URLSearchParams(compared.map((id) => ["line", id]))}`,
                  )
                }
              >
                Compare {compared.length} side by side
              </Button>
            )}
          </div>
          {loaderData.shown.length === 0 && (
            <Empty title="Nothing fits">
              <p>
                No line has all of this. What a supplier does not state does not count as fitting.{" "}
                <Link to="/suppliers">Show everything</Link>.
              </p>
            </Empty>
          )}
          {loaderData.shown.map((offer) => (
            <Offer
              key={offer.line.id}
              {...offer}
              compared={compared.includes(offer.line.id)}
              full={compared.length >= 4}
              onCompare={(yes) =>
                setCompared((before) =>
                  yes ? [...before, offer.line.id] : before.filter((id) => id !== offer.line.id),
                )
              }
            />
          ))}
        </>
      )}
    </div>
  );
}

interface OfferProps {
  line: Line;
  products: Product[];
  more: number;
  place: string;
  held: string[];
  compared: boolean;
  full: boolean;
  onCompare(yes: boolean): void;
}

/** One line: what it is on the left, its products at the drawing scale on the right. */
function Offer({ line, products, more, place, held, compared, full, onCompare }: OfferProps) {
  const { unit } = useView();
  return (
    <article className="offer" aria-labelledby={`line-${line.id}`}>
      <div className="offer-words">
        <h2 id={`line-${line.id}`}>
          <Link to={`/suppliers/${line.id}`}>{line.name}</Link>
        </h2>
        <p className="dim">
          {line.supplier}, {place}
        </p>
        <p className="offer-facts">{factsOf(line, unit).join(" · ")}</p>
        <label className="compare-choice">
          <input
            type="checkbox"
            checked={compared}
            disabled={full && !compared}
            onChange={(event) => onCompare(event.target.checked)}
          />{" "}
          compare<span className="visually-hidden"> {line.name}</span>
        </label>
      </div>
      <ul className="strip" aria-label={`Products of ${line.name}`}>
        {products.map((product) => (
          <li key={product.code}>
            <Link to={`/suppliers/${line.id}?product=${product.code}`} aria-label={product.name}>
              <ProductPatch line={line} product={product} side={124} />
            </Link>
            <span className="strip-name" title={product.name}>
              {product.colour}
            </span>
            {held.includes(product.code) && <span className="mark known">in the library</span>}
          </li>
        ))}
        {more > 0 && (
          <li className="strip-more">
            <Link to={`/suppliers/${line.id}`}>and {more} more</Link>
          </li>
        )}
      </ul>
    </article>
  );
}

interface OfferSentenceProps {
  filter: LineFilter;
  suppliers: string[];
  lines: number;
  all: number;
  products: number;
}

function OfferSentence({ filter, suppliers, lines, all, products }: OfferSentenceProps) {
  const submit = useSubmit();
  const [params] = useSearchParams();
  const form = useRef<HTMLFormElement>(null);
  const empty = params.toString() === "";
  // "Show everything" is a link: the sentence has to say so too, without losing the place of whoever types in it.
  useEffect(() => {
    if (!empty) return;
    for (const field of form.current?.elements ?? [])
      if (field instanceof HTMLSelectElement || field instanceof HTMLInputElement) field.value = "";
  }, [empty]);
  return (
    <Form
      ref={form}
      method="get"
      className="sentence"
      role="search"
      onChange={(event) => {
        const form = new FormData(event.currentTarget);
        for (const [name, value] of [...form]) if (value === "") form.delete(name);
        void submit(form, { replace: true, preventScrollReset: true });
      }}
    >
      On offer:{" "}
      <SentenceChoice
        name="family"
        label="Family"
        value={filter.family}
        any="everything"
        options={FAMILIES}
      />{" "}
      from{" "}
      <SentenceChoice
        name="supplier"
        label="Supplier"
        value={filter.supplier}
        any="any supplier"
        options={suppliers}
      />{" "}
      for <SentenceChoice name="use" label="Place of use" value={filter.use} any="any place" options={USES} />
      ,{" "}
      <SentenceChoice
        name="frost"
        label="Frost"
        value={filter.frost ? "yes" : undefined}
        any="frost or not"
        options={["yes"]}
        words={() => "stands frost"}
      />
      , slip{" "}
      <SentenceChoice
        name="slip"
        label="Slip class"
        value={filter.slip}
        any="of any class"
        options={SLIP_CLASSES}
        words={(slip) => `${slip} or more`}
      />
      , fire{" "}
      <SentenceChoice
        name="fire"
        label="Fire class"
        value={filter.fire}
        any="of any class"
        options={FIRE_CLASSES}
        words={(fire) => `${fire} or better`}
      />
      , called{" "}
      <input
        type="search"
        name="words"
        defaultValue={filter.words ?? ""}
        placeholder="anything"
        aria-label="Words in line, product, colour or code"
        size={14}
      />
      : <strong>{lines}</strong> of {all} lines, {products} {products === 1 ? "product" : "products"}.
      <noscript>
        <button type="submit">Show</button>
      </noscript>
    </Form>
  );
}
