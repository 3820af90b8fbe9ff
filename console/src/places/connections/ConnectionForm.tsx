import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { afresh } from "../../api/afresh";
import { api, ask, Problem, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Choice, Entry } from "../../ui/Entry";
import { Notice } from "../../ui/Notice";
import { useSay } from "../../ui/said";
import { KINDS } from "./kinds";

type Connection = Schemas["Connection"];

/** Adds a connection, or changes one; a secret that is left empty stays as it is. */
export function ConnectionForm({ known, onDone }: { known?: Connection; onDone: () => void }) {
  const say = useSay();
  const queries = useQueryClient();
  const [name, setName] = useState(known?.name ?? "");
  const [kind, setKind] = useState<string>(known?.kind ?? "mailbox");
  const [settings, setSettings] = useState<Record<string, string>>(
    Object.fromEntries(Object.entries((known?.settings ?? {}) as Record<string, unknown>).map(([key, value]) => [key, String(value)])),
  );
  const [secret, setSecret] = useState("");
  const [refresh, setRefresh] = useState("");
  const shape = KINDS[kind] ?? { title: kind, secret: "Secret", settings: [] };
  const save = useMutation({
    mutationFn: () => {
      const given = shape.settings.flatMap(({ name: key, usual, of }) => {
        const value = settings[key] ?? usual ?? of?.[0] ?? "";
        return value ? [[key, value] as const] : [];
      });
      const body = { name, kind: kind as Connection["kind"], settings: Object.fromEntries(given), ...(secret ? { secret } : {}), ...(refresh ? { refresh_token: refresh } : {}) };
      return ask(api.POST("/api/v1/connections", { body }));
    },
    onSuccess: () => {
      say(`${name} is saved. Test it now.`);
      void afresh(queries, ["connections"]);
      onDone();
    },
  });
  const wrong = (path: string) => (save.error instanceof Problem ? save.error.places.find((each) => each.path === path)?.message : undefined);
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <div className="grid grid-cols-2 gap-3">
        <Entry label="Name" required disabled={Boolean(known)} pattern="[a-z0-9][a-z0-9\-]*" title="small letters, digits and dashes" value={name} wrong={wrong("name")} onChange={(event) => setName(event.target.value)} />
        <Choice label="Kind" disabled={Boolean(known)} value={kind} onChange={(event) => setKind(event.target.value)}>
          {Object.entries(KINDS).map(([value, { title }]) => <option key={value} value={value}>{title}</option>)}
        </Choice>
        {shape.settings.map(({ name: key, title, usual, of, hint, ...rest }) =>
          of ? (
            <Choice key={key} label={title} value={settings[key] ?? of[0]} onChange={(event) => setSettings({ ...settings, [key]: event.target.value })}>
              {of.map((each) => <option key={each}>{each}</option>)}
            </Choice>
          ) : (
            <Entry key={key} label={title} hint={hint} value={settings[key] ?? usual ?? ""} onChange={(event) => setSettings({ ...settings, [key]: event.target.value })} {...rest} {...(rest.type === "number" ? { min: 1, step: "any" } : {})} />
          ),
        )}
        <Entry label={shape.secret} type="password" autoComplete="new-password" value={secret} hint={known?.has_secret ? "One is set; leave empty to keep it." : undefined} onChange={(event) => setSecret(event.target.value)} />
        {shape.refresh && settings.auth === "oauth2" ? (
          <Entry label={shape.refresh} type="password" autoComplete="off" value={refresh} hint="Empty to sign in with the client's own credentials, or to keep the one that is set." onChange={(event) => setRefresh(event.target.value)} />
        ) : null}
      </div>
      {save.error ? <Notice kind="wrong">{save.error.message}</Notice> : null}
      <div className="flex justify-end gap-2">
        <Button look="quiet" onClick={onDone}>Cancel</Button>
        <Button type="submit" disabled={save.isPending}>Save</Button>
      </div>
    </form>
  );
}
