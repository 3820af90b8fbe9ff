/** Light, dark, or as the system has it: kept in this browser. */
export type Look = "system" | "light" | "dark";

const KEY = "veridox.look";

export function chosenLook(): Look {
  const kept = localStorage.getItem(KEY);
  return kept === "light" || kept === "dark" ? kept : "system";
}

export function applyLook(look = chosenLook()): void {
  if (look === "system") localStorage.removeItem(KEY);
  else localStorage.setItem(KEY, look);
  if (look === "system") delete document.documentElement.dataset.look;
  else document.documentElement.dataset.look = look;
}
