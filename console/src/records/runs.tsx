/** Reports that take long: asked for, looked at until they are done. */
import { useQuery } from "@tanstack/react-query";
import { api, ask, writeKey, type Schemas } from "../api/client";
import { counted } from "../format/show";
import { Notice } from "../ui/Notice";

export type Run = Schemas["Run"];
export type Wanted = Pick<Schemas["RunInputRequest"], "kind"> & Partial<Schemas["RunInputRequest"]>;

export function askRun(wanted: Wanted): Promise<Run> {
  return ask(api.POST("/api/v1/reports/runs", { params: { header: { "Idempotency-Key": writeKey() } }, body: wanted }));
}

const ENDED = ["done", "failed"];

/** A run, looked at again and again until it has ended. */
export function useRun(id: number | undefined) {
  return useQuery({
    queryKey: ["run", id],
    queryFn: () => ask(api.GET("/api/v1/reports/runs/{id}", { params: { path: { id: id ?? 0 } } })),
    enabled: id !== undefined,
    refetchInterval: (query) => (query.state.data && ENDED.includes(query.state.data.state) ? false : 700),
  });
}

/** How far a run is, or why it failed; nothing once it is done. */
export function RunShown({ run, error, noun, nouns }: { run: Run | undefined; error: Error | null; noun: string; nouns: string }) {
  if (error) return <Notice kind="wrong">{error.message}</Notice>;
  if (!run || run.state === "done") return null;
  if (run.state === "failed") return <Notice kind="wrong">{run.problem}</Notice>;
  return (
    <div className="grid gap-1.5" role="status">
      <span className="text-sm text-ink-soft">
        {run.state === "queued" ? "A worker begins in a moment." : `${counted(run.done, noun, nouns)} looked at${run.total ? ` of ${run.total.toLocaleString("en")}` : ""}.`}
      </span>
      <progress className="h-2 w-full accent-accent" max={run.total || 1} value={run.total ? run.done : 0} aria-label="Progress" />
    </div>
  );
}
