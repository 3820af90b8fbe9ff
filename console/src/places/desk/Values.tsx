import { useState } from "react";
import { fieldsOf } from "../../records/reading";
import { FieldEntry, KindEntry } from "./FieldEntry";
import { useWork } from "./work";

const ALWAYS = ["number", "issue_date", "due_date", "order_number", "currency", "seller.name", "seller.tax_id", "buyer.name", "buyer.tax_id", "net_total", "tax_total", "gross_total"];
const WIDE = ["seller.name", "buyer.name", "payment_terms"];
const TOTALS = ["charges", "allowances", "net_total", "tax_total", "gross_total", "prepaid", "withheld", "amount_due"];
const BEFORE = ["number", "issue_date", "due_date", "order_number", "currency"];

/** The header's values: what always matters, what was read besides, and what one adds. */
export function Values() {
  const { reading, edits, editable } = useWork();
  const [added, setAdded] = useState<string[]>([]);
  const own = Object.keys(reading.extra_fields ?? {});
  const there = (name: string) => ALWAYS.includes(name) || own.includes(name) || name in reading.fields || name in edits.fields || added.includes(name);
  const fields = fieldsOf(reading);
  const rest = fields.filter(({ name }) => there(name) && !BEFORE.includes(name) && !TOTALS.includes(name)).map(({ name }) => name);
  const parties = rest.filter((name) => /^(seller|buyer)\./.test(name));
  const others = rest.filter((name) => !parties.includes(name));
  const absent = fields.filter(({ name }) => !there(name));
  return (
    <section aria-label="Values" className="grid gap-3">
      <Group>
        <KindEntry />
        {BEFORE.map((name) => <FieldEntry key={name} name={name} />)}
      </Group>
      <Group>
        {parties.map((name) => <FieldEntry key={name} name={name} wide={WIDE.includes(name)} />)}
      </Group>
      {others.length ? <Group>{others.map((name) => <FieldEntry key={name} name={name} wide={WIDE.includes(name)} />)}</Group> : null}
      <Group four>
        {TOTALS.filter(there).map((name) => <FieldEntry key={name} name={name} />)}
      </Group>
      {editable && absent.length ? (
        <select
          aria-label="Add a field"
          value=""
          onChange={(event) => {
            const name = event.target.value;
            setAdded([...added, name]);
            requestAnimationFrame(() => document.getElementById(`field-${name}`)?.focus());
          }}
          className="h-8 w-44 rounded-[4px] border border-dashed border-rule-strong/70 bg-transparent px-1.5 text-sm text-ink-soft"
        >
          <option value="">Add a field</option>
          {absent.map((spec) => (
            <option key={spec.name} value={spec.name}>
              {spec.title}
            </option>
          ))}
        </select>
      ) : null}
    </section>
  );
}

function Group({ children, four = false }: { children: React.ReactNode; four?: boolean }) {
  return <div className={`grid gap-x-3 gap-y-1.5 ${four ? "grid-cols-4" : "grid-cols-3"}`}>{children}</div>;
}
