import Big from "big.js";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import { api, ask, type Schemas } from "../../api/client";
import { price, quantity, words } from "../../format/show";
import { DocumentsOf } from "../../records/DocumentsOf";
import { Icon, type Mark } from "../../ui/Icon";
import { Facts, Place, Sheet } from "../../ui/Place";
import { Amount, At, Day } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Fetched } from "../../ui/States";

type Story = Schemas["OrderStory"];

/** What came in of a line; below it what went back, and what nobody can count in its unit. */
function Received({ line }: { line: Story["lines"][number] }) {
  if (line.received === null) return line.needs_receipt ? <span className="text-ink-soft">nothing yet</span> : null;
  return (
    <>
      {quantity(line.received)}
      {new Big(line.returned).gt(0) ? <span className="block text-sm text-ink-soft">{quantity(line.returned)} back</span> : null}
      {line.unclear.map((each) => <span key={each} className="block text-sm text-amber">{each} not counted</span>)}
    </>
  );
}

const MARKS: Record<Story["timeline"][number]["what"], Mark> = { ordered: "orders", "goods in": "check", "goods back": "back", bill: "documents", "credit note": "undo" };

/** What happened to the order, day by day. */
function Timeline({ events }: { events: Story["timeline"] }) {
  return (
    <Sheet title="What happened">
      <ol className="px-4 py-2">
        {events.map((each, at) => (
          <li key={at} className="grid grid-cols-[104px_20px_minmax(0,1fr)_auto] items-baseline gap-3 border-t border-rule/70 py-1.5 first:border-t-0">
            <span className="text-ink-soft"><Day date={each.day} /></span>
            <Icon mark={MARKS[each.what]} className="size-4 translate-y-0.5 text-ink-soft" />
            <span>
              {words(each.what)}{each.what.startsWith("goods") ? ", " : " "}{each.document ? <Link className="underline" to={`/documents/${each.document}`}>{each.number || `document ${each.document}`}</Link> : each.what === "ordered" ? null : each.number}{each.what.startsWith("goods") ? ": " : " "}{each.text}
            </span>
            {each.state ? <Stamp state={each.state} /> : null}
          </li>
        ))}
      </ol>
    </Sheet>
  );
}

export default function OrderDetail() {
  const { number = "" } = useParams();
  const [address] = useSearchParams();
  const entity = address.get("entity");
  const order = useQuery({ queryKey: ["orders", "one", number, entity], queryFn: () => ask(api.GET("/api/v1/orders/{number}", { params: { path: { number }, query: entity ? { entity } : {} } })) });
  return (
    <Place title={number} beside={order.data ? <Stamp state={order.data.gone_at ? "gone" : order.data.closed ? "closed" : order.data.approved ? "open" : "not approved"} /> : null}>
      <Fetched from={order}>
        {(data) => (
          <div className="grid gap-4">
            <Sheet title="Lines">
              <table className="w-full">
                <thead className="text-left text-sm text-ink-soft">
                  <tr className="[&>th]:px-3 [&>th]:py-1.5 [&>th]:font-normal">
                    <th scope="col" className="text-right">No.</th>
                    <th scope="col">Item</th>
                    <th scope="col">Description</th>
                    <th scope="col" className="text-right">Quantity</th>
                    <th scope="col">Unit</th>
                    <th scope="col" className="text-right">Unit price</th>
                    <th scope="col" className="text-right">Amount</th>
                    <th scope="col" className="text-right">Invoiced</th>
                    <th scope="col" className="text-right">Open</th>
                    <th scope="col" className="text-right">Received</th>
                    <th scope="col" className="text-right">Receivable</th>
                  </tr>
                </thead>
                <tbody>
                  {data.lines.map((line) => (
                    <tr key={line.position} className="border-t border-rule/70 [&>td]:px-3 [&>td]:py-1.5">
                      <td className="text-right text-ink-soft">{line.position}</td>
                      <td className="whitespace-nowrap">{line.item_code}</td>
                      <td>{line.description}</td>
                      <td className="text-right">{quantity(line.quantity)}</td>
                      <td>{line.unit}</td>
                      <td className="text-right">{price(line.unit_price, data.currency)}</td>
                      <td className="text-right"><Amount value={new Big(line.quantity).times(line.unit_price).toFixed()} currency={data.currency} /></td>
                      <td className="text-right">{quantity(line.invoiced)}</td>
                      <td className={`text-right ${new Big(line.open).lt(0) ? "font-semibold text-amber" : ""}`}>{quantity(line.open)}</td>
                      <td className="text-right"><Received line={line} /></td>
                      <td className={`text-right ${line.receivable !== null && new Big(line.receivable).lt(0) ? "font-semibold text-amber" : ""}`}>{line.receivable === null ? "" : quantity(line.receivable)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Sheet>
            <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,2fr)] items-start gap-4">
            <Sheet title="Order">
              <Facts
                facts={[
                  ["Vendor", <Link key="v" className="underline" to={`/vendors/${encodeURIComponent(data.vendor)}`}>{data.vendor_name}</Link>],
                  ["Entity", data.entity],
                  ["Ordered", <Day key="d" date={data.ordered_on} />],
                  ["Net total", <Amount key="n" value={data.net_total} currency={data.currency} />],
                  ["As of", <At key="a" time={data.updated_at} />],
                ]}
              />
            </Sheet>
            <div className="grid gap-4">
              <Timeline events={data.timeline} />
              <DocumentsOf filters={{ order: data.number }} />
            </div>
            </div>
          </div>
        )}
      </Fetched>
    </Place>
  );
}
