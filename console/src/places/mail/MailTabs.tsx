import { NavLink } from "react-router";

const TABS = [
  ["/mail", "Taken in"],
  ["/mail/peek", "On the server"],
  ["/mail/accounted", "Accounted for"],
] as const;

/** The three ways to look at mail. */
export function MailTabs() {
  return (
    <nav aria-label="Ways to look at mail" className="flex gap-1">
      {TABS.map(([to, name]) => (
        <NavLink key={to} to={to} end className={({ isActive }) => `rounded-[5px] px-2.5 py-1 ${isActive ? "bg-accent-soft font-semibold text-accent" : "text-ink-soft hover:bg-sunk"}`}>
          {name}
        </NavLink>
      ))}
    </nav>
  );
}
