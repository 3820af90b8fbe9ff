import { createContext, useCallback, useContext, useState, type ReactNode } from "react";
import { Button, MarkButton } from "./Button";

interface Saying {
  id: number;
  text: string;
  act?: { label: string; run: () => void };
}

const Say = createContext<(text: string, act?: Saying["act"]) => void>(() => undefined);
const SECONDS = 8;

/** Short sentences about what was just done, told to screen readers too. */
export function SaidProvider({ children }: { children: ReactNode }) {
  const [said, setSaid] = useState<Saying[]>([]);
  const drop = useCallback((id: number) => setSaid((all) => all.filter((each) => each.id !== id)), []);
  const say = useCallback(
    (text: string, act?: Saying["act"]) => {
      const id = Date.now() + Math.random();
      setSaid((all) => [...all.slice(-2), { id, text, ...(act ? { act } : {}) }]);
      setTimeout(() => drop(id), SECONDS * 1000);
    },
    [drop],
  );
  return (
    <Say.Provider value={say}>
      {children}
      <div role="status" aria-live="polite" className="fixed bottom-4 left-1/2 z-50 grid -translate-x-1/2 gap-2">
        {said.map((each) => (
          <div
            key={each.id}
            className="shown-in flex items-center gap-3 rounded-md bg-ink py-2 pl-4 pr-2 text-sheet shadow-float"
          >
            <span>{each.text}</span>
            {each.act ? (
              <Button
                look="quiet"
                small
                onClick={() => {
                  each.act?.run();
                  drop(each.id);
                }}
              >
                {each.act.label}
              </Button>
            ) : null}
            <MarkButton mark="cross" label="Close" className="!text-sheet hover:!bg-transparent" onClick={() => drop(each.id)} />
          </div>
        ))}
      </div>
    </Say.Provider>
  );
}

export function useSay() {
  return useContext(Say);
}
