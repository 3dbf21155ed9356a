import { Link } from "react-router";
import { database } from "#server/db/database";
import { listCountedLicences } from "#server/licence/queries";
import { Empty } from "../components/Empty";
import { LedgerHead } from "../components/LedgerHead";
import { look } from "../guard";
import { PRICE_WORDS } from "../licence/priceWords";
import { useFresh } from "../view/live";
import type { Route } from "./+types/licences";

export const meta: Route.MetaFunction = () => [{ title: "Licences – Kalonomy" }];

export const loader = look(async () => ({ licences: await listCountedLicences(database()) }));

/** What may be done with which materials. */
export default function Licences({ loaderData: { licences } }: Route.ComponentProps) {
  useFresh(({ topic }) => topic === "library");
  return (
    <div className="page">
      <p className="path">
        <Link to="/library">Library</Link>
      </p>
      <h1>Licences</h1>
      {licences.length === 0 ? (
        <Empty title="No licence is known">
          <p>One comes with a download, from a supplier, or is said among the facts of a material.</p>
        </Empty>
      ) : (
        <table className="ledger">
          <LedgerHead
            columns={["Name", "Price", "For", "Last day", "To be named", { number: "materials" }]}
          />
          <tbody>
            {licences.map(({ id, name, price, projectName, endsOn, credit, materials }) => (
              <tr key={id}>
                <th scope="row">
                  <Link to={`/licences/${id}`}>{name}</Link>
                </th>
                <td>{PRICE_WORDS[price]}</td>
                <td>{projectName ?? "every project"}</td>
                <td>{endsOn ?? "none"}</td>
                <td>{credit ?? "nobody"}</td>
                <td className="number">{materials}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
