import { Link } from "react-router";
import { words } from "../../format/show";
import { Button, buttonLook } from "../../ui/Button";
import { Icon } from "../../ui/Icon";
import { Notice } from "../../ui/Notice";
import { Age, At, Day } from "../../ui/Shown";
import type { WorkDocument } from "./work";

/** Where it came from, what it belongs to, and why nothing can be changed when that is so. */
export function About({ document, me, onEndHold, onAgain }: { document: WorkDocument; me: string | null; onEndHold: () => void; onAgain: () => void }) {
  const { mail, orders, posting, resubmission_of: replaces, resubmissions } = document;
  const look = buttonLook("quiet", true);
  return (
    <div className="grid gap-2.5">
      {document.state !== "at_desk" ? (
        <Notice
          kind={document.state === "posted" ? "good" : "plain"}
          act={document.may.includes("again") ? <Button look="quiet" small onClick={onAgain}>Go on</Button> : null}
        >
          {document.state === "waiting"
            ? "It waits for what is told below, and goes on by itself once that has come."
            : `This document is ${words(document.state)}${posting?.number ? ` as ${posting.number}` : ""} and cannot be changed here.`}
          {document.end_reason ? ` ${document.end_reason}` : ""}
        </Notice>
      ) : null}
      {document.letter_out ? <Notice kind="careful">The letter to its vendor is on its way. Nothing can be changed until the mail server has taken or refused it.</Notice> : null}
      {document.taken_by && document.taken_by !== me ? <Notice kind="careful">{document.taken_by} works on this document{document.taken_at ? <> for <Age since={document.taken_at} /></> : null}. You can look; to change it, take it over.</Notice> : null}
      {document.held_until ? (
        <Notice kind="plain" act={document.may.includes("end_hold") ? <Button look="quiet" small onClick={onEndHold}>Back to the list now</Button> : null}>
          On hold until <Day date={document.held_until} />: {document.hold_reason}
        </Notice>
      ) : null}
      {replaces ? (
        <Notice kind="plain" act={<Link className={look} to={`/documents/${replaces}`}>See what was returned</Link>}>
          The vendor sends this in place of document {replaces}, which was returned.
        </Notice>
      ) : null}
      {resubmissions.length ? (
        <Notice kind="plain" act={<Link className={look} to={`/documents/${resubmissions[0]}`}>See it</Link>}>
          The vendor has sent document {resubmissions.join(", ")} in its place.
        </Notice>
      ) : null}
      <nav aria-label="Belongs to it" className="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm text-ink-soft">
        {mail ? (
          <Link to={`/mail/${mail.id}`} className="inline-flex max-w-80 items-center gap-1.5 hover:text-ink hover:underline" title={`${mail.subject}, from ${mail.sender_address}`}>
            <Icon mark="mail" /> <span className="truncate">{mail.sender_name || mail.sender_address}</span> <At time={mail.received_at} />
          </Link>
        ) : (
          <span>uploaded <At time={document.received_at} /></span>
        )}
        <a href={`/api/v1/files/${document.file}/content`} className="inline-flex items-center gap-1.5 hover:text-ink hover:underline" title={document.file_name}>
          <Icon mark="load" /> Original
        </a>
        {document.stretch ? <span title={`${document.file_name} holds several documents`}>{document.stretch} of the file</span> : null}
        {orders.map((order) => (
          <Link key={order} to={`/orders/${encodeURIComponent(order)}`} className="inline-flex items-center gap-1.5 hover:text-ink hover:underline">
            <Icon mark="orders" /> {order}
          </Link>
        ))}
        <Link to={`/documents/${document.id}`} className="inline-flex items-center gap-1.5 hover:text-ink hover:underline">
          <Icon mark="trail" /> Whole story
        </Link>
      </nav>
    </div>
  );
}
