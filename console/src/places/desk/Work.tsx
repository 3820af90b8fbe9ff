import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { Place } from "../../ui/Place";
import { Fetched } from "../../ui/States";
import { getDocument } from "./acts";
import { Screen } from "./Screen";

/** The work screen of one document, by its address. */
export default function Work() {
  const id = Number(useParams().id);
  const asked = useQuery({
    queryKey: ["document", id],
    queryFn: () => getDocument(id),
    refetchInterval: 6_000,
    // What one types lies above the values: a failed refresh must not take the screen away.
    refetchOnWindowFocus: true,
  });
  if (asked.data) return <Screen key={id} document={asked.data} silent={asked.error} />;
  return (
    <Place title="Desk">
      <Fetched from={asked} lines={14}>
        {() => null}
      </Fetched>
    </Place>
  );
}
