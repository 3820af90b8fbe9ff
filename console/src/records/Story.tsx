import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, ask } from "../api/client";
import { Icon } from "../ui/Icon";
import { Sheet } from "../ui/Place";
import { At } from "../ui/Shown";
import { Fetched } from "../ui/States";
import { tell, type Event } from "./events";

/** Everything that happened to a document, from top to bottom. */
export function Story({ id }: { id: number }) {
  const story = useQuery({
    queryKey: ["story", id],
    queryFn: () => ask(api.GET("/api/v1/documents/{id}/history", { params: { path: { id } } })),
    refetchInterval: 6_000,
  });
  return (
    <Sheet title="What happened" beside={<Link to={`/trail?subject=document&subject_id=${id}`} className="text-sm text-accent underline">in the trail</Link>}>
      <Fetched from={story}>
        {({ events }) => (
          <ol className="px-4 py-3">
            {events.map((event, at) => <Line key={at} event={event} last={at === events.length - 1} />)}
          </ol>
        )}
      </Fetched>
    </Sheet>
  );
}

const INKS: Partial<Record<string, string>> = { check: "text-moss", stop: "text-brick", hand: "text-amber", warn: "text-amber" };

function Line({ event, last }: { event: Event; last: boolean }) {
  const { mark, said, more } = tell(event);
  return (
    <li className="grid grid-cols-[112px_20px_1fr] gap-3">
      <span className="pt-px text-right text-sm text-ink-soft"><At time={event.at} seconds /></span>
      <span className="flex flex-col items-center">
        <Icon mark={mark} className={`mt-0.5 size-[18px] ${INKS[mark] ?? "text-ink-soft"}`} />
        {last ? null : <span aria-hidden="true" className="my-1 w-px flex-1 bg-rule-strong/50" />}
      </span>
      <div className="min-w-0 pb-3.5">
        <p className="font-semibold">{said}</p>
        {more.length > 4 ? (
          <details className="text-ink-soft">
            <summary>{more[0]}</summary>
            {more.slice(1).map((line, at) => <p key={at}>{line}</p>)}
          </details>
        ) : (
          more.map((line, at) => <p key={at} className="break-words text-ink-soft">{line}</p>)
        )}
      </div>
    </li>
  );
}
