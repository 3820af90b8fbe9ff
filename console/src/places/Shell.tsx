import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState, type ReactNode } from "react";
import { NavLink, useMatch, useNavigate } from "react-router";
import { api, ask, signOut, type Session } from "../api/client";
import { Icon, type Mark } from "../ui/Icon";
import { Key } from "../ui/Key";
import { Menu, MenuCheck, MenuItem } from "../ui/Menu";
import { keyLabel, useKeyList, useKeys, type KeyDoes } from "../ui/keys";
import { applyLook, chosenLook, type Look } from "../ui/look";
import { Dialog } from "../ui/Dialog";
import { OwnPassword } from "./people/OwnPassword";
import { SearchBox } from "./SearchBox";

const RAIL: [string, string, Mark][] = [
  ["/", "Today", "today"],
  ["/desk", "Desk", "desk"],
  ["/documents", "Documents", "documents"],
  ["/mail", "Mail", "mail"],
  ["/pipelines", "Pipelines", "pipelines"],
  ["/vendors", "Vendors", "vendors"],
  ["/orders", "Orders", "orders"],
  ["/masterdata", "Master data", "masterdata"],
  ["/trail", "Trail", "trail"],
  ["/connections", "Connections", "connections"],
  ["/people", "People", "people"],
];

/** The frame around all places: the rail, the search, the list of keys. */
export function Shell({ session, fetchDesk, children }: { session: Session; fetchDesk: () => void; children: ReactNode }) {
  const go = useNavigate();
  // The work screen needs the room: there the rail shows its marks alone.
  const narrow = useMatch("/desk/:id") !== null;
  const [open, setOpen] = useState<"search" | "keys" | "password" | null>(null);
  const close = () => setOpen(null);
  useKeys([
    { key: "mod+k", does: "Search everything", run: () => setOpen("search"), whileTyping: true },
    { key: "?", does: "Show these keys", run: () => setOpen("keys") },
    // The eleventh place has no figure left.
    ...RAIL.slice(0, 10).map(([path, name], at) => ({ key: String((at + 1) % 10), does: `Go to ${name}`, run: () => void go(path) })),
  ]);
  useEffect(() => {
    const timer = setTimeout(fetchDesk, 800);
    return () => clearTimeout(timer);
  }, [fetchDesk]);
  const waiting = useQuery({
    queryKey: ["desk", "waiting"],
    queryFn: () => ask(api.GET("/api/v1/desk/waiting")),
    refetchInterval: 10_000,
  });
  return (
    <div className={`grid h-screen ${narrow ? "grid-cols-[56px_1fr]" : "grid-cols-[184px_1fr]"}`}>
      <nav aria-label="Places" className="flex min-h-0 flex-col gap-0.5 border-r border-rule bg-ground px-2 py-3">
        <div className={`mb-3 flex h-9 items-center gap-2.5 ${narrow ? "justify-center" : "px-2.5"}`}>
          <img src={`${import.meta.env.BASE_URL}mark.svg`} alt="" width="26" height="26" />
          {narrow ? null : <span className="text-xl font-semibold tracking-tight">Veridox</span>}
        </div>
        <button
          type="button"
          title="Search (Ctrl K)"
          onClick={() => setOpen("search")}
          className={`mb-2 flex h-9 items-center gap-2.5 rounded-[5px] border border-rule-strong/60 bg-sheet text-ink-soft hover:border-ink-soft ${narrow ? "justify-center" : "px-2.5"}`}
        >
          <Icon mark="search" />
          <span className={narrow ? "sr-only" : ""}>Search</span>
          {narrow ? null : <span className="ml-auto"><Key>Ctrl K</Key></span>}
        </button>
        {RAIL.map(([path, name, mark]) => (
          <RailLink key={path} path={path} name={name} mark={mark} narrow={narrow} count={path === "/desk" ? waiting.data?.count : undefined} />
        ))}
        <div className="mt-auto">
          <PersonMenu session={session} narrow={narrow} onKeys={() => setOpen("keys")} onPassword={() => setOpen("password")} />
        </div>
      </nav>
      <div className="min-h-0 min-w-0">{children}</div>
      <SearchBox open={open === "search"} onClose={close} />
      <KeyList open={open === "keys"} onClose={close} />
      <OwnPassword open={open === "password"} onClose={close} />
    </div>
  );
}

function RailLink({ path, name, mark, narrow, count }: { path: string; name: string; mark: Mark; narrow: boolean; count: number | undefined }) {
  return (
    <NavLink
      to={path}
      end={path === "/"}
      title={narrow ? name : undefined}
      className={({ isActive }) =>
        `relative flex h-9 items-center gap-2.5 rounded-[5px] ${narrow ? "justify-center" : "px-2.5"} ${isActive ? "bg-sheet font-semibold text-ink before:absolute before:inset-y-1.5 before:-left-2 before:w-[3px] before:rounded-r before:bg-accent" : "text-ink-soft hover:bg-sunk hover:text-ink"}`
      }
    >
      <Icon mark={mark} className="size-[18px]" />
      <span className={narrow ? "sr-only" : ""}>{name}</span>
      {count ? (
        <span
          className={narrow ? "absolute right-0.5 top-0.5 rounded-full bg-amber-soft px-1 text-[10px] leading-3.5 text-amber" : "ml-auto rounded-full bg-amber-soft px-1.5 text-xs leading-5 text-amber"}
          aria-label={`${count} waiting`}
        >
          {count}
        </span>
      ) : null}
    </NavLink>
  );
}

function PersonMenu({ session, narrow, onKeys, onPassword }: { session: Session; narrow: boolean; onKeys: () => void; onPassword: () => void }) {
  const queries = useQueryClient();
  const [look, setLook] = useState<Look>(chosenLook);
  const leaving = useMutation({
    mutationFn: signOut,
    onSuccess: (nobody) => {
      queries.setQueryData(["session"], nobody);
      queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== "session" });
    },
  });
  function wear(next: Look) {
    applyLook(next);
    setLook(next);
  }
  return (
    <Menu
      side="top"
      button={
        <button
          type="button"
          className={`flex w-full items-center gap-2.5 rounded-[5px] py-1.5 text-left hover:bg-sunk ${narrow ? "justify-center" : "px-2"}`}
        >
          <span aria-hidden="true" className="grid size-7 shrink-0 place-items-center rounded-full bg-accent-soft text-sm font-semibold text-accent">
            {session.username?.slice(0, 2)}
          </span>
          <span className={narrow ? "sr-only" : "min-w-0 leading-tight"}>
            <span className="block truncate">{session.username}</span>
            <span className="block text-[13px] text-ink-soft">{session.role}</span>
          </span>
        </button>
      }
    >
      {(["system", "light", "dark"] as const).map((each) => (
        <MenuCheck key={each} on={look === each} onChange={() => wear(each)}>
          {{ system: "Light or dark as the system", light: "Light", dark: "Dark" }[each]}
        </MenuCheck>
      ))}
      <MenuItem onSelect={onKeys}>Keys</MenuItem>
      <MenuItem onSelect={onPassword}>Change my password</MenuItem>
      <MenuItem onSelect={() => window.open("/api/v1/docs", "_blank", "noopener")}>REST reference</MenuItem>
      <MenuItem onSelect={() => leaving.mutate()}>Sign out</MenuItem>
    </Menu>
  );
}

function KeyList({ open, onClose }: { open: boolean; onClose: () => void }) {
  const list = useKeyList();
  const shown: KeyDoes[] = open ? list() : [];
  return (
    <Dialog open={open} onClose={onClose} title="Keys" about="Single letters work while you are not typing into a field; Esc leaves a field.">
      <dl className="grid grid-cols-[max-content_1fr] items-baseline gap-x-5 gap-y-2">
        {shown.map((each) => (
          <div key={each.key} className="contents">
            <dt>
              <Key>{keyLabel(each.key)}</Key>
            </dt>
            <dd>{each.does}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}
