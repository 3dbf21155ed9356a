import { Link } from "react-router";
import { compareLines } from "#core/supply/compareLines";
import { readCatalogue } from "#server/supplier/catalogue";
import { Empty } from "../components/Empty";
import { look } from "../guard";
import { ProductPatch } from "../supplier/ProductPatch";
import { useView } from "../view/viewContext";
import type { Route } from "./+types/supplierCompare";

export const meta: Route.MetaFunction = () => [{ title: "Compare – Kalonomy" }];

/** Lines side by side. */
const MOST = 4;

export const loader = look(async ({ request }: Route.LoaderArgs) => {
  const asked = new URL(request.url).searchParams.getAll("line");
  const { catalogue } = await readCatalogue();
  return {
    lines: [...new Set(asked)]
      .flatMap((id) => catalogue?.lines.filter((line) => line.id === id) ?? [])
      .slice(0, MOST),
  };
});

export default function SupplierCompare({ loaderData: { lines } }: Route.ComponentProps) {
  const { unit } = useView();
  if (lines.length < 2)
    return (
      <div className="page">
        <h1>Compare</h1>
        <Empty title="Nothing to compare">
          <p>
            Tick two to four lines on <Link to="/suppliers">Suppliers</Link>.
          </p>
        </Empty>
      </div>
    );
  return (
    <div className="page">
      <p className="path">
        <Link to="/suppliers">Suppliers</Link>
      </p>
      <h1>Side by side</h1>
      <table className="ledger compare">
        <thead>
          <tr>
            <th scope="col">
              <span className="visually-hidden">Property</span>
            </th>
            {lines.map((line) => (
              <th scope="col" key={line.id}>
                <ProductPatch line={line} product={line.products[0]} side={190} />
                <Link to={`/suppliers/${line.id}`}>{line.name}</Link>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {compareLines(lines, unit).map(({ label, values, differs }) => (
            <tr key={label} className={differs ? "differs" : undefined}>
              <th scope="row">
                {label}
                {differs && (
                  <>
                    <span className="unequal" aria-hidden="true">
                      ≠
                    </span>
                    <span className="visually-hidden">, differs</span>
                  </>
                )}
              </th>
              {values.map((value, at) => (
                <td key={lines[at].id}>{value}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
