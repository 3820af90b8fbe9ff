import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useDeferredValue, useEffect, useMemo, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { afresh } from "../../api/afresh";
import { api, ask, Problem } from "../../api/client";
import { actor, counted } from "../../format/show";
import { Button } from "../../ui/Button";
import { Icon } from "../../ui/Icon";
import { useKeys } from "../../ui/keys";
import { Place, Sheet } from "../../ui/Place";
import { useSay } from "../../ui/said";
import { useSession } from "../../ui/session";
import { At } from "../../ui/Shown";
import { Failure, Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";
import { Editor, type TextProblem } from "./Editor";

const NEW = `# A pipeline: what it collects, what stops it, where it posts.
pipeline: name-of-the-pipeline
title: What it is for
entities: []

collect:
  - mailbox: name-of-a-mailbox
    only: {unread: true, with_files: true}

desk:
  - {when: blocked, queue: exceptions}

post:
  ledger: name-of-a-ledger
  as: bill
`;

/** A pipeline's text: checked while one types, published as the next version. */
export default function PipelineText() {
  const { name = "" } = useParams();
  const fresh = name === "new";
  const versions = useQuery({
    queryKey: ["pipelines", name],
    queryFn: () => ask(api.GET("/api/v1/pipelines/{name}/versions", { params: { path: { name }, query: { limit: 100 } } })),
    enabled: !fresh,
  });
  if (fresh) return <Writing key="new" name="" versions={[]} />;
  return (
    <Place title={name} fills={versions.data !== undefined}>
      <Fetched from={versions}>
        {({ results }) => (results.length ? <Writing key={name} name={name} versions={results} inside /> : <Failure error={new Error(`There is no pipeline ${name}.`)} />)}
      </Fetched>
    </Place>
  );
}

interface Version {
  number: number;
  text: string;
  published_at: string;
  published_by: string;
}

function Writing({ name, versions, inside = false }: { name: string; versions: Version[]; inside?: boolean }) {
  const { may } = useSession();
  const say = useSay();
  const go = useNavigate();
  const queries = useQueryClient();
  const [{ version }, change] = useAddress("version");
  const newest = versions[0];
  const shown = versions.find((each) => String(each.number) === version) ?? newest;
  const old = shown !== newest;
  const [text, setText] = useState(shown?.text ?? NEW);
  const [goTo, setGoTo] = useState<{ line: number; column: number } | null>(null);
  const first = shown?.text ?? NEW;
  useEffect(() => setText(first), [first]);
  const settled = useDeferredValue(useSettled(text));
  const check = useQuery({
    queryKey: ["pipeline check", settled],
    queryFn: () => ask(api.POST("/api/v1/pipelines/check", { body: { text: settled } })),
    enabled: may("work"),
    staleTime: Infinity,
    retry: false,
  });
  const problems = useMemo(
    () => (check.error instanceof Problem && Array.isArray(check.error.more.errors) ? (check.error.more.errors as TextProblem[]) : []),
    [check.error],
  );
  const publish = useMutation({
    mutationFn: () => ask(api.POST("/api/v1/pipelines", { body: { text } })),
    onSuccess: async (made) => {
      // Said once the list has it: what is chosen there then is what stands there.
      await afresh(queries, ["pipelines"]);
      say(`${made.pipeline} is published as version ${made.number}.`);
      if (made.pipeline !== name) void go(`/pipelines/${made.pipeline}`);
      else change({ version: null });
    },
  });
  const differs = text !== newest?.text;
  const may_publish = may("admin") && differs && !problems.length && !publish.isPending;
  useKeys([{ key: "mod+s", does: "Publish", run: () => may_publish && publish.mutate(), whileTyping: true }]);
  const body = (
    <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_320px] gap-4">
      <div className="min-h-0 overflow-hidden rounded-md border border-rule bg-sheet">
        <Editor key={shown?.number ?? "new"} initial={first} readOnly={!may("admin")} problems={problems} onChange={setText} goTo={goTo} />
      </div>
      <div className="grid min-h-0 content-start gap-4 overflow-auto">
        <Sheet title="Check">
          <div className="grid gap-2 px-4 py-3">
            {check.isPending ? <p className="text-ink-soft">Checking…</p> : null}
            {check.data ? (
              <p className="flex items-center gap-2 text-moss">
                <Icon mark="check" /> No problems in the text.
              </p>
            ) : null}
            {check.data?.absent.map((each) => (
              <p key={each} className="flex gap-2 text-amber">
                <Icon mark="warn" className="mt-1 size-4" /> {each}
              </p>
            ))}
            {check.error && !problems.length ? <p className="text-brick">{check.error.message}</p> : null}
            {problems.length ? <p>{counted(problems.length, "problem")}:</p> : null}
            {problems.map((each, at) => (
              <button key={at} type="button" className="grid grid-cols-[auto_1fr] gap-2 rounded-[4px] px-1 py-0.5 text-left hover:bg-sunk" onClick={() => setGoTo({ line: each.line, column: each.column })}>
                <Icon mark="stop" className="mt-0.5 size-4 text-brick" />
                <span>
                  <span className="text-sm text-ink-soft">Line {each.line}, column {each.column}</span>
                  <br />
                  {each.message}
                  {each.hint ? <span className="block text-sm text-ink-soft">{each.hint}</span> : null}
                </span>
              </button>
            ))}
          </div>
          {may("admin") ? (
            <div className="grid gap-2 border-t border-rule px-4 py-3">
              {old ? <p className="text-sm text-ink-soft">You look at version {shown?.number}. Publishing makes its text the newest version.</p> : null}
              {publish.error ? <p role="alert" className="text-sm text-brick">{publish.error.message}</p> : null}
              <Button disabled={!may_publish} keyHint="Ctrl S" onClick={() => publish.mutate()}>
                {differs ? "Publish as the next version" : "Published as it stands"}
              </Button>
            </div>
          ) : null}
        </Sheet>
        {versions.length ? (
          <Sheet title="Versions">
            <ol className="grid gap-px p-1.5">
              {versions.map((each) => (
                <li key={each.number}>
                  <button type="button" aria-pressed={each === shown} onClick={() => change({ version: each === newest ? null : String(each.number) })} className={`grid w-full grid-cols-[32px_1fr_auto] gap-2 rounded-[4px] px-2.5 py-1.5 text-left ${each === shown ? "bg-accent-soft" : "hover:bg-sunk"}`}>
                    <span className="font-semibold">{each.number}</span>
                    <span className="truncate">{actor(each.published_by)}</span>
                    <span className="text-ink-soft"><At time={each.published_at} /></span>
                  </button>
                </li>
              ))}
            </ol>
          </Sheet>
        ) : null}
      </div>
    </div>
  );
  return inside ? body : <Place fills title="A new pipeline">{body}</Place>;
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
