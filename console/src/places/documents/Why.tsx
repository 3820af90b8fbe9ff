import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../../api/client";
import { actor, words } from "../../format/show";
import { Icon, type Mark } from "../../ui/Icon";
import { Sheet } from "../../ui/Place";
import { At } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Fetched } from "../../ui/States";

type Walk = Schemas["Walk"];

const STAGES: Record<string, string> = {
  end: "What was decided for good", check: "Checks", back: "Back to the vendor", desk: "The desk's gate",
  ask: "Questions", approve: "Approvals", post: "The ledger", keep: "Delivery",
};

/** Why the document stands where it stands: each stage, what it looked at, and what followed. */
export function Why({ id }: { id: number }) {
  const walks = useQuery({
    queryKey: ["why", id],
    queryFn: () => ask(api.GET("/api/v1/documents/{id}/why", { params: { path: { id } } })),
    refetchInterval: 6_000,
  });
  return (
    <Fetched from={walks}>
      {([newest, ...earlier]) =>
        newest ? (
          <>
            <Sheet title="Why it stands where it stands">
              <p className="px-4 pt-2.5"><About walk={newest} /></p>
              <Steps walk={newest} />
            </Sheet>
            {earlier.map((walk, at) => (
              <Sheet key={at}>
                <details>
                  <summary className="flex flex-wrap items-center gap-3 px-4 py-2.5">
                    <span className="font-semibold">Before</span> <Stamp state={walk.state} /> <About walk={walk} />
                  </summary>
                  <Steps walk={walk} />
                </details>
              </Sheet>
            ))}
          </>
        ) : (
          <Sheet><p className="px-4 py-3 text-ink-soft">Nothing is kept: this release has not looked at it yet.</p></Sheet>
        )
      }
    </Fetched>
  );
}

function About({ walk }: { walk: Walk }) {
  return (
    <span className="text-sm text-ink-soft">
      <At time={walk.at} seconds />, {actor(walk.by)}, version {walk.reading_version} of the reading, {walk.pipeline} version {walk.pipeline_version}
    </span>
  );
}

function Steps({ walk }: { walk: Walk }) {
  const told = walk.steps.filter((step) => step.looked.length > 0 || step.then !== "on");
  return (
    <ol className="grid gap-4 px-4 py-3">
      {told.map((step) => (
        <li key={step.stage} className="grid gap-1">
          <h3 className="font-semibold">{STAGES[step.stage] ?? words(step.stage)}</h3>
          <ul className="grid gap-0.5">
            {step.looked.map((line, at) => <Line key={at} said={line} />)}
          </ul>
          <p className="text-sm text-ink-soft">then: {step.then === "on" ? "on to the next" : words(step.then)}</p>
        </li>
      ))}
    </ol>
  );
}

/** What stops it is marked; a condition that does not hold is quiet. */
function Line({ said }: { said: string }) {
  const accepted = said.includes("(accepted by ");
  const stops = (/^[a-z]+\.[a-z_]+, block:/.test(said) && !accepted) || said.startsWith("stops:") || /^\d+ findings? stops? it$/.test(said) || said.endsWith(": yes") || said.includes(": cannot be evaluated");
  const no = said.endsWith(": no");
  const mark: Mark = stops ? "stop" : no ? "minus" : "check";
  const look = stops ? "text-brick" : no ? "text-ink-soft" : "text-moss";
  return (
    <li className="flex items-start gap-2">
      <Icon mark={mark} className={`mt-0.5 size-4 shrink-0 ${look}`} />
      <span className={`min-w-0 break-words ${no ? "text-ink-soft" : ""}`}>{said}</span>
    </li>
  );
}
