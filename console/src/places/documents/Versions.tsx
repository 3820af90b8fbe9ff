import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "../../api/client";
import { actor } from "../../format/show";
import { differences } from "../../records/reading";
import { Sheet } from "../../ui/Place";
import { At } from "../../ui/Shown";
import { Fetched } from "../../ui/States";

/** Versions of the reading, and what each says otherwise than another. */
export function Versions({ id }: { id: number }) {
  const story = useQuery({ queryKey: ["story", id], queryFn: () => ask(api.GET("/api/v1/documents/{id}/history", { params: { path: { id } } })) });
  const [chosen, setChosen] = useState<number | null>(null);
  return (
    <Fetched from={story}>
      {({ readings }) => {
        const newest = readings.at(-1);
        const number = chosen ?? newest?.number ?? 1;
        const after = readings.find((each) => each.number === number);
        const before = readings.find((each) => each.number === number - 1);
        const found = before && after ? differences(before.reading, after.reading) : [];
        return (
          <Sheet title={readings.length === 1 ? "One version" : `${readings.length} versions`}>
            <ol className="grid gap-px border-b border-rule p-2">
              {readings.toReversed().map((each) => (
                <li key={each.number}>
                  <button type="button" aria-pressed={each.number === number} onClick={() => setChosen(each.number)} className={`flex w-full gap-3 rounded-[4px] px-2 py-1.5 text-left ${each.number === number ? "bg-accent-soft" : "hover:bg-sunk"}`}>
                    <span className="w-20 font-semibold">Version {each.number}</span>
                    <span>{actor(each.made_by)}</span>
                    <span className="min-w-0 flex-1 truncate text-ink-soft">{each.note}</span>
                    <At time={each.made_at} />
                  </button>
                </li>
              ))}
            </ol>
            {!before ? (
              <p className="px-4 py-3 text-ink-soft">This is what was read first.</p>
            ) : found.length ? (
              <table className="w-full">
                <thead className="text-left text-sm text-ink-soft">
                  <tr>
                    <th scope="col" className="px-4 py-1.5 font-normal">What</th>
                    <th scope="col" className="px-4 py-1.5 font-normal">Version {before.number}</th>
                    <th scope="col" className="px-4 py-1.5 font-normal">Version {number}</th>
                  </tr>
                </thead>
                <tbody>
                  {found.map((each) => (
                    <tr key={each.title} className="border-t border-rule/70">
                      <th scope="row" className="px-4 py-1.5 text-left font-normal">{each.title}</th>
                      <td className="px-4 py-1.5 text-brick"><del>{each.before || "nothing"}</del></td>
                      <td className="px-4 py-1.5 text-moss"><ins className="no-underline">{each.after || "nothing"}</ins></td>
                    </tr>
                  ))}
                </tbody>
              </table>
            ) : (
              <p className="px-4 py-3 text-ink-soft">The values are the same as in version {before.number}; only where they stand or who said so differs.</p>
            )}
          </Sheet>
        );
      }}
    </Fetched>
  );
}
