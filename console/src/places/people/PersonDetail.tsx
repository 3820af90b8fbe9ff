import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { afresh } from "../../api/afresh";
import { api, ask } from "../../api/client";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Notice } from "../../ui/Notice";
import { Facts, Place, Sheet } from "../../ui/Place";
import { useSession } from "../../ui/session";
import { At } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Fetched } from "../../ui/States";
import { DocumentsOf } from "../../records/DocumentsOf";
import { PersonForm } from "./PersonForm";
import { ROLES } from "./roles";

export default function PersonDetail() {
  const { username = "" } = useParams();
  const { may } = useSession();
  const queries = useQueryClient();
  const [changing, setChanging] = useState(false);
  const person = useQuery({ queryKey: ["people", username], queryFn: () => ask(api.GET("/api/v1/people/{username}", { params: { path: { username } } })) });
  const let_in = useMutation({
    mutationFn: (active: boolean) => ask(api.PATCH("/api/v1/people/{username}", { params: { path: { username } }, body: { active } })),
    onSuccess: () => afresh(queries, ["people"]),
  });
  return (
    <Place title={username} beside={person.data ? <Stamp state={person.data.active ? "good" : "closed"} as={person.data.active ? "active" : "may not sign in"} /> : null}>
      <Fetched from={person}>
        {(data) => (
          <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,2fr)] items-start gap-4">
            <Sheet title="Person">
              <Facts
                facts={[
                  ["Name", data.name || "not said"],
                  ["Role", data.role],
                  ["May", ROLES[data.role] ?? data.may.join(", ")],
                  ["Last signed in", <At key="l" time={data.last_signed_in} />],
                  ["Since", <At key="s" time={data.date_joined} />],
                  ["Tokens", data.tokens],
                  ["Acts", <Link key="a" className="underline" to={`/trail?actor=person:${encodeURIComponent(username)}`}>in the trail</Link>],
                ]}
              />
              {let_in.error ? <div className="px-4 pb-3"><Notice kind="wrong">{let_in.error.message}</Notice></div> : null}
              {may("admin") ? (
                <div className="flex gap-2 border-t border-rule px-4 py-3">
                  <Button look="quiet" small onClick={() => setChanging(true)}>Change</Button>
                  <Button look={data.active ? "grave" : "quiet"} small disabled={let_in.isPending} onClick={() => let_in.mutate(!data.active)}>
                    {data.active ? "Let them sign in no more" : "Let them sign in again"}
                  </Button>
                </div>
              ) : null}
            </Sheet>
            <DocumentsOf filters={{ taken_by: username }} />
            <Dialog open={changing} onClose={() => setChanging(false)} title={`Change ${username}`}>
              <PersonForm known={data} onDone={() => setChanging(false)} />
            </Dialog>
          </div>
        )}
      </Fetched>
    </Place>
  );
}
