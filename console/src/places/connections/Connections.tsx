import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, ask } from "../../api/client";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Place, Sheet } from "../../ui/Place";
import { useSession } from "../../ui/session";
import { Age, At } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Empty, Fetched } from "../../ui/States";
import { ConnectionForm } from "./ConnectionForm";
import { KINDS } from "./kinds";

export default function Connections() {
  const { may } = useSession();
  const [adding, setAdding] = useState(false);
  const list = useQuery({
    queryKey: ["connections"],
    queryFn: () => ask(api.GET("/api/v1/connections", { params: { query: { limit: 500 } } })),
    refetchInterval: 10_000,
  });
  return (
    <Place title="Connections" beside={may("admin") ? <Button small mark="plus" className="ml-auto" onClick={() => setAdding(true)}>Connection</Button> : null}>
      <Fetched from={list}>
        {({ results }) =>
          results.length ? (
            <Sheet>
              <table className="w-full">
                <thead className="text-left text-sm text-ink-soft">
                  <tr className="[&>th]:px-4 [&>th]:py-2 [&>th]:font-normal">
                    <th scope="col">Name</th>
                    <th scope="col">Kind</th>
                    <th scope="col">Where</th>
                    <th scope="col">State</th>
                    <th scope="col">Last worked</th>
                    <th scope="col">Last problem</th>
                  </tr>
                </thead>
                <tbody>
                  {results.map((each) => {
                    const settings = each.settings as Record<string, unknown>;
                    return (
                      <tr key={each.name} className="border-t border-rule/70 [&>td]:px-4 [&>td]:py-2">
                        <td><Link className="font-semibold hover:underline" to={`/connections/${each.name}`}>{each.name}</Link></td>
                        <td>{KINDS[each.kind]?.title ?? each.kind}</td>
                        <td>{String(settings.url ?? `${String(settings.host)}:${String(settings.port)}`)}</td>
                        <td><Stamp state={each.last_problem ? "failed" : each.last_good_at ? "good" : "prepared"} as={each.last_problem ? "does not work" : each.last_good_at ? "works" : "not tried yet"} /></td>
                        <td>{each.last_good_at ? <At time={each.last_good_at} /> : "never"}</td>
                        <td className="max-w-96 text-brick">{each.last_problem}{each.last_problem && each.last_problem_at ? <span className="text-ink-soft"> · <Age since={each.last_problem_at} /> ago</span> : null}</td>
                      </tr>
                    );
                  })}
                </tbody>
              </table>
            </Sheet>
          ) : (
            <Empty title="No connections yet">A pipeline needs a mailbox to watch, a ledger to post to and an outbox to send mails with.</Empty>
          )
        }
      </Fetched>
      <Dialog open={adding} onClose={() => setAdding(false)} title="A new connection" about="Its secret is encrypted and never shown again.">
        <ConnectionForm onDone={() => setAdding(false)} />
      </Dialog>
    </Place>
  );
}
