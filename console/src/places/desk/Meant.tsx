import { Reasons, type StoredEvidence } from "../../records/Evidence";
import { Button } from "../../ui/Button";
import { useKeys } from "../../ui/keys";
import { withOrder } from "./orders";
import { useWork } from "./work";

/** Orders that may be meant, where the one that is named is none of this vendor's: one key takes the first. */
export function Meant({ orders, instead = "" }: { orders: NonNullable<StoredEvidence["orders"]>; instead?: string | undefined }) {
  const { editable, edits, reading, setField } = useWork();
  const stated = String(reading.fields.order_number?.value ?? "");
  const taken = edits.fields.order_number?.text;
  const take = (number: string) => {
    const text = withOrder(stated, instead, number);
    setField("order_number", { text, value: text });
  };
  const first = orders[0];
  useKeys(editable && first && taken === undefined ? [{ key: "m", does: `Take order ${first.number}`, run: () => take(first.number) }] : []);
  if (!first) return null;
  return (
    <section aria-label="Orders that may be meant" className="grid gap-1.5 rounded-[5px] border border-rule px-3 py-2">
      <h3 className="text-sm text-ink-soft">Which order may be meant</h3>
      {orders.map((each, at) => (
        <div key={`${each.entity} ${each.number}`} className="grid grid-cols-[1fr_auto] items-center gap-3">
          <p>
            {each.number}
            <Reasons score={each.score} reasons={each.reasons} />
          </p>
          {taken?.includes(each.number) ? (
            <span className="text-sm text-accent">taken; save it</span>
          ) : (
            <Button small look="quiet" disabled={!editable} {...(at === 0 ? { keyHint: "M" } : {})} onClick={() => take(each.number)}>
              Take {each.number}
            </Button>
          )}
        </div>
      ))}
    </section>
  );
}
