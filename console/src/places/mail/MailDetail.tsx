import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, ask, type Schemas } from "../../api/client";
import { actor, size } from "../../format/show";
import { Chips } from "../../ui/Chips";
import { Notice } from "../../ui/Notice";
import { Facts, Place, Sheet } from "../../ui/Place";
import { At } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Fetched } from "../../ui/States";
import { MailActs } from "./MailActs";
import { MailFiles } from "./MailFiles";

type Mail = Schemas["Message"];

/** One mail: its words, its files and what became of each. */
export default function MailDetail() {
  const id = Number(useParams().id);
  const mail = useQuery({
    queryKey: ["mail", id],
    queryFn: () => ask(api.GET("/api/v1/messages/{id}", { params: { path: { id } } })),
    refetchInterval: 10_000,
  });
  return (
    <Place
      title={mail.data ? mail.data.subject || "Mail without a subject" : `Mail ${id}`}
      beside={
        mail.data ? (
          <>
            <Stamp state={mail.data.outcome} as={mail.data.outcome} />
            <MailActs mail={mail.data} />
          </>
        ) : null
      }
    >
      <Fetched from={mail} lines={10}>
        {(data) => (
          <div className="grid grid-cols-[minmax(0,3fr)_minmax(0,2fr)] gap-4">
            <div className="grid content-start gap-4">
              <Known mail={data} />
              <MailFiles mail={data} />
              <Words mail={data} />
            </div>
            <div className="grid content-start gap-4">
              <Came mail={data} />
              <Structure mail={data} />
            </div>
          </div>
        )}
      </Fetched>
    </Place>
  );
}

/** What one should know before reading on. */
function Known({ mail }: { mail: Mail }) {
  const links = mail.links.length > 0 && !mail.files.some((file) => !file.left_out && !file.is_body);
  return (
    <>
      {mail.repeat_of ? <Notice kind="plain">The same mail came before, as <Link className="underline" to={`/mail/${mail.repeat_of}`}>mail {mail.repeat_of}</Link>; nothing in it is new.</Notice> : null}
      {mail.aside_reason ? <Notice kind="plain">Set aside: {mail.aside_reason}</Notice> : null}
      {mail.kind !== "letter" && !mail.taken_anyway ? <Notice kind="plain">Set aside as {/^[aeiou]/.test(mail.kind) ? "an" : "a"} {mail.kind}: {mail.kind_reason}.</Notice> : null}
      {mail.defects.length ? <Notice kind="careful">{mail.defects.join("; ")}</Notice> : null}
      {links ? <Notice kind="careful">It brings {mail.links.length === 1 ? "a link" : `${mail.links.length} links`} instead of a file. Nothing is fetched from there by itself.</Notice> : null}
    </>
  );
}

/** The mail's own words: as plain text, or its HTML in a frame that runs and fetches nothing. */
function Words({ mail }: { mail: Mail }) {
  const [as, setAs] = useState<string | null>(null);
  const shown = as ?? (mail.html ? "html" : "text");
  return (
    <Sheet
      title="Words"
      beside={mail.html ? <Chips label="Shown as" value={shown} onChange={(value) => setAs(value ?? shown)} chips={[{ value: "html", label: "as sent" }, { value: "text", label: "plain text" }]} /> : null}
    >
      {shown === "html" ? (
        <iframe title="The mail as it was sent" sandbox="" referrerPolicy="no-referrer" src={`/api/v1/messages/${mail.id}/html`} className="block h-80 w-full rounded-b-md bg-white" />
      ) : mail.text.trim() ? (
        <pre className="whitespace-pre-wrap px-4 py-3 font-sans">{mail.text}</pre>
      ) : (
        <p className="px-4 py-3 text-ink-soft">The mail has no text.</p>
      )}
    </Sheet>
  );
}

function Came({ mail }: { mail: Mail }) {
  const inner = mail.forwarded;
  return (
    <Sheet title="Came" beside={mail.sha256 ? <a className="text-sm text-accent underline" href={`/api/v1/messages/${mail.id}/original`}>Original</a> : null}>
      <Facts
        facts={[
          ...(inner ? [["Written by", <Person key="w" name={inner.sender_name} address={inner.sender_address} />] as [string, React.ReactNode], ["About", inner.subject] as [string, React.ReactNode]] : []),
          [inner ? "Forwarded by" : "From", <Person key="f" name={mail.sender_name} address={mail.sender_address} />],
          ["To", (mail.recipients as string[]).join(", ") || "nobody named"],
          ["Received", <At key="r" time={mail.received_at} />],
          ["Taken in", <At key="t" time={mail.taken_at} />],
          mail.mailbox ? ["Mailbox", <Link key="m" className="underline" to={`/connections/${mail.mailbox}`}>{mail.mailbox}</Link>] : ["Handed in by", actor(mail.handed_in_by)],
          ...(mail.mailbox ? [["Lies in", mail.folder] as [string, React.ReactNode]] : []),
          ["Pipeline", <Link key="p" className="underline" to={`/pipelines/${mail.pipeline}`}>{mail.pipeline}</Link>],
          ["Size", size(mail.size)],
          ["Message-ID", <span key="i" className="break-all text-sm">{mail.message_id || "none"}</span>],
          ["Changes", <Link key="c" className="underline" to={`/trail?subject=message&subject_id=${mail.id}`}>in the trail</Link>],
        ]}
      />
    </Sheet>
  );
}

function Person({ name, address }: { name: string; address: string }) {
  return <span>{name} <span className="text-ink-soft">{address}</span></span>;
}

/** Every part of the mail with what became of it, links and headers. */
function Structure({ mail }: { mail: Mail }) {
  const headers = Object.entries(mail.headers as Record<string, string>);
  return (
    <Sheet>
      <div className="divide-y divide-rule">
        <details className="px-4 py-2.5">
          <summary className="font-semibold">Parts and what became of them ({mail.parts.length})</summary>
          <ul className="grid gap-0.5 pt-2 text-sm">
            {mail.parts.map((part, at) => (
              <li key={at} className="grid grid-cols-[72px_minmax(0,1fr)_72px_72px] gap-2">
                <span className="truncate text-ink-soft">{part.path}</span>
                <span className="truncate" title={part.media_type}>{part.media_type}</span>
                <span className="text-right text-ink-soft">{part.size ? size(part.size) : ""}</span>
                <span>{part.became}</span>
              </li>
            ))}
          </ul>
        </details>
        {mail.links.length ? (
          <details className="px-4 py-2.5">
            <summary className="font-semibold">Links ({mail.links.length})</summary>
            <ul className="grid gap-1 pt-2 text-sm">{mail.links.map((link) => <li key={link} className="break-all">{link}</li>)}</ul>
          </details>
        ) : null}
        <details className="px-4 py-2.5">
          <summary className="font-semibold">Headers ({headers.length})</summary>
          <dl className="grid gap-1 pt-2 text-sm">
            {headers.map(([name, value]) => (
              <div key={name}>
                <dt className="text-ink-soft">{name}</dt>
                <dd className="break-all">{value}</dd>
              </div>
            ))}
          </dl>
        </details>
      </div>
    </Sheet>
  );
}
