import type { Schemas } from "../api/client";

type Reason = Pick<Schemas["Evidence"], "what" | "said" | "ours" | "strength" | "against" | "note">;

/** What speaks for somebody and against, piece by piece, the strongest first. */
export function Reasons({ score, reasons }: { score: number; reasons: Reason[] }) {
  return (
    <span className="block text-sm text-ink-soft">
      {reasons.length ? `${Math.round(score * 100)} %: ` : "nothing speaks for it"}
      {reasons.map((each, at) => (
        <span key={at}>
          {at ? "; " : ""}
          <span className={each.against ? "text-brick" : each.strength ? "text-ink" : ""}>
            {each.against ? "not its " : ""}
            {each.what} {each.said}
          </span>
          {each.ours ? ` (ours: ${each.ours})` : ""}
          {each.note ? ` (${each.note})` : ""}
        </span>
      ))}
    </span>
  );
}

/** Of a document as it was checked last: candidates with reasons, and bills that it is like. */
export interface StoredEvidence {
  vendor: string | null;
  vendors: { code: string; name: string; score: number; reasons: Reason[] }[];
  entity: string | null;
  entities: { code: string; name: string; score: number; reasons: Reason[] }[];
  /** The number that is stated and is no order of this vendor's; empty where there is none. */
  instead?: string;
  orders?: { number: string; entity: string; score: number; reasons: Reason[] }[];
  card?: { line: number; verdict: string; amount: string; due: string; card: string; rate: string }[];
  alike: { reference: string; number: string; in_books: boolean; exact: boolean; reasons: string[]; posted_as: string }[];
}

export function storedEvidence(data: unknown): StoredEvidence | null {
  return data && typeof data === "object" && "vendors" in data ? (data as StoredEvidence) : null;
}

/** Why it was taken for this vendor and this company. */
export function Evidence({ of }: { of: StoredEvidence }) {
  const vendor = of.vendors.find((each) => each.code === of.vendor);
  const entity = of.entities.find((each) => each.code === of.entity);
  if (!vendor && !entity) return null;
  return (
    <details className="rounded-[5px] border border-rule px-3 py-1.5">
      <summary className="cursor-pointer text-sm text-ink-soft">
        Taken for {vendor ? `${vendor.name} (${vendor.code})` : "no vendor"}
        {entity ? `, billed to ${entity.name}` : ""}: why
      </summary>
      <div className="grid gap-1.5 pt-1.5">
        {vendor ? (
          <p>
            {vendor.code} {vendor.name}
            <Reasons score={vendor.score} reasons={vendor.reasons} />
          </p>
        ) : null}
        {entity ? (
          <p>
            {entity.code} {entity.name}
            <Reasons score={entity.score} reasons={entity.reasons} />
          </p>
        ) : null}
      </div>
    </details>
  );
}
