import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { afresh } from "../../api/afresh";
import { api, ask, type Schemas } from "../../api/client";
import { actor } from "../../format/show";
import { Button } from "../../ui/Button";
import { Facts, Sheet } from "../../ui/Place";
import { useSay } from "../../ui/said";
import { useSession } from "../../ui/session";
import { At } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";
import { Changes } from "./Changes";

type Version = Schemas["VersionRow"];

/** Versions with who published them and what changed; any two compared; a second person's word. */
export function VersionsView({ name }: { name: string }) {
  const versions = useQuery({
    queryKey: ["pipelines", name, "versions"],
    queryFn: () => ask(api.GET("/api/v1/pipelines/{name}/versions", { params: { path: { name }, query: { limit: 200 } } })),
  });
  return <Fetched from={versions}>{({ results }) => <Rows name={name} versions={results} />}</Fetched>;
}

function Rows({ name, versions }: { name: string; versions: Version[] }) {
  const [{ at, beside }, change] = useAddress("at", "beside");
  const shown = versions.find((each) => String(each.number) === at) ?? versions[0];
  const runs = versions.find((each) => each.state === "published")?.number;
  if (!shown) return null;
  const before = beside ? Number(beside) : versions.find((each) => each.number < shown.number && each.state === "published")?.number;
  return (
    <div className="grid min-h-0 grid-cols-[minmax(0,340px)_minmax(0,1fr)] gap-4">
      <Sheet className="min-h-0 overflow-auto">
        <ol className="grid gap-px p-1.5">
          {versions.map((each) => (
            <li key={each.number}>
              <button type="button" aria-pressed={each === shown} onClick={() => change({ at: String(each.number), beside: null })} className={`grid w-full grid-cols-[28px_1fr_auto] items-center gap-2 rounded-[4px] px-2.5 py-1.5 text-left ${each === shown ? "bg-accent-soft" : "hover:bg-sunk"}`}>
                <span className="font-semibold">{each.number}</span>
                <span className="min-w-0">
                  <span className="block truncate">{actor(each.published_by)}</span>
                  <span className="text-sm text-ink-soft"><At time={each.published_at} /></span>
                </span>
                <Stamp state={each.number === runs ? "good" : each.state === "waiting" ? "waiting" : each.state === "refused" ? "discarded" : "closed"} as={each.number === runs ? "runs" : each.state === "waiting" ? "waits for a second person" : each.state === "refused" ? "refused" : "before"} />
              </button>
            </li>
          ))}
        </ol>
      </Sheet>
      <div className="grid min-h-0 content-start gap-4 overflow-auto">
        <About name={name} version={shown} runs={runs} />
        <Compared name={name} versions={versions} after={shown.number} before={before} onBeside={(next) => change({ beside: next })} />
      </div>
    </div>
  );
}

function About({ name, version, runs }: { name: string; version: Version; runs: number | undefined }) {
  const { may, session } = useSession();
  const mine = version.published_by === `person:${session.username}`;
  const say = useSay();
  const queries = useQueryClient();
  const [reason, setReason] = useState("");
  const params = { path: { name, number: version.number } };
  const act = useMutation({
    mutationFn: async (what: "accept" | "refuse" | "back") => {
      if (what === "accept") await ask(api.POST("/api/v1/pipelines/{name}/versions/{number}/accept", { params, body: { reason } }));
      if (what === "refuse") await ask(api.POST("/api/v1/pipelines/{name}/versions/{number}/refuse", { params, body: { reason } }));
      if (what === "back") return (await ask(api.POST("/api/v1/pipelines/{name}/versions/{number}/bring-back", { params }))).state === "waiting" ? "It loosens something: it waits for a second person." : `It is as version ${version.number} again.`;
      return what === "accept" ? `${name} runs version ${version.number}.` : `Version ${version.number} is refused.`;
    },
    onSuccess: async (said) => {
      await afresh(queries, ["pipelines"]);
      setReason("");
      say(said);
    },
  });
  const facts: [string, React.ReactNode][] = [
    ["Published", <><At time={version.published_at} /> by {actor(version.published_by)}</>],
    ...(version.commit ? [["Commit", version.commit] as [string, React.ReactNode]] : []),
    ...(version.as_version ? [["As version", version.as_version] as [string, React.ReactNode]] : []),
    ...(version.decided_by ? [["Decided", <><At time={version.decided_at} /> by {actor(version.decided_by)}{version.decided_reason ? `: ${version.decided_reason}` : ""}</>] as [string, React.ReactNode]] : []),
  ];
  return (
    <Sheet
      title={`Version ${version.number}`}
      beside={
        <>
          <Link className="underline" to={`/pipelines/${name}?version=${version.number}`}>its text</Link>
          {may("admin") && version.state === "published" && version.number !== runs ? (
            <Button look="quiet" small mark="back" disabled={act.isPending} onClick={() => act.mutate("back")}>Bring back</Button>
          ) : null}
        </>
      }
    >
      <Facts facts={facts} />
      {act.error ? <p role="alert" className="px-4 pb-3 text-brick">{act.error.message}</p> : null}
      {version.state === "waiting" && may("admin") ? (
        <form className="flex flex-wrap items-end gap-2 border-t border-rule px-4 py-3" onSubmit={(event) => event.preventDefault()}>
          <label className="grid flex-1 gap-1">
            <span className="text-sm text-ink-soft">It loosens something, so somebody else than {mine ? "you" : actor(version.published_by)} lets it run. Why (stands in the trail)</span>
            <input className="h-9 rounded-[5px] border border-rule-strong/60 bg-sheet px-2.5" value={reason} onChange={(event) => setReason(event.target.value)} />
          </label>
          {mine ? null : <Button mark="check" disabled={act.isPending} onClick={() => act.mutate("accept")}>Let it run</Button>}
          <Button look="grave" disabled={act.isPending || !reason.trim()} onClick={() => act.mutate("refuse")}>Refuse</Button>
        </form>
      ) : null}
    </Sheet>
  );
}

function Compared({ name, versions, after, before, onBeside }: { name: string; versions: Version[]; after: number; before: number | undefined; onBeside: (number: string) => void }) {
  const found = useQuery({
    queryKey: ["pipelines", name, "compare", before, after],
    queryFn: () => ask(api.GET("/api/v1/pipelines/{name}/compare", { params: { path: { name }, query: { before: before ?? 0, after } } })),
    enabled: before !== undefined,
    retry: false,
  });
  if (before === undefined) return <Sheet><p className="px-4 py-3 text-ink-soft">It is the first one: there is nothing to compare it with.</p></Sheet>;
  return (
    <Sheet
      title="What it does differently"
      beside={
        <label className="flex items-center gap-2 text-sm">
          compared with
          <select className="h-8 rounded-[5px] border border-rule-strong/60 bg-sheet px-2" value={before} onChange={(event) => onBeside(event.target.value)}>
            {versions.filter((each) => each.number !== after).map((each) => <option key={each.number} value={each.number}>version {each.number}</option>)}
          </select>
        </label>
      }
    >
      <Fetched from={found} lines={3}>
        {({ changes, lines }) => (
          <>
            <Changes changes={changes} />
            <details className="border-t border-rule px-4 py-2">
              <summary>Line by line</summary>
              <pre className="overflow-auto py-2 text-[13px] leading-5">
                {lines.map((line, at) => (
                  <span key={at} className={`block ${line.startsWith("+") ? "bg-moss-soft" : line.startsWith("-") ? "bg-brick-soft" : "text-ink-soft"}`}>{line || " "}</span>
                ))}
              </pre>
            </details>
          </>
        )}
      </Fetched>
    </Sheet>
  );
}
