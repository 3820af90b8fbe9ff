import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { api, ask } from "../../api/client";
import { counted, day } from "../../format/show";
import { Button } from "../../ui/Button";
import { Chips } from "../../ui/Chips";
import { useKeys } from "../../ui/keys";
import { Place } from "../../ui/Place";
import { Rows } from "../../ui/Rows";
import { useSession } from "../../ui/session";
import { Empty, Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";
import { useDeskDocuments } from "./around";
import { fetchNear } from "../../records/near";
import { columns, type DocumentRow } from "../../records/documents";

const SHOWN = columns("waits", "vendor", "number", "gross_total", "reason", "taken_by");
const HELD = columns("held_until", "vendor", "number", "gross_total", "reason");

const WAITS = columns("waits", "vendor", "number", "gross_total", "order", "reason");

/** What waits at the desk: by queue, by reason, mine, on hold. */
export default function DeskList() {
  const { session } = useSession();
  const queries = useQueryClient();
  const near = useCallback((row: DocumentRow) => fetchNear(queries, row), [queries]);
  const [{ queue, finding, show, ordering }, change] = useAddress("queue", "finding", "show", "ordering");
  const waiting = useQuery({
    queryKey: ["desk", "waiting"],
    queryFn: () => ask(api.GET("/api/v1/desk/waiting")),
    refetchInterval: 10_000,
  });
  const list = useDeskDocuments({ queue, finding, show, ordering }, session.username);
  const narrowing = new URLSearchParams(Object.entries({ queue, finding, show, ordering }).filter(([, v]) => v) as [string, string][]);
  const href = (id: number) => `/desk/${id}${narrowing.size ? `?${narrowing}` : ""}`;
  useKeys([
    { key: "ArrowDown", does: "Into the list, row by row", run: () => document.querySelector<HTMLElement>("[data-at='0'] a")?.focus() },
  ]);
  return (
    <Place
      fills
      title="Desk"
      beside={<p className="text-ink-soft">{waiting.data ? <Summary waiting={waiting.data} /> : null}</p>}
    >
      <div className="grid min-h-0 grid-rows-[auto_1fr] gap-3">
        <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
          <Chips
            label="Which"
            value={show}
            onChange={(value) => change({ show: value })}
            chips={[
              { value: "", label: "All", ...(waiting.data ? { count: waiting.data.count } : {}) },
              { value: "free", label: "Free" },
              { value: "mine", label: "Mine" },
              { value: "held", label: "On hold", ...(waiting.data ? { count: waiting.data.held.count } : {}) },
              { value: "waits", label: "Goes on by itself", ...(waiting.data ? { count: waiting.data.by_itself.count } : {}) },
            ]}
          />
          {waiting.data && waiting.data.queues.length > 1 ? (
            <Chips
              label="Queue"
              value={queue ?? "*"}
              onChange={(value) => change({ queue: value })}
              chips={waiting.data.queues.map((each) => ({ value: each.queue, label: each.queue, count: each.count }))}
            />
          ) : null}
          <label className="ml-auto flex items-center gap-2 text-sm text-ink-soft">
            Reason
            <select
              value={finding ?? ""}
              onChange={(event) => change({ finding: event.target.value })}
              className="h-8 max-w-72 rounded-[5px] border border-rule-strong/60 bg-sheet px-2 text-ink"
            >
              <option value="">any</option>
              {(show === "waits" ? waiting.data?.by_itself.reasons : waiting.data?.reasons)?.map((each) => (
                <option key={each.code} value={each.code}>
                  {each.title} ({each.count})
                </option>
              ))}
            </select>
          </label>
        </div>
        <Fetched from={list}>
          {(rows) =>
            rows.length ? (
              <Rows
                label="Waiting at the desk"
                columns={show === "held" ? HELD : show === "waits" ? WAITS : SHOWN}
                rows={rows}
                height={48}
                onNear={near}
                keyOf={(row) => row.id}
                href={(row) => href(row.id)}
                more={list.more}
                ordering={ordering ?? "id"}
                onOrder={(next) => change({ ordering: next })}
              />
            ) : (
              <Nothing show={show} narrowed={Boolean(queue ?? finding)} onAll={() => change({ queue: null, finding: null, show: null })} />
            )
          }
        </Fetched>
      </div>
    </Place>
  );
}

function Summary({ waiting }: { waiting: { count: number; held: { count: number; next_on: string | null } } }) {
  const held = waiting.held.next_on ? `, ${waiting.held.count} on hold, next back ${day(waiting.held.next_on)}` : "";
  return <>{`${counted(waiting.count, "document waits", "documents wait")}${held}`}</>;
}

function Nothing({ show, narrowed, onAll }: { show: string | undefined; narrowed: boolean; onAll: () => void }) {
  if (narrowed || show) {
    const about = { mine: "You have taken nothing.", held: "Nothing is on hold.", free: "Everything is taken by somebody.", waits: "Nothing waits for what comes by itself." };
    return (
      <Empty title={about[show as keyof typeof about] ?? "Nothing waits for this reason."}>
        <Button look="quiet" onClick={onAll}>
          Show all that waits
        </Button>
      </Empty>
    );
  }
  return <Empty title="The desk is clear">Everything that came in went through or has ended. What comes next appears here by itself.</Empty>;
}
