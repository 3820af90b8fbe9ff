import { useQuery } from "@tanstack/react-query";
import { useNavigate, Link } from "react-router";
import { api, ask } from "../../api/client";
import { words } from "../../format/show";
import { Button } from "../../ui/Button";
import { Place, Sheet } from "../../ui/Place";
import { useSession } from "../../ui/session";
import { Stamp } from "../../ui/Stamp";
import { Empty, Fetched } from "../../ui/States";

export default function Pipelines() {
  const { may } = useSession();
  const go = useNavigate();
  const list = useQuery({ queryKey: ["pipelines"], queryFn: () => ask(api.GET("/api/v1/pipelines", { params: { query: { limit: 500 } } })), refetchInterval: 10_000 });
  return (
    <Place title="Pipelines" beside={may("admin") ? <Button small mark="plus" className="ml-auto" onClick={() => void go("/pipelines/new")}>Pipeline</Button> : null}>
      <Fetched from={list}>
        {({ results }) =>
          results.length ? (
            <Sheet>
              <table className="w-full">
                <thead className="text-left text-sm text-ink-soft">
                  <tr className="[&>th]:px-4 [&>th]:py-2 [&>th]:font-normal">
                    <th scope="col">Name</th>
                    <th scope="col">Title</th>
                    <th scope="col" className="text-right">Version</th>
                    <th scope="col">State</th>
                    <th scope="col">Today</th>
                    <th scope="col">Last error</th>
                  </tr>
                </thead>
                <tbody>
                  {results.map((each) => (
                    <tr key={each.name} className="border-t border-rule/70 align-top [&>td]:px-4 [&>td]:py-2">
                      <td><Link className="whitespace-nowrap font-semibold hover:underline" to={`/pipelines/${each.name}`}>{each.name}</Link></td>
                      <td>{each.title}</td>
                      <td className="text-right">
                        {each.version ?? "–"}
                        {each.waiting ? <Link className="block whitespace-nowrap text-sm text-amber underline" to={`/pipelines/${each.name}?view=versions`}>{each.waiting} waits for a second person</Link> : null}
                      </td>
                      <td><Stamp state={each.paused ? "paused" : "good"} as={each.paused ? "paused" : "runs"} /></td>
                      <td>
                        {each.today.length ? (
                          <ul>
                            {each.today.map((one) => (
                              <li key={one.state} className="whitespace-nowrap"><Link className="hover:underline" to={`/documents?pipeline=${each.name}&state=${one.state}`}><span className="inline-block min-w-6 text-right">{one.count}</span> {words(one.state)}</Link></li>
                            ))}
                          </ul>
                        ) : <span className="text-ink-soft">nothing yet</span>}
                      </td>
                      <td className="max-w-96 break-words">{each.last_error ? <span className="text-brick">{each.last_error}</span> : <span className="text-ink-soft">none</span>}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Sheet>
          ) : (
            <Empty title="No pipelines yet">Publish a pipeline file here, or with <code>veridox pipeline publish</code>.</Empty>
          )
        }
      </Fetched>
    </Place>
  );
}
