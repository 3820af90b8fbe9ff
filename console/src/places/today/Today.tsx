import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { api, ask, writeKey, type Schemas } from "../../api/client";
import { actor, amount, counted, day, percent, span, words } from "../../format/show";
import { Button } from "../../ui/Button";
import { Icon } from "../../ui/Icon";
import { Place, Sheet } from "../../ui/Place";
import { useSay } from "../../ui/said";
import { useSession } from "../../ui/session";
import { Age } from "../../ui/Shown";
import { Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";
import { Trend } from "./Trend";

type Numbers = Schemas["Today"];

/** What came in today, where it stands, what waits for whom; every number leads to its list. */
export default function Today() {
  const [{ day: chosen }, change] = useAddress("day");
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const numbers = useQuery({
    queryKey: ["today", chosen ?? "", zone],
    queryFn: () => ask(api.GET("/api/v1/today", { params: { query: { zone, ...(chosen ? { day: chosen } : {}) } } })),
    refetchInterval: 10_000,
  });
  const shown = numbers.data?.day;
  return (
    <Place
      title={chosen ? day(chosen) : "Today"}
      beside={
        <>
          <p className="text-ink-soft">{shown && !chosen ? day(shown) : null}</p>
          <label className="ml-auto flex items-center gap-2 text-sm text-ink-soft">
            Another day
            <input
              type="date"
              value={chosen ?? shown ?? ""}
              onChange={(event) => change({ day: event.target.value })}
              className="h-8 rounded-[5px] border border-rule-strong/60 bg-sheet px-2 text-ink"
            />
          </label>
        </>
      }
    >
      <Fetched from={numbers} lines={12}>
        {(data) => <Overview data={data} />}
      </Fetched>
    </Place>
  );
}

function Overview({ data }: { data: Numbers }) {
  const { came_in: came, posted, posted_before: before, waiting, failed } = data;
  const during = (name: string) => `${name}_from=${encodeURIComponent(data.from)}&${name}_to=${encodeURIComponent(data.to)}`;
  const stands = new Map(came.states.map((each) => [each.state, each.count]));
  const broken = failed.documents + failed.files + failed.notices;
  return (
    <div className="grid gap-4 xl:grid-cols-2">
      <Sheet title="Came in" className="xl:col-span-2">
        <div className="grid grid-cols-2 divide-x divide-rule md:grid-cols-4">
          <Figure to={`/mail?${during("taken")}`} number={came.mails} name={came.mails === 1 ? "mail" : "mails"} />
          <Figure to={`/documents?${during("received")}`} number={came.documents} name={came.documents === 1 ? "document" : "documents"}>
            in {counted(came.files, "file")}
            {came.files_aside ? `, ${came.files_aside} left aside` : ""}
            {came.uploads ? `, ${came.uploads} uploaded` : ""}
          </Figure>
          <Figure to={`/documents?state=posted&${during("received")}`} number={stands.get("posted") ?? 0} name="of them posted">
            {came.documents ? percent(stands.get("posted") ?? 0, came.documents) : ""}
          </Figure>
          <Figure to={`/documents?state=at_desk&${during("received")}`} number={stands.get("at_desk") ?? 0} name="of them at the desk" />
        </div>
        <Standing states={came.states} total={came.documents} during={during("received")} />
      </Sheet>
      <Sheet title="Waits for people" beside={<Link to="/desk" className="font-semibold text-accent">Go to the desk</Link>}>
        <Waiting waiting={waiting} />
        {data.versions.map((each) => (
          <p key={`${each.pipeline} ${each.number}`} className="border-t border-rule px-4 py-2.5">
            <Link className="underline" to={`/pipelines/${each.pipeline}?view=versions`}>Version {each.number} of {each.pipeline}</Link> by {actor(each.published_by)} loosens something and waits for a second person · for <Age since={each.published_at} />
          </p>
        ))}
      </Sheet>
      <div className="grid content-start gap-4">
        <Sheet title="Went through">
          <div className="grid grid-cols-3 divide-x divide-rule">
            <Figure to={`/documents?state=posted&${during("ended")}`} number={posted.count} name="posted">
              {posted.amounts.map((each) => `${amount(each.amount, each.currency)} ${each.currency}`).join(", ")}
            </Figure>
            <Figure to={`/documents?state=posted&touched=no&${during("ended")}`} number={percent(posted.untouched, posted.count)} name="untouched">
              {percent(before.untouched, before.count)} in 30 days
            </Figure>
            <Figure to={`/documents?state=posted&${during("ended")}`} number={posted.half_within === null ? "none yet" : span(posted.half_within)} name="from mail to posted">
              {posted.most_within === null ? "" : `half of them so fast, nine of ten in ${span(posted.most_within)}`}
            </Figure>
          </div>
          <Trend days={data.trend} />
        </Sheet>
        <Sheet title="Does not work">
          {broken || data.connections.length || data.not_accounted.length || data.troubles.length || data.held ? (
            <ul className="grid gap-2 px-4 py-3">
              {data.held ? <Wrong to="/connections">Nothing is collected, posted or told: {data.held.reason}</Wrong> : null}
              {data.troubles.map((each) => (
                <Wrong key={each.part} to="/pipelines">
                  <strong>{each.part}</strong>: {each.problem}{each.since ? <> · for <Age since={each.since} /></> : null}
                </Wrong>
              ))}
              {data.not_accounted.map((each) => (
                <Wrong key={each.mailbox} to={`/mail/accounted?mailbox=${each.mailbox}`}>
                  {counted(each.unexplained.length + each.lost.length, "mail")} of <strong>{each.mailbox}</strong> not accounted for
                </Wrong>
              ))}
              {data.connections.map((each) => (
                <Wrong key={each.name} to={`/connections/${each.name}`}>
                  <strong>{each.name}</strong> ({each.kind}): {each.last_problem}
                  {each.last_problem_at ? <> · for <Age since={each.last_problem_at} /></> : null}
                </Wrong>
              ))}
              {failed.documents ? <Wrong to="/documents?state=failed">{counted(failed.documents, "document")} stopped for a technical reason</Wrong> : null}
              {failed.files ? <Wrong to="/mail?place=failed">{counted(failed.files, "file")} could not be read</Wrong> : null}
              {data.notices.map((each) => <Unsent key={each.id} notice={each} />)}
              {failed.notices > data.notices.length ? <Wrong to="/trail?act=notice.failed">{counted(failed.notices - data.notices.length, "more notice")} could not be sent</Wrong> : null}
            </ul>
          ) : (
            <p className="flex items-center gap-2 px-4 py-3 text-moss">
              <Icon mark="check" /> All connections work, nothing has failed.
            </p>
          )}
        </Sheet>
      </div>
    </div>
  );
}

function Figure({ to, number, name, children }: { to: string; number: ReactNode; name: string; children?: ReactNode }) {
  return (
    <Link to={to} className="group grid content-start px-4 py-3 hover:bg-sunk/60">
      <span className="whitespace-nowrap text-[26px] font-semibold leading-tight">{number}</span>
      <span className="group-hover:underline">{name}</span>
      <span className="text-sm text-ink-soft">{children}</span>
    </Link>
  );
}

const PARTS: Record<string, string> = { posted: "bg-moss", at_desk: "bg-amber", failed: "bg-brick", aside: "bg-rule-strong/60", discarded: "bg-rule-strong/60", returned: "bg-ink-soft" };

/** Where the day's documents stand now, as one bar with words below it. */
function Standing({ states, total, during }: { states: Numbers["came_in"]["states"]; total: number; during: string }) {
  if (!total) return null;
  return (
    <div className="grid gap-2 border-t border-rule px-4 py-3">
      <div aria-hidden="true" className="flex h-2.5 gap-0.5 overflow-hidden rounded-full">
        {states.map((each) => (
          <div key={each.state} className={PARTS[each.state] ?? "bg-accent"} style={{ flexGrow: each.count }} />
        ))}
      </div>
      <ul className="flex flex-wrap gap-x-5 gap-y-1 text-sm">
        {states.map((each) => (
          <li key={each.state}>
            <Link to={`/documents?state=${each.state}&${during}`} className="inline-flex items-center gap-1.5 hover:underline">
              <span aria-hidden="true" className={`size-2.5 rounded-full ${PARTS[each.state] ?? "bg-accent"}`} />
              {each.count} {words(each.state)}
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}

function Waiting({ waiting }: { waiting: Numbers["waiting"] }) {
  if (!waiting.count && !waiting.held.count && !waiting.by_itself.count) {
    return (
      <p className="flex items-center gap-2 px-4 py-3 text-moss">
        <Icon mark="check" /> Nothing waits.
      </p>
    );
  }
  return (
    <div className="px-4 pb-3 pt-1">
      <table className="w-full">
        <thead className="text-left text-sm text-ink-soft">
          <tr className="[&>th]:py-1.5 [&>th]:font-normal">
            <th scope="col">Queue</th>
            <th scope="col" className="text-right">Waiting</th>
            <th scope="col" className="text-right">Taken</th>
            <th scope="col" className="text-right">Oldest</th>
          </tr>
        </thead>
        <tbody>
          {waiting.queues.map((each) => (
            <tr key={each.queue} className="border-t border-rule/70 [&>td]:py-1.5">
              <td>
                <Link to={`/desk?queue=${each.queue}`} className="font-semibold hover:underline">{each.queue}</Link>
              </td>
              <td className="text-right">{each.count}</td>
              <td className="text-right">{each.taken}</td>
              <td className="text-right"><Age since={each.oldest_at} /></td>
            </tr>
          ))}
          {waiting.by_itself.count ? (
            <tr className="border-t border-rule/70 [&>td]:py-1.5">
              <td><Link to="/desk?show=waits" className="font-semibold hover:underline">goes on by itself</Link></td>
              <td className="text-right">{waiting.by_itself.count}</td>
              <td />
              <td className="text-right">{waiting.by_itself.oldest_at ? <Age since={waiting.by_itself.oldest_at} /> : null}</td>
            </tr>
          ) : null}
          {waiting.held.count ? (
            <tr className="border-t border-rule/70 [&>td]:py-1.5">
              <td><Link to="/desk?show=held" className="font-semibold hover:underline">on hold</Link></td>
              <td className="text-right">{waiting.held.count}</td>
              <td />
              <td className="text-right">{waiting.held.next_on ? `back ${day(waiting.held.next_on)}` : ""}</td>
            </tr>
          ) : null}
        </tbody>
      </table>
      {waiting.holders.length ? (
        <p className="mt-2 text-sm">
          {waiting.holders.map((each) => `${each.person} works on ${each.count}`).join(", ")}
        </p>
      ) : null}
      <h3 className="mb-1 mt-3 text-sm text-ink-soft">
        Why{waiting.amounts.length ? `; together ${waiting.amounts.map((each) => `${amount(each.amount, each.currency)} ${each.currency}`).join(" and ")}` : ""}
      </h3>
      <ul className="grid gap-0.5">
        {waiting.reasons.slice(0, 6).map((each) => (
          <li key={each.code}>
            <Link to={`/desk?finding=${each.code}`} className="flex gap-3 hover:underline">
              <span className="w-6 text-right">{each.count}</span>
              <span>{each.title}</span>
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** A letter, mail or chat message that was refused, with the way to send it once more. */
function Unsent({ notice }: { notice: Numbers["notices"][number] }) {
  const { may } = useSession();
  const queries = useQueryClient();
  const say = useSay();
  const again = useMutation({
    mutationFn: () => ask(api.POST("/api/v1/notices/{id}/again", { params: { path: { id: notice.id }, header: { "Idempotency-Key": writeKey() } } })),
    onSuccess: () => {
      say(`It is sent to ${to} again.`);
      void queries.invalidateQueries({ queryKey: ["today"] });
    },
  });
  const to = notice.recipient || `#${notice.channel}`;
  const what = notice.event === "returned" ? "The letter" : "A notice";
  return (
    <li className="flex items-start gap-2 text-brick">
      <Icon mark="stop" className="mt-0.5 size-4" />
      <span className="min-w-0">
        {what} to {to}
        {notice.document ? <> about <Link className="underline" to={`/documents/${notice.document}`}>{notice.document_number || `document ${notice.document}`}</Link></> : null}
        {" "}was not sent: {again.error?.message ?? notice.problem}
      </span>
      {may("work") ? <Button look="quiet" small className="ml-auto" disabled={again.isPending} onClick={() => again.mutate()}>Send again</Button> : null}
    </li>
  );
}

function Wrong({ to, children }: { to: string; children: ReactNode }) {
  return (
    <li>
      <Link to={to} className="flex items-start gap-2 text-brick hover:underline">
        <Icon mark="stop" className="mt-0.5 size-4" />
        <span>{children}</span>
      </Link>
    </li>
  );
}
