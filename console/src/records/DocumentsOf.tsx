import { Link } from "react-router";
import { Sheet } from "../ui/Place";
import { Amount, Day } from "../ui/Shown";
import { Stamp } from "../ui/Stamp";
import { Fetched } from "../ui/States";
import { ordersOf, useDocuments, type Filters } from "./documents";

/** The newest documents of a vendor or an order, with the way to all of them. */
export function DocumentsOf({ filters }: { filters: Filters }) {
  const list = useDocuments("documents", filters);
  const query = new URLSearchParams(filters as Record<string, string>);
  return (
    <Sheet title="Documents" beside={<Link to={`/documents?${query}`} className="text-sm text-accent underline">in the list</Link>}>
      <Fetched from={list} lines={3}>
        {(rows) =>
          rows.length ? (
            <table className="w-full">
              <thead className="text-left text-sm text-ink-soft">
                <tr className="[&>th]:px-4 [&>th]:py-1.5 [&>th]:font-normal">
                  <th scope="col">Number</th>
                  <th scope="col">Issued</th>
                  <th scope="col">Order</th>
                  <th scope="col" className="text-right">Total</th>
                  <th scope="col">State</th>
                </tr>
              </thead>
              <tbody>
                {rows.slice(0, 50).map((row) => (
                  <tr key={row.id} className="border-t border-rule/70 [&>td]:px-4 [&>td]:py-1.5">
                    <td><Link className="font-semibold hover:underline" to={`/documents/${row.id}`}>{row.number || row.file_name}</Link></td>
                    <td><Day date={row.issue_date} /></td>
                    <td>{ordersOf(row)}</td>
                    <td className="text-right"><Amount value={row.gross_total} currency={row.currency} /></td>
                    <td><Stamp state={row.state} /></td>
                  </tr>
                ))}
              </tbody>
            </table>
          ) : (
            <p className="px-4 py-3 text-ink-soft">None so far.</p>
          )
        }
      </Fetched>
    </Sheet>
  );
}
