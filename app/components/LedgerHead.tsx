/** The head of a ledger: the names of its columns. What is counted or measured stands to the right, under a number's face. */
export function LedgerHead({ columns }: { columns: (string | { number: string })[] }) {
  return (
    <thead>
      <tr>
        {columns.map((column) =>
          typeof column === "string" ? (
            <th scope="col" key={column}>
              {column}
            </th>
          ) : (
            <th scope="col" className="number" key={column.number}>
              {column.number}
            </th>
          ),
        )}
      </tr>
    </thead>
  );
}
