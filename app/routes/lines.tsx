import { Link } from "react-router";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { listColorLists } from "#server/colorList/sql";
import { database } from "#server/db/database";
import { readPage } from "#server/db/page";
import { listLines } from "#server/line/queries";
import { listSupplierNames } from "#server/supplier/queries";
import { Empty } from "../components/Empty";
import { Pages } from "../components/Pages";
import { look } from "../guard";
import { HandInColors } from "../line/HandInColors";
import { listWords } from "../line/listWords";
import { Swatch } from "../line/Swatch";
import { pageIn } from "../pageIn";
import { useFresh } from "../view/live";
import { moment } from "../view/moment";
import type { Route } from "./+types/lines";

export const meta: Route.MetaFunction = () => [{ title: "Lines – Kalonomy" }];

export const loader = look(async ({ request, person }: Route.LoaderArgs & { person: Person }) => ({
  ...(await readPage(pageIn(request), (slice) => listLines(database(), slice))),
  lists: (await listColorLists(database(), 12)).map(({ id, name, lineName, state, counts, madeAt }) => ({
    ...{ id, name, lineName, state, counts, madeAt },
  })),
  suppliers: await listSupplierNames(database()),
  mayMake: mayDo(person, "make"),
}));

/** The lines that the library has materials of, each as a strip in the order of its colours. */
export default function Lines({ loaderData }: Route.ComponentProps) {
  const { items, page, next, lists, suppliers, mayMake } = loaderData;
  useFresh(({ topic }) => topic === "library");
  return (
    <div className="page">
      <p className="path">
        <Link to="/library">Library</Link>
      </p>
      <h1>Lines</h1>
      {items.length === 0 && page === 1 && (
        <Empty title="No line yet">
          <p>
            A line comes with what is fetched from a <Link to="/suppliers">supplier</Link>, with a list of
            coded colours, and of two pictures that are <Link to="/alike">alike</Link> of which one is a
            variant of the other.
          </p>
        </Empty>
      )}
      <ul className="line-strips">
        {items.map(({ id, name, supplier, members, strip }) => (
          <li key={id}>
            <Link to={`/lines/${id}`}>
              <span className="line-name">
                {name} <span className="dim">{supplier}</span>
              </span>
              <span className="line-strip" aria-hidden="true">
                {strip.map((one, at) => (
                  <Swatch key={at} {...one} />
                ))}
              </span>
              <span className="number dim">{members === 1 ? "1 variant" : `${members} variants`}</span>
            </Link>
          </li>
        ))}
      </ul>
      <Pages page={page} next={next} />
      {mayMake && (
        <section>
          <h2>Take in a list of colours</h2>
          <p className="aside">
            A table with a code and a colour in each row, as hex, RGB, Lab or xyY: it becomes a line of plain
            materials. A list of a line that is there changes what has changed.
          </p>
          <HandInColors suppliers={suppliers} />
        </section>
      )}
      {lists.length > 0 && (
        <section>
          <h2>Lists that were taken in</h2>
          <table className="ledger tight">
            <tbody>
              {lists.map(({ id, name, lineName, state, counts, madeAt }) => (
                <tr key={id}>
                  <th scope="row">
                    <Link to={`/color-lists/${id}`}>{name}</Link>
                  </th>
                  <td>{lineName}</td>
                  <td>{listWords(state, counts)}</td>
                  <td>{moment(madeAt)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </div>
  );
}
