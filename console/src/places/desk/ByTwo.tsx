import { Notice } from "../../ui/Notice";
import type { WorkDocument } from "./work";

/** What takes two people, and how far it is: one says how it was proven, another one posts it. */
export function ByTwo({ document }: { document: WorkDocument }) {
  if (!document.by_two.length) return null;
  return (
    <div className="grid gap-2">
      {document.by_two.map((each) => (
        <Notice key={each.code} kind={each.proven_by ? "plain" : "careful"}>
          {each.proven_by
            ? `${each.proven_by.replace("person:", "")} made sure: ${each.how} Another person, who entered no value of it, may post it.`
            : "This takes two people who entered no value of it: one says how it was proven (V), another one posts it."}
        </Notice>
      ))}
    </div>
  );
}
