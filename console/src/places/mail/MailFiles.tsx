import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { afresh } from "../../api/afresh";
import { api, ask, type Schemas } from "../../api/client";
import { size } from "../../format/show";
import { useDocuments } from "../../records/documents";
import { Findings } from "../../records/Findings";
import { Button } from "../../ui/Button";
import { Icon } from "../../ui/Icon";
import { Notice } from "../../ui/Notice";
import { Sheet } from "../../ui/Place";
import { useSay } from "../../ui/said";
import { useSession } from "../../ui/session";
import { Amount } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Empty } from "../../ui/States";
import { ReasonDialog } from "./MailActs";

type Mail = Schemas["Message"];
type MailFile = Schemas["MailFile"];
/** Left out because it could not be opened: somebody should know. */
const STUCK = ["locked", "limit", "damaged"];

/** The files of a mail and their way through the pipeline; those left out say why. */
export function MailFiles({ mail }: { mail: Mail }) {
  const documents = useDocuments("documents", { message: String(mail.id) });
  if (!mail.files.length) return <Sheet title="Files"><Empty title="The mail brought no file" /></Sheet>;
  return (
    <Sheet title={`Files (${mail.files.length})`}>
      <ul className="divide-y divide-rule/70">
        {mail.files.map((file) => (
          <li key={file.id} className="grid grid-cols-[minmax(0,1fr)] gap-1.5 px-4 py-2.5">
            <OneFile file={file} mail={mail} />
            {documents.data?.filter((each) => each.file === file.id).map((each) => (
              <Link key={each.id} to={`/documents/${each.id}`} className="ml-8 flex items-center gap-3 rounded-[4px] border border-rule bg-ground px-3 py-1.5 hover:border-ink-soft">
                <span className="font-semibold">{each.number || each.kind}</span>
                <span className="min-w-0 flex-1 truncate text-ink-soft">{each.reasons[0] ?? each.vendor_name ?? each.seller_name}</span>
                {each.gross_total ? <Amount value={each.gross_total} currency={each.currency} /> : null}
                <Stamp state={each.state} />
              </Link>
            ))}
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

function OneFile({ file, mail }: { file: MailFile; mail: Mail }) {
  const { may } = useSession();
  const say = useSay();
  const queries = useQueryClient();
  const [leaving, setLeaving] = useState(false);
  const path = { params: { path: { id: file.id } } };
  const done = (said: string) => {
    say(said);
    setLeaving(false);
    void afresh(queries, ["mail", mail.id]);
  };
  const take = useMutation({ mutationFn: () => ask(api.POST("/api/v1/files/{id}/take", path)), onSuccess: () => done(`${file.name} is taken in.`) });
  const leave = useMutation({ mutationFn: (reason: string) => ask(api.POST("/api/v1/files/{id}/leave", { ...path, body: { reason } })), onSuccess: () => done(`${file.name} is left out.`) });
  const stuck = STUCK.includes(file.left_out);
  const beside = mail.files.find((each) => each.id === file.goes_with);
  return (
    <>
      <div className="flex items-center gap-3">
        <Icon mark={file.left_out ? "minus" : "documents"} className="size-[18px] text-ink-soft" />
        <span className={`min-w-0 flex-1 truncate ${file.left_out ? "text-ink-soft" : "font-semibold"}`} title={file.name}>{file.name}</span>
        <span className="whitespace-nowrap text-sm text-ink-soft">{file.media_type.length > 30 ? file.name.split(".").at(-1) : file.media_type}, {size(file.size)}</span>
        <Stamp state={file.outcome.includes(",") ? "note" : file.outcome} as={file.outcome} />
        <a className="text-sm text-accent underline" href={`/api/v1/files/${file.id}/content`}>Download<span className="sr-only"> {file.name}</span></a>
      </div>
      {file.within.length ? <p className="pl-8 text-sm text-ink-soft">in {file.within.join(" › ")}</p> : null}
      {file.reason ? <p className={`pl-8 text-sm ${stuck ? "text-brick" : "text-ink-soft"}`}>{file.reason}{beside && !file.reason.includes(beside.name) ? `, with ${beside.name}` : ""}</p> : null}
      {file.findings.length ? <div className="pl-8"><Findings findings={file.findings} /></div> : null}
      {file.state === "aside" && file.left_out !== "opened" && may("work") ? (
        <div className="flex gap-2 pl-8">
          <Button look="quiet" small disabled={take.isPending} onClick={() => take.mutate()}>Take it in</Button>
          {stuck ? <Button look="quiet" small onClick={() => setLeaving(true)}>Leave it out for good</Button> : null}
        </div>
      ) : null}
      {take.error ? <div className="pl-8"><Notice kind="wrong">{take.error.message}</Notice></div> : null}
      <ReasonDialog open={leaving} title={`Leave ${file.name} out`} about="Nobody will be asked about it any more." act="Leave it out" error={leave.error} busy={leave.isPending} onClose={() => setLeaving(false)} onGo={(reason) => leave.mutate(reason)} />
    </>
  );
}
