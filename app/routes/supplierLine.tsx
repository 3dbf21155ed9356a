import { useMemo, useState } from "react";
import { Form, Link, redirect, useSearchParams } from "react-router";
import { ROLE_NAMES } from "#core/roles/roles";
import { FILE_TYPES, keyOf, type Line } from "#core/supply/catalogue";
import { compareLines } from "#core/supply/compareLines";
import { heldVariant } from "#core/supply/heldVariant";
import { orderBytes } from "#core/supply/orderBytes";
import { mayDo } from "#server/auth/levels";
import { database } from "#server/db/database";
import type { Person } from "#server/auth/person";
import { listHeld } from "#server/supplier/queries";
import { readCatalogue } from "#server/supplier/catalogue";
import { startFetch } from "#server/intake/fetching";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { act, found, look } from "../guard";
import { ProductPatch } from "../supplier/ProductPatch";
import { readOrder } from "../supplier/readOrder";
import { useKept } from "../view/useKept";
import { useTitleBlock } from "../view/titleBlock";
import { useView } from "../view/viewContext";
import type { Route } from "./+types/supplierLine";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.line.name ?? "Line"} – Kalonomy` },
];

async function findLine(id: string | undefined): Promise<Line> {
  const { catalogue } = await readCatalogue();
  return found(
    catalogue?.lines.find((line) => line.id === id),
    "line",
  );
}

export const loader = look(async ({ params, person }: Route.LoaderArgs & { person: Person }) => {
  const line = await findLine(params.line);
  const held = await listHeld(database(), line.supplier);
  return {
    line,
    mayMake: mayDo(person, "make"),
    /** Materials of the library by variant. */
    held: Object.fromEntries(
      line.products.flatMap((product) =>
        jointsOf(product).flatMap((joint) => {
          const there = heldVariant(held, product, joint);
          return there ? [[keyOf(product.code, joint), { id: there.id, name: there.name }]] : [];
        }),
      ),
    ),
  };
});

const jointsOf = ({ joints }: Line["products"][number]): (string | null)[] =>
  joints.length === 0 ? [null] : joints.map(({ id }) => id);

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const line = await findLine(params.line);
    const { id } = await startFetch(readOrder(form, line), {}, person);
    return redirect(`/intakes/${id}`);
  },
);

/** One line: its facts, its variants, and what is to be fetched of them. */
export default function SupplierLine({ loaderData, actionData: answer }: Route.ComponentProps) {
  const { line, held, mayMake } = loaderData;
  const actionData = useKept(answer);
  const { unit } = useView();
  const [params] = useSearchParams();
  const asked = params.get("product");
  const askedJoint = params.get("joint");
  const plain = line.layout === "plain";
  const [ticked, setTicked] = useState(
    () =>
      new Set(
        line.products
          .filter(({ code }) => (asked ? code === asked : !plain))
          .flatMap((product) =>
            jointsOf(product)
              .filter((joint) => askedJoint === null || joint === askedJoint)
              .map((joint) => keyOf(product.code, joint)),
          )
          .filter((key) => !held[key]),
      ),
  );
  const [pixels, setPixels] = useState(line.pixels.includes(1024) ? 1024 : (line.pixels[0] ?? 0));
  const [roles, setRoles] = useState(() => new Set(line.roles));
  const [type, setType] = useState<(typeof FILE_TYPES)[number]>(line.types[0] ?? "png");
  const [words, setWords] = useState("");
  const shown = useMemo(() => {
    const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
    return line.products.filter(({ name, code }) =>
      wanted.every((word) => `${name} ${code}`.toLowerCase().includes(word)),
    );
  }, [line.products, words]);
  const bytes = ticked.size * orderBytes(pixels, [...roles], type);
  useTitleBlock(`${ticked.size} ${ticked.size === 1 ? "variant" : "variants"}`, plain ? "" : weight(bytes));
  const toggle = (key: string) =>
    setTicked((before) => {
      const next = new Set(before);
      if (!next.delete(key)) next.add(key);
      return next;
    });

  return (
    <div className="page">
      <p className="path">
        <Link to="/suppliers">Suppliers</Link> / {line.supplier}
      </p>
      <h1>{line.name}</h1>
      <p className="lead-line">
        {line.text} Its page: <span className="file">{line.page}</span>
      </p>
      <Refusal result={actionData} />
      <Form method="post" className="line-page">
        <div>
          <div className="variant-acts">
            {line.products.length > 12 && (
              <label>
                <span className="visually-hidden">Find among the products</span>
                <input
                  type="search"
                  value={words}
                  placeholder="find a colour or code"
                  onChange={(event) => setWords(event.target.value)}
                />
              </label>
            )}
            {mayMake && (
              <>
                <Button
                  size="sm"
                  variant="link"
                  onClick={() =>
                    setTicked(
                      (before) =>
                        new Set([
                          ...before,
                          ...shown.flatMap((product) =>
                            jointsOf(product).map((joint) => keyOf(product.code, joint)),
                          ),
                        ]),
                    )
                  }
                >
                  Tick {shown.length === line.products.length ? "all" : `the ${shown.length} shown`}
                </Button>
                <Button size="sm" variant="link" onClick={() => setTicked(new Set())}>
                  Tick none
                </Button>
              </>
            )}
          </div>
          {/* Ticks of products that a search hides stay. */}
          {[...ticked].map((key) => (
            <input key={key} type="hidden" name="variant" value={key} />
          ))}
          <ul className={`variants${plain ? " swatches" : ""}`} aria-label="Variants">
            {shown.map((product) => (
              <li key={product.code}>
                <ProductPatch line={line} product={product} side={plain ? 56 : 148} />
                <span className="strip-name" title={product.name}>
                  {product.colour}
                </span>
                <span className="tag-code">{product.code}</span>
                {jointsOf(product).map((joint) => {
                  const key = keyOf(product.code, joint);
                  const name = product.joints.find(({ id }) => id === joint)?.name;
                  return (
                    <span key={key} className="variant">
                      <label>
                        <input
                          type="checkbox"
                          checked={ticked.has(key)}
                          disabled={!mayMake}
                          onChange={() => toggle(key)}
                        />{" "}
                        {name ? (
                          <>
                            <span
                              className="joint-dot"
                              style={{ background: product.joints.find(({ id }) => id === joint)!.hex }}
                            />
                            {name} joint
                          </>
                        ) : (
                          "take"
                        )}
                        <span className="visually-hidden"> of {product.name}</span>
                      </label>
                      {held[key] && (
                        <Link to={`/materials/${held[key].id}`} className="mark known">
                          in the library
                        </Link>
                      )}
                    </span>
                  );
                })}
              </li>
            ))}
          </ul>
        </div>
        <aside className="order" aria-label="What to fetch">
          <dl className="facts">
            {compareLines([line], unit)
              .filter(({ label, values }) => values[0] !== "–" && !label.startsWith("Colours"))
              .map(({ label, values }) => (
                <div key={label}>
                  <dt>{label}</dt>
                  <dd>{values[0]}</dd>
                </div>
              ))}
          </dl>
          {!plain && (
            <>
              <fieldset>
                <legend>Pixels on the longer side</legend>
                {line.pixels.map((value) => (
                  <label key={value}>
                    <input
                      type="radio"
                      name="pixels"
                      value={value}
                      checked={pixels === value}
                      onChange={() => setPixels(value)}
                    />{" "}
                    {value}
                  </label>
                ))}
              </fieldset>
              <fieldset>
                <legend>Maps</legend>
                {line.roles.map((role) => (
                  <label key={role}>
                    <input
                      type="checkbox"
                      name="role"
                      value={role}
                      checked={roles.has(role)}
                      onChange={() =>
                        setRoles((before) => {
                          const next = new Set(before);
                          if (!next.delete(role)) next.add(role);
                          return next;
                        })
                      }
                    />{" "}
                    {ROLE_NAMES[role]}
                  </label>
                ))}
              </fieldset>
              <label>
                File type{" "}
                <select
                  name="type"
                  value={type}
                  onChange={(event) => setType(FILE_TYPES.find((one) => one === event.target.value)!)}
                >
                  {line.types.map((one) => (
                    <option key={one} value={one}>
                      {one === "jpeg"
                        ? "JPEG, 8-bit, lossy"
                        : one === "tiff"
                          ? "TIFF, up to 16-bit"
                          : "PNG, up to 16-bit"}
                    </option>
                  ))}
                </select>
              </label>
            </>
          )}
          {mayMake && (
            <>
              <Button type="submit" disabled={ticked.size === 0}>
                Fetch {ticked.size} {ticked.size === 1 ? "variant" : "variants"}
              </Button>
              <p className="aside">
                {!plain && ticked.size > 0 && `About ${weight(bytes)}. `}
                Files that the library has are not fetched again. All come as one line into an intake, with
                the facts above.
              </p>
            </>
          )}
        </aside>
      </Form>
    </div>
  );
}

const weight = (bytes: number) =>
  bytes < 2 ** 30 ? `${Math.max(1, Math.round(bytes / 2 ** 20))} MiB` : `${(bytes / 2 ** 30).toFixed(1)} GiB`;
