import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../../api/client";
import { Sheet } from "../../ui/Place";
import { Fetched } from "../../ui/States";
import { counted } from "../../format/show";

/** What stands on each page as plain text: what readers and searches go by. */
export function PageText({ id, pages }: { id: number; pages: Schemas["PageShape"][] }) {
  if (!pages.length) return <p className="text-ink-soft">This file has no page that can be read.</p>;
  return <>{pages.map((page) => <OnePage key={page.number} id={id} page={page.number} />)}</>;
}

function OnePage({ id, page }: { id: number; page: number }) {
  const words = useQuery({
    queryKey: ["words", id, page],
    queryFn: () => ask(api.GET("/api/v1/documents/{id}/pages/{page}/words", { params: { path: { id, page } } })),
    staleTime: Infinity,
  });
  return (
    <Sheet title={`Page ${page}`} beside={words.data ? <span className="text-sm text-ink-soft">{counted(words.data.words.length, "word")}</span> : null}>
      <Fetched from={words}>
        {({ text }) =>
          text ? <pre className="whitespace-pre-wrap px-4 py-3 font-sans">{text}</pre> : <p className="px-4 py-3 text-ink-soft">The page carries no text: a picture of a page.</p>
        }
      </Fetched>
    </Sheet>
  );
}
