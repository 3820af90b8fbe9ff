import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, ask } from "../../api/client";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Place, Sheet } from "../../ui/Place";
import { useSession } from "../../ui/session";
import { At } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Fetched } from "../../ui/States";
import { PersonForm } from "./PersonForm";
import { ROLES } from "./roles";

export default function People() {
  const { may } = useSession();
  const [adding, setAdding] = useState(false);
  const people = useQuery({ queryKey: ["people"], queryFn: () => ask(api.GET("/api/v1/people", { params: { query: { limit: 500 } } })) });
  return (
    <Place title="People" beside={may("admin") ? <Button small mark="plus" className="ml-auto" onClick={() => setAdding(true)}>Person</Button> : null}>
      <Fetched from={people}>
        {({ results }) => (
          <div className="grid gap-4">
            <Sheet>
              <table className="w-full">
                <thead className="text-left text-sm text-ink-soft">
                  <tr className="[&>th]:px-4 [&>th]:py-2 [&>th]:font-normal">
                    <th scope="col">User name</th>
                    <th scope="col">Name</th>
                    <th scope="col">Role</th>
                    <th scope="col">State</th>
                    <th scope="col" className="text-right">Has taken</th>
                    <th scope="col" className="text-right">Tokens</th>
                    <th scope="col">Last signed in</th>
                  </tr>
                </thead>
                <tbody>
                  {results.map((each) => (
                    <tr key={each.username} className="border-t border-rule/70 [&>td]:px-4 [&>td]:py-2">
                      <td><Link className="font-semibold hover:underline" to={`/people/${encodeURIComponent(each.username)}`}>{each.username}</Link></td>
                      <td>{each.name}</td>
                      <td>{each.role}</td>
                      <td><Stamp state={each.active ? "good" : "closed"} as={each.active ? "active" : "may not sign in"} /></td>
                      <td className="text-right">{each.taken}</td>
                      <td className="text-right">{each.tokens}</td>
                      <td><At time={each.last_signed_in} /></td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Sheet>
            <Sheet title="Roles">
              <dl className="grid grid-cols-[max-content_1fr] gap-x-6 gap-y-1.5 px-4 py-3">
                {Object.entries(ROLES).map(([role, said]) => (
                  <div key={role} className="contents">
                    <dt className="font-semibold">{role}</dt>
                    <dd>{said}</dd>
                  </div>
                ))}
              </dl>
            </Sheet>
          </div>
        )}
      </Fetched>
      <Dialog open={adding} onClose={() => setAdding(false)} title="A new person">
        <PersonForm onDone={() => setAdding(false)} />
      </Dialog>
    </Place>
  );
}
