import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { afresh } from "../../api/afresh";
import { api, ask } from "../../api/client";
import { actor, words } from "../../format/show";
import { Button } from "../../ui/Button";
import { Sheet } from "../../ui/Place";
import { useSay } from "../../ui/said";
import { useSession } from "../../ui/session";
import { At } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Empty, Fetched } from "../../ui/States";

/** Runs with their counts; one more, with what is said for it. */
export function RunsView({ name, text }: { name: string; text: string }) {
  const runs = useQuery({
    queryKey: ["pipelines", name, "runs"],
    queryFn: () => ask(api.GET("/api/v1/pipelines/{name}/runs", { params: { path: { name }, query: { limit: 100 } } })),
    refetchInterval: 5_000,
  });
  return (
    <div className="grid content-start gap-4">
      <Asking name={name} text={text} />
      <Fetched from={runs}>
        {({ results }) =>
          results.length ? (
            <Sheet>
              <table className="w-full">
                <thead className="text-left text-sm text-ink-soft">
                  <tr className="[&>th]:px-4 [&>th]:py-2 [&>th]:font-normal">
                    <th scope="col" className="text-right">Run</th>
                    <th scope="col">Begun</th>
                    <th scope="col">By</th>
                    <th scope="col">Stands</th>
                    <th scope="col">Said</th>
                    <th scope="col">What came in</th>
                  </tr>
                </thead>
                <tbody>
                  {results.map((run) => (
                    <tr key={run.id} className="border-t border-rule/70 align-top [&>td]:px-4 [&>td]:py-2">
                      <td className="text-right">{run.id}</td>
                      <td><At time={run.begun_at} /></td>
                      <td>{run.how === "clock" ? "the clock" : run.how === "news" ? "what came in" : actor(run.begun_by)}</td>
                      <td>
                        <Stamp state={run.ended_at ? "done" : run.closed_at ? "under way" : "open"} as={run.ended_at ? "ended" : run.closed_at ? "settling" : "open"} />
                        {run.end_reason ? <span className="block text-sm text-ink-soft">{run.end_reason}</span> : null}
                        {run.pending.map((each) => <span key={each} className="block text-sm text-ink-soft">to look through: {each}</span>)}
                        {run.problems.map((each) => <span key={each} className="block text-sm text-brick">{each}</span>)}
                      </td>
                      <td>{Object.entries(run.parameters).map(([key, value]) => <span key={key} className="block">{key} {value}</span>)}</td>
                      <td>
                        <Link className="underline" to={`/documents?run=${run.id}`}>{counts(run.counts)}</Link>
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Sheet>
          ) : (
            <Sheet><Empty title="No run yet">One begins when something comes in, by the clock, or when you ask for it.</Empty></Sheet>
          )
        }
      </Fetched>
    </div>
  );
}

function counts(found: Record<string, number>): string {
  const told = Object.entries(found).filter(([, count]) => count);
  return told.map(([name, count]) => `${count} ${words(name)}`).join(", ") || "nothing";
}

/** Names below `parameters:` of the section `run`, as they stand in the text. */
export function parametersIn(text: string): string[] {
  const part = /^run:\n((?:[ \t].*\n?|\n)*)/m.exec(text)?.[1] ?? "";
  const inner = /^([ \t]+)parameters:\s*\n((?:\1[ \t]+.*\n?)*)/m.exec(part);
  if (!inner?.[2]) return [];
  const depth = /^[ \t]*/.exec(inner[2])?.[0] ?? "";
  return inner[2].split("\n").flatMap((line) => {
    const found = new RegExp(`^${depth}([a-z][a-z0-9_]*):`).exec(line);
    return found?.[1] ? [found[1]] : [];
  });
}

function Asking({ name, text }: { name: string; text: string }) {
  const { may } = useSession();
  const say = useSay();
  const queries = useQueryClient();
  const names = parametersIn(text);
  const [said, setSaid] = useState<Record<string, string>>({});
  const run = useMutation({
    mutationFn: () => {
      const parameters = Object.fromEntries(Object.entries(said).filter(([, value]) => value.trim()));
      return ask(api.POST("/api/v1/pipelines/{name}/runs", { params: { path: { name } }, body: { parameters } }));
    },
    onSuccess: async (made) => {
      await afresh(queries, ["pipelines", name, "runs"]);
      say(`Run ${made.id} has begun.`);
    },
  });
  if (!may("work")) return null;
  return (
    <form className="flex flex-wrap items-end gap-3" onSubmit={(event) => { event.preventDefault(); run.mutate(); }}>
      {names.map((each) => (
        <label key={each} className="grid gap-1">
          <span className="text-sm text-ink-soft">{each}</span>
          <input className="h-9 rounded-[5px] border border-rule-strong/60 bg-sheet px-2.5" placeholder="as the file says" value={said[each] ?? ""} onChange={(event) => setSaid({ ...said, [each]: event.target.value })} />
        </label>
      ))}
      <Button type="submit" disabled={run.isPending}>Run now</Button>
      {run.error ? <p role="alert" className="text-brick">{run.error.message}</p> : null}
    </form>
  );
}
