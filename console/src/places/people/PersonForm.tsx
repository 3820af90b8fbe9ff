import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { afresh } from "../../api/afresh";
import { api, ask, Problem, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Choice, Entry } from "../../ui/Entry";
import { Notice } from "../../ui/Notice";
import { useSay } from "../../ui/said";
import { ROLES } from "./roles";

type Person = Schemas["Person"];

/** Adds a person or changes one. */
export function PersonForm({ known, onDone }: { known?: Person; onDone: () => void }) {
  const say = useSay();
  const queries = useQueryClient();
  const [username, setUsername] = useState(known?.username ?? "");
  const [name, setName] = useState(known?.name ?? "");
  const [role, setRole] = useState<Person["role"]>(known?.role ?? "clerk");
  const [password, setPassword] = useState("");
  const save = useMutation({
    mutationFn: () =>
      known
        ? ask(api.PATCH("/api/v1/people/{username}", { params: { path: { username } }, body: { name, role, ...(password ? { password } : {}) } }))
        : ask(api.POST("/api/v1/people", { body: { username, name, role, password } })),
    onSuccess: () => {
      say(`${username} is saved.`);
      void afresh(queries, ["people"]);
      onDone();
    },
  });
  const places = save.error instanceof Problem ? save.error.places : [];
  const wrong = (path: string) => places.find((each) => each.path === path)?.message;
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <Entry label="User name" required disabled={Boolean(known)} autoFocus={!known} autoComplete="off" value={username} wrong={wrong("username")} onChange={(event) => setUsername(event.target.value)} />
      <Entry label="Name" autoComplete="off" value={name} onChange={(event) => setName(event.target.value)} />
      <Choice label="Role" value={role} wrong={wrong("role")} hint={ROLES[role]} onChange={(event) => setRole(event.target.value as Person["role"])}>
        {Object.keys(ROLES).map((each) => <option key={each}>{each}</option>)}
      </Choice>
      <Entry label={known ? "New password" : "Password"} type="password" autoComplete="new-password" required={!known} value={password} wrong={wrong("password")} hint={known ? "Leave empty to keep the present one." : "At least 10 characters; they can change it themselves."} onChange={(event) => setPassword(event.target.value)} />
      {save.error && !places.length ? <Notice kind="wrong">{save.error.message}</Notice> : null}
      <div className="flex justify-end gap-2">
        <Button look="quiet" onClick={onDone}>Cancel</Button>
        <Button type="submit" disabled={save.isPending}>Save</Button>
      </div>
    </form>
  );
}
