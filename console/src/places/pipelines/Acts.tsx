import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { afresh } from "../../api/afresh";
import { api, ask, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { useSay } from "../../ui/said";
import { useSession } from "../../ui/session";

type Asking = "copy" | "remove" | null;

/** Pause, resume, copy, remove: for whoever may set up pipelines. */
export function Acts({ row }: { row: Schemas["Pipeline"] }) {
  const { may } = useSession();
  const say = useSay();
  const go = useNavigate();
  const queries = useQueryClient();
  const [asking, setAsking] = useState<Asking>(null);
  const [word, setWord] = useState("");
  const path = { path: { name: row.name } };
  const act = useMutation({
    mutationFn: async (what: "pause" | "resume" | "copy" | "remove") => {
      if (what === "pause") await ask(api.POST("/api/v1/pipelines/{name}/pause", { params: path, body: {} }));
      if (what === "resume") await ask(api.POST("/api/v1/pipelines/{name}/resume", { params: path }));
      if (what === "copy") await ask(api.POST("/api/v1/pipelines/{name}/copy", { params: path, body: { name: word } }));
      if (what === "remove") await ask(api.POST("/api/v1/pipelines/{name}/remove", { params: path, body: { reason: word } }));
      return what;
    },
    onSuccess: async (what) => {
      await afresh(queries, ["pipelines"]);
      setAsking(null);
      setWord("");
      say({ pause: `${row.name} is paused.`, resume: `${row.name} runs.`, copy: `${word} is a copy of ${row.name}, paused.`, remove: `${row.name} is removed.` }[what]);
      if (what === "copy") void go(`/pipelines/${word}`);
      if (what === "remove") void go("/pipelines");
    },
    onError: (error) => {
      if (!asking) say(error.message);
    },
  });
  if (!may("admin")) return null;
  return (
    <div className="ml-auto flex items-center gap-2">
      <Button look="quiet" small mark={row.paused ? "check" : "pause"} disabled={act.isPending} onClick={() => act.mutate(row.paused ? "resume" : "pause")}>
        {row.paused ? "Resume" : "Pause"}
      </Button>
      <Button look="quiet" small onClick={() => { act.reset(); setAsking("copy"); }}>Copy</Button>
      <Button look="grave" small mark="bin" onClick={() => { act.reset(); setAsking("remove"); }}>Remove</Button>
      <Dialog
        open={asking !== null}
        onClose={() => setAsking(null)}
        title={asking === "copy" ? `Copy ${row.name}` : `Remove ${row.name}`}
        about={asking === "copy" ? "The copy begins paused: both would collect the same." : "It collects nothing any more and is not listed. Its versions stay with their documents."}
      >
        <form className="grid gap-3" onSubmit={(event) => { event.preventDefault(); if (asking) act.mutate(asking); }}>
          <label className="grid gap-1">
            <span>{asking === "copy" ? "Name of the copy" : "Why (stands in the trail)"}</span>
            <input autoFocus className="h-9 rounded-[5px] border border-rule-strong/60 bg-sheet px-2.5" value={word} onChange={(event) => setWord(event.target.value)} />
          </label>
          {act.error ? <p role="alert" className="text-sm text-brick">{act.error.message}</p> : null}
          <Button type="submit" look={asking === "remove" ? "grave" : "main"} disabled={act.isPending || (asking === "copy" && !word)}>
            {asking === "copy" ? "Copy" : "Remove"}
          </Button>
        </form>
      </Dialog>
    </div>
  );
}
