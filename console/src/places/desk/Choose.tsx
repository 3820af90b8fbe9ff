import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { writeKey, type Schemas } from "../../api/client";
import { Reasons } from "../../records/Evidence";
import { Button } from "../../ui/Button";
import { Entry } from "../../ui/Entry";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/keys";
import { Notice } from "../../ui/Notice";
import { getParties, saveChanges } from "./acts";
import type { WorkDocument } from "./work";

const ASKS = { vendor: /^vendor\.(contradicted|unclear|unknown|gone)$/, entity: /^(entity\.|buyer\.)/ } as const;
type What = keyof typeof ASKS;
type Candidate = Schemas["VendorCandidate"] | Schemas["EntityCandidate"];

/** Where the bill does not say for sure who sends it or who is billed, a person says so: a click, or its number on the keyboard. */
export function Choose({ document, unsaved, onChosen }: { document: WorkDocument; unsaved: boolean; onChosen: (after: WorkDocument, said: string) => void }) {
  const asked = (Object.keys(ASKS) as What[]).filter((what) => document.findings.some((each) => ASKS[what].test(each.code)));
  const parties = useQuery({ queryKey: ["parties", document.id, document.version], queryFn: () => getParties(document.id), enabled: asked.length > 0 });
  const choose = useMutation({
    mutationFn: ({ what, code }: { what: What; code: string }) => saveChanges(document, { [what]: code }, writeKey()),
    onSuccess: (after, { what, code }) => onChosen(after, `${what === "vendor" ? "The vendor" : "The company billed"} is ${code}.`),
  });
  const [typed, setTyped] = useState("");
  const pick = (what: What, code: string) => choose.mutate({ what, code });
  const may = document.may.includes("correct") && !unsaved && !choose.isPending;
  const offered = asked.flatMap((what) => ((what === "vendor" ? parties.data?.vendors : parties.data?.entities) ?? []).map((each: Candidate) => ({ what, each })));
  useKeys(may ? offered.slice(0, 9).map(({ what, each }, at) => ({ key: String(at + 1), does: `It is ${each.code} ${each.name}`, run: () => pick(what, each.code) })) : []);
  if (!asked.length || !document.may.includes("correct") || !parties.data) return null;
  return (
    <section aria-label="Who it is" className="grid gap-2.5 rounded-[5px] border border-rule bg-sunk/50 px-3 py-2.5">
      {unsaved ? <p className="text-sm text-ink-soft">Save your changes first; then choose.</p> : null}
      {asked.map((what) => (
        <div key={what} className="grid gap-1.5">
          <h3 className="text-sm text-ink-soft">{what === "vendor" ? "Which vendor is it?" : "Which of our companies is billed?"}</h3>
          <ul className="grid gap-2">
            {offered.map(({ what: of, each }, at) =>
              of === what ? (
                <li key={each.code} className="grid grid-cols-[auto_1fr] items-start gap-x-3">
                  <Button look="quiet" small disabled={!may} onClick={() => pick(what, each.code)}>
                    {each.code} {at < 9 ? <Key>{at + 1}</Key> : null}
                  </Button>
                  <span className="min-w-0">
                    {each.name} <span className="text-sm text-ink-soft">{each.tax_id || "no tax id"}{"blocked" in each && each.blocked ? " · blocked" : ""}</span>
                    <Reasons score={each.score} reasons={each.reasons} />
                  </span>
                </li>
              ) : null,
            )}
          </ul>
          {what === "vendor" ? (
            <form
              className="flex items-end gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                if (typed.trim()) pick("vendor", typed.trim());
              }}
            >
              <Entry label="Another vendor, by code" value={typed} onChange={(event) => setTyped(event.target.value)} />
              <Button look="quiet" small type="submit" disabled={!may || !typed.trim()}>
                Choose
              </Button>
            </form>
          ) : null}
        </div>
      ))}
      {choose.error ? <Notice kind="wrong">{choose.error.message}</Notice> : null}
    </section>
  );
}
