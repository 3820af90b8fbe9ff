import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, ask, type Schemas } from "../../api/client";
import { counted } from "../../format/show";
import { Button } from "../../ui/Button";
import { Icon } from "../../ui/Icon";
import { Notice } from "../../ui/Notice";
import { Place, Sheet } from "../../ui/Place";
import { At } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Empty, Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";
import { MailTabs } from "./MailTabs";
import { MailboxChoice, useMailboxes } from "./MailboxChoice";

type Look = Schemas["Look"];

/** What lies in a watched folder on the server, and which condition decides about each mail. */
export default function Peek() {
  const [{ mailbox }, change] = useAddress("mailbox");
  const names = useMailboxes();
  const chosen = mailbox ?? names[0];
  const look = useQuery({
    queryKey: ["peek", chosen],
    queryFn: () => ask(api.GET("/api/v1/mailboxes/{name}/peek", { params: { path: { name: chosen ?? "" }, query: { limit: 100 } } })),
    enabled: chosen !== undefined,
    staleTime: 0,
  });
  return (
    <Place
      title="Mail"
      beside={
        <>
          <MailTabs />
          <div className="ml-auto flex items-center gap-2">
            <MailboxChoice names={names} value={chosen} onChange={(value) => change({ mailbox: value })} />
            <Button look="quiet" small disabled={look.isFetching} onClick={() => void look.refetch()}>{look.isFetching ? "Looking" : "Look again"}</Button>
          </div>
        </>
      }
    >
      <div className="grid gap-4">
        <Notice kind="plain">A look at the newest mails of the folder. Nothing is changed on the server: no mail is marked as read, none is moved.</Notice>
        {chosen === undefined ? <Empty title="No mailbox yet">Add a connection to a mailbox, and a pipeline that collects from it.</Empty> : null}
        {chosen === undefined ? null : (
          <Fetched from={look}>
            {(data) => (
              <Sheet title={`${data.folder}, ${counted(data.mails.length, "mail")}, as ${data.pipeline} would take them`}>
                {data.mails.length ? <ul className="divide-y divide-rule/70">{data.mails.map((mail) => <OneLook key={mail.uid} mail={mail} />)}</ul> : <Empty title="The folder is empty">What was taken in has been moved to where it belongs.</Empty>}
              </Sheet>
            )}
          </Fetched>
        )}
      </div>
    </Place>
  );
}

function OneLook({ mail }: { mail: Look }) {
  return (
    <li>
      <details className="px-4 py-2">
        <summary className="grid cursor-pointer grid-cols-[minmax(0,3fr)_minmax(0,2fr)_minmax(0,3fr)_140px_110px] items-center gap-3">
          <span className="truncate font-semibold">{mail.subject || "no subject"}</span>
          <span className="truncate" title={mail.sender}>{mail.sender}</span>
          <span className="truncate text-ink-soft" title={mail.said}>{mail.decides ? `${mail.decides}: ${mail.said}` : mail.said || "all conditions hold"}</span>
          <span><Stamp state={mail.stands} as={mail.stands} /></span>
          <At time={mail.received_at} />
        </summary>
        <ul className="grid gap-1 py-2 pl-4">
          {mail.conditions.map((each) => (
            <li key={each.name} className="flex items-start gap-2">
              <Icon mark={each.met ? "check" : "stop"} className={`mt-1 size-4 ${each.met ? "text-moss" : "text-brick"}`} />
              <span className="w-32 shrink-0 font-semibold">{each.name}<span className="sr-only">{each.met ? " holds" : " does not hold"}</span></span>
              <span className="text-ink-soft">{each.said}</span>
            </li>
          ))}
          {mail.files.length ? <li className="text-ink-soft">Files: {mail.files.join(", ")}</li> : null}
          {mail.message ? <li><Link className="underline" to={`/mail/${mail.message}`}>Mail {mail.message}</Link></li> : null}
        </ul>
      </details>
    </li>
  );
}
