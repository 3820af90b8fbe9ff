import { useQuery } from "@tanstack/react-query";
import { actor } from "../../format/show";
import { At } from "../../ui/Shown";
import { getStory } from "./acts";

/** What colleagues have said about it. */
export function Comments({ id }: { id: number }) {
  const story = useQuery({ queryKey: ["story", id], queryFn: () => getStory(id) });
  const comments = story.data?.events.filter((each) => each.act === "document.commented") ?? [];
  if (!comments.length) return null;
  return (
    <section aria-label="Comments" className="grid gap-2">
      <h2 className="font-semibold">Comments</h2>
      <ul className="grid gap-2">
        {comments.map((each) => (
          <li key={each.at} className="rounded-[4px] border border-rule bg-sheet px-3 py-2">
            <p className="text-sm text-ink-soft">
              {actor(each.actor)}, <At time={each.at} />
            </p>
            <p className="whitespace-pre-line">{String(each.details.text ?? "")}</p>
          </li>
        ))}
      </ul>
    </section>
  );
}
