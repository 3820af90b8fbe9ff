import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { afresh } from "../../api/afresh";
import { api, ask } from "../../api/client";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Icon } from "../../ui/Icon";
import { Notice } from "../../ui/Notice";
import { Facts, Place, Sheet } from "../../ui/Place";
import { useSession } from "../../ui/session";
import { At } from "../../ui/Shown";
import { Fetched } from "../../ui/States";
import { ConnectionForm } from "./ConnectionForm";
import { KINDS } from "./kinds";

/** One connection: what it is set to, and a test that says step by step what works. */
export default function ConnectionDetail() {
  const { name = "" } = useParams();
  const { may } = useSession();
  const queries = useQueryClient();
  const [changing, setChanging] = useState(false);
  const connection = useQuery({ queryKey: ["connections", name], queryFn: () => ask(api.GET("/api/v1/connections/{name}", { params: { path: { name } } })) });
  const test = useMutation({
    mutationFn: () => ask(api.POST("/api/v1/connections/{name}/test", { params: { path: { name } } })),
    onSettled: () => afresh(queries, ["connections"]),
  });
  return (
    <Place
      title={name}
      beside={
        <div className="ml-auto flex gap-2">
          {may("admin") ? <Button look="quiet" small onClick={() => setChanging(true)}>Change</Button> : null}
          {may("work") ? <Button small mark="check" disabled={test.isPending} onClick={() => test.mutate()}>{test.isPending ? "Testing" : "Test"}</Button> : null}
        </div>
      }
    >
      <Fetched from={connection}>
        {(data) => (
          <div className="grid grid-cols-2 items-start gap-4">
            <Sheet title={KINDS[data.kind]?.title ?? data.kind}>
              <Facts
                facts={[
                  ...Object.entries(data.settings as Record<string, unknown>).map(([key, value]): [string, string] => [KINDS[data.kind]?.settings.find((each) => each.name === key)?.title ?? key, String(value) || "none"]),
                  [KINDS[data.kind]?.secret ?? "Secret", data.has_secret ? "set, encrypted" : "none"],
                  ["Last worked", <At key="g" time={data.last_good_at} />],
                  ...(data.last_problem ? [["Last problem", <span key="p" className="text-brick">{data.last_problem}</span>] as [string, React.ReactNode]] : []),
                  ["Changes", <Link key="c" className="underline" to={`/trail?subject=connection&subject_id=${name}`}>in the trail</Link>],
                ]}
              />
            </Sheet>
            <Sheet title="Test">
              {test.isPending ? <p role="status" className="px-4 py-3 text-ink-soft">Trying each step…</p> : null}
              {test.error ? <div className="p-4"><Notice kind="wrong">{test.error.message}</Notice></div> : null}
              {test.data && !test.isPending ? (
                <ol className="grid gap-2 px-4 py-3">
                  {test.data.steps.map((step) => (
                    <li key={step.name} className="flex items-start gap-2.5">
                      <Icon mark={step.good ? "check" : "stop"} className={`mt-0.5 size-[18px] ${step.good ? "text-moss" : "text-brick"}`} />
                      <span className="w-36 shrink-0 font-semibold">{step.name}</span>
                      <span className={`min-w-0 flex-1 break-words ${step.good ? "text-ink-soft" : "text-brick"}`}><span className="sr-only">{step.good ? "good: " : "wrong: "}</span>{step.detail}</span>
                    </li>
                  ))}
                </ol>
              ) : null}
              {test.isIdle ? <p className="px-4 py-3 text-ink-soft">A test tries each step and says what it found; nothing is changed on the other side.</p> : null}
            </Sheet>
            <Dialog open={changing} onClose={() => setChanging(false)} title={`Change ${name}`}>
              <ConnectionForm known={data} onDone={() => setChanging(false)} />
            </Dialog>
          </div>
        )}
      </Fetched>
    </Place>
  );
}
