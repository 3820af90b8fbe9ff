import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useDeferredValue, useEffect, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { afresh } from "../../api/afresh";
import { api, ask, Problem } from "../../api/client";
import { counted } from "../../format/show";
import { Button } from "../../ui/Button";
import { Icon } from "../../ui/Icon";
import { useKeys } from "../../ui/keys";
import { Sheet } from "../../ui/Place";
import { useSay } from "../../ui/said";
import { useSession } from "../../ui/session";
import { Changes } from "./Changes";
import type { Language, Schema } from "./completion";
import { Editor, type TextProblem } from "./Editor";

interface Props {
  name: string;
  /** The text that runs, or that is looked at. */
  running: string;
  text: string;
  parts: Record<string, string>;
  onChange: (text: string) => void;
  /** What was typed is a version of its own now. */
  onPublished?: () => void;
  /** Number of an older version that is looked at. */
  old?: number;
  fresh?: boolean;
}

/** The text: checked while one types, with what would change, published as the next version. */
export function TextView({ name, running, text, parts, onChange, onPublished, old, fresh = false }: Props) {
  const { may } = useSession();
  const say = useSay();
  const go = useNavigate();
  const queries = useQueryClient();
  const [goTo, setGoTo] = useState<{ line: number; column: number } | null>(null);
  const [first] = useState(text);
  const settled = useDeferredValue(useSettled(text));
  const tables = useTables();
  const check = useQuery({
    queryKey: ["pipeline check", settled, parts],
    queryFn: () => ask(api.POST("/api/v1/pipelines/check", { body: { text: settled, parts } })),
    staleTime: Infinity,
    retry: false,
  });
  const problems = useMemo(
    () => (check.error instanceof Problem && Array.isArray(check.error.more.errors) ? (check.error.more.errors as TextProblem[]) : []),
    [check.error],
  );
  const warnings = useMemo(() => (check.data?.warnings ?? []).map((each) => ({ ...each, warning: true })), [check.data]);
  const marks = useMemo(() => [...problems, ...warnings].filter((each) => !each.part), [problems, warnings]);
  const publish = useMutation({
    mutationFn: () => ask(api.POST("/api/v1/pipelines", { body: { text, parts } })),
    onSuccess: async (made) => {
      // Said once the list has it: what is chosen there then is what stands there.
      await afresh(queries, ["pipelines"]);
      onPublished?.();
      say(
        made.state === "waiting"
          ? `Version ${made.number} of ${made.pipeline} loosens something: it waits for a second person.`
          : `${made.pipeline} is published as version ${made.number}.`,
      );
      void go(`/pipelines/${made.pipeline}${made.state === "waiting" ? "?view=versions" : ""}`);
    },
  });
  const differs = fresh || text !== running || old !== undefined;
  const mayPublish = may("admin") && differs && !check.isPending && !check.error && !publish.isPending;
  const loosens = (check.data?.changes ?? []).some((each) => each.loosens);
  useKeys([{ key: "mod+s", does: "Publish", run: () => mayPublish && publish.mutate(), whileTyping: true }]);
  return (
    <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_360px] gap-4">
      <div className="min-h-0 overflow-hidden rounded-md border border-rule bg-sheet">
        <Editor initial={first} readOnly={!may("admin")} problems={marks} onChange={onChange} goTo={goTo} tables={tables} />
      </div>
      <div className="grid min-h-0 content-start gap-4 overflow-auto">
        <Sheet title="Check">
          <div className="grid gap-2 px-4 py-3">
            {check.isPending ? <p className="text-ink-soft">Checking…</p> : null}
            {check.data && !warnings.length ? (
              <p className="flex items-center gap-2 text-moss"><Icon mark="check" /> No problems in the text.</p>
            ) : null}
            {check.error && !problems.length ? <p className="text-brick">{check.error.message}</p> : null}
            {problems.length ? <p>{counted(problems.length, "problem")}:</p> : null}
            {problems.map((each, at) => <Said key={at} said={each} onGo={setGoTo} />)}
            {warnings.length ? <p>{counted(warnings.length, "warning")}:</p> : null}
            {warnings.map((each, at) => <Said key={at} said={each} onGo={setGoTo} />)}
            {[...(check.data?.absent ?? []), ...(check.data?.around ?? [])].map((each) => (
              <p key={each} className="flex gap-2 text-amber"><Icon mark="warn" className="mt-1 size-4 shrink-0" /> {each}</p>
            ))}
          </div>
          {may("admin") ? (
            <div className="grid gap-2 border-t border-rule px-4 py-3">
              {old !== undefined ? <p className="text-sm text-ink-soft">You look at version {old}. Publishing makes its text the newest version.</p> : null}
              {loosens ? <p className="text-sm text-amber">It loosens something: somebody else lets it run.</p> : null}
              {publish.error ? <p role="alert" className="text-sm text-brick">{publish.error.message}</p> : null}
              <Button disabled={!mayPublish} keyHint="Ctrl S" onClick={() => publish.mutate()}>
                {differs ? "Publish as the next version" : "Published as it stands"}
              </Button>
            </div>
          ) : null}
        </Sheet>
        {name && check.data?.changes.length ? (
          <Sheet title="To what runs"><Changes changes={check.data.changes} /></Sheet>
        ) : null}
      </div>
    </div>
  );
}

function Said({ said, onGo }: { said: TextProblem; onGo: (place: { line: number; column: number }) => void }) {
  return (
    <button type="button" className="grid grid-cols-[auto_1fr] gap-2 rounded-[4px] px-1 py-0.5 text-left hover:bg-sunk" onClick={() => onGo({ line: said.line, column: said.column })}>
      <Icon mark={said.warning ? "warn" : "stop"} className={`mt-0.5 size-4 ${said.warning ? "text-amber" : "text-brick"}`} />
      <span>
        <span className="text-sm text-ink-soft">{said.part ? `${said.part}: ` : ""}Line {said.line}, column {said.column}</span>
        <br />
        {said.message}
        {said.hint ? <span className="block text-sm text-ink-soft">{said.hint}</span> : null}
      </span>
    </button>
  );
}

/** What completion and explanations are made of; the editor works without them. */
function useTables(): { schema: Schema; language: Language } | null {
  const tables = useQuery({
    queryKey: ["pipeline tables"],
    queryFn: async () => {
      const [schema, language] = await Promise.all([
        ask(api.GET("/api/v1/pipelines/schema", {})),
        ask(api.GET("/api/v1/pipelines/language", {})),
      ]);
      return { schema: schema as Schema, language: language as unknown as Language };
    },
    staleTime: Infinity,
  });
  return tables.data ?? null;
}

/** The text once nobody has typed for a moment. */
function useSettled(text: string): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), 300);
    return () => clearTimeout(timer);
  }, [text]);
  return settled;
}
