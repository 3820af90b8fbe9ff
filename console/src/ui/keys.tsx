import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from "react";

/** A key and what it does here. `mod` is Ctrl, or Cmd on a Mac. */
export interface KeyDoes {
  key: string;
  does: string;
  run: () => void;
  /** Also while typing into a field. */
  whileTyping?: boolean;
}

interface Registry {
  add: (keys: KeyDoes[]) => () => void;
  all: () => KeyDoes[];
}

const Keys = createContext<Registry | null>(null);

function typing(event: KeyboardEvent): boolean {
  // The editor lives in a shadow root: outside, its host would be all that is seen.
  const [target] = event.composedPath();
  return target instanceof HTMLElement && (target.matches("input, textarea, select") || target.isContentEditable);
}

function nameOf(event: KeyboardEvent): string {
  const mod = event.ctrlKey || event.metaKey ? "mod+" : "";
  const shift = event.shiftKey && event.key.length > 1 ? "shift+" : "";
  return `${mod}${shift}${event.key.length === 1 ? event.key.toLowerCase() : event.key}`;
}

/** Listens once for the whole console; the newest registration of a key wins. */
export function KeysProvider({ children }: { children: ReactNode }) {
  const registered = useRef<KeyDoes[][]>([]);
  const [, redraw] = useState(0);
  const add = useCallback((keys: KeyDoes[]) => {
    registered.current.push(keys);
    redraw((n) => n + 1);
    return () => {
      registered.current = registered.current.filter((each) => each !== keys);
    };
  }, []);
  const registry = useMemo(() => ({ add, all: () => registered.current.flat() }), [add]);
  useEffect(() => {
    function pressed(event: KeyboardEvent) {
      if (event.defaultPrevented || event.altKey || document.querySelector("[role=dialog], [role=menu]")) return;
      const name = nameOf(event);
      const found = registry.all().findLast((each) => each.key === name);
      if (!found || (typing(event) && !found.whileTyping)) return;
      event.preventDefault();
      found.run();
    }
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, [registry]);
  return <Keys.Provider value={registry}>{children}</Keys.Provider>;
}

/** Keys that work while the component is there. */
export function useKeys(keys: KeyDoes[]): void {
  const registry = useContext(Keys);
  const latest = useRef(keys);
  latest.current = keys;
  const names = keys.map((each) => `${each.key} ${each.does} ${each.whileTyping ?? false}`).join("\n");
  useEffect(() => {
    // By what it does, not by its place: a press between two renderings must never do something else.
    const stable = latest.current.map((each) => ({ ...each, run: () => latest.current.find((now) => now.key === each.key && now.does === each.does)?.run() }));
    return registry?.add(stable);
  }, [registry, names]);
}

/** All keys that work now, the most special first. */
export function useKeyList(): () => KeyDoes[] {
  const registry = useContext(Keys);
  return () => {
    const seen = new Set<string>();
    return (registry?.all() ?? []).toReversed().filter((each) => !seen.has(each.key) && seen.add(each.key));
  };
}

/** A key as it stands on the keyboard. */
export function keyLabel(key: string): string {
  const named: Record<string, string> = { enter: "Enter", escape: "Esc", arrowup: "↑", arrowdown: "↓" };
  return key
    .split("+")
    .map((part) => (part === "mod" ? "Ctrl" : part === "shift" ? "Shift" : (named[part.toLowerCase()] ?? part.toUpperCase())))
    .join(" ");
}
