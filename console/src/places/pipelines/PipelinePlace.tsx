import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, ask } from "../../api/client";
import { Chips } from "../../ui/Chips";
import { Place } from "../../ui/Place";
import { Stamp } from "../../ui/Stamp";
import { Failure, Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";
import { Acts } from "./Acts";
import { RunsView } from "./RunsView";
import { TextView } from "./TextView";
import { TryView } from "./TryView";
import { VersionsView } from "./VersionsView";

const NEW = `# A pipeline: what it collects, what stops it, where it posts.
pipeline: name-of-the-pipeline
title: What it is for

collect:
  - mailbox: name-of-a-mailbox
    only: {unread: true, with_files: true}

desk:
  - {when: blocked, queue: exceptions}

post:
  ledger: name-of-a-ledger
  as: bill
`;

const VIEWS = [
  { value: "", label: "Text" },
  { value: "try", label: "Try" },
  { value: "versions", label: "Versions" },
  { value: "runs", label: "Runs" },
];

/** One pipeline: its text, trying it, its versions, its runs. */
export default function PipelinePlace() {
  const { name = "" } = useParams();
  return name === "new" ? <Fresh /> : <Known key={name} name={name} />;
}

function Fresh() {
  const [{ view }, change] = useAddress("view");
  const [text, setText] = useState(NEW);
  return (
    <Place fills title="A new pipeline" beside={<Chips label="View" chips={VIEWS.slice(0, 2)} value={view} onChange={(next) => change({ view: next })} />}>
      {view === "try" ? <TryView name="" text={text} parts={{}} /> : <TextView name="" running={NEW} fresh text={text} parts={{}} onChange={setText} />}
    </Place>
  );
}

function Known({ name }: { name: string }) {
  const [{ view, version }, change] = useAddress("view", "version");
  const list = useQuery({ queryKey: ["pipelines"], queryFn: () => ask(api.GET("/api/v1/pipelines", { params: { query: { limit: 500 } } })) });
  const row = list.data?.results.find((each) => each.name === name);
  const number = version ? Number(version) : (row?.version ?? row?.waiting ?? null);
  const running = useQuery({
    queryKey: ["pipelines", name, "version", number],
    queryFn: () => ask(api.GET("/api/v1/pipelines/{name}/versions/{number}", { params: { path: { name, number: number ?? 1 } } })),
    enabled: number !== null,
  });
  // What was typed belongs to the version that it was typed into.
  const [typed, setTyped] = useState<{ number: number; text: string } | null>(null);
  const textOf = (shown: { number: number; text: string }) => (typed?.number === shown.number ? typed.text : shown.text);
  if (list.data && !row) return <Place title={name}><Failure error={new Error(`There is no pipeline ${name}.`)} /></Place>;
  const beside = (
    <>
      {row ? <Stamp state={row.paused ? "paused" : "good"} as={row.paused ? "paused" : "runs"} /> : null}
      <Chips label="View" chips={VIEWS} value={view} onChange={(next) => change({ view: next })} />
      {row ? <Acts row={row} /> : null}
    </>
  );
  return (
    <Place fills={view !== "runs"} title={name} beside={beside}>
      <Fetched from={running}>
        {(shown) =>
          view === "try" ? (
            <TryView name={name} text={textOf(shown)} parts={shown.parts} />
          ) : view === "versions" ? (
            <VersionsView name={name} />
          ) : view === "runs" ? (
            <RunsView name={name} text={shown.text} />
          ) : (
            <TextView
              key={shown.number}
              name={name}
              running={shown.text}
              text={textOf(shown)}
              parts={shown.parts}
              onChange={(text) => setTyped({ number: shown.number, text })}
              onPublished={() => setTyped(null)}
              {...(version && row?.version && Number(version) !== row.version ? { old: shown.number } : {})}
            />
          )
        }
      </Fetched>
    </Place>
  );
}
