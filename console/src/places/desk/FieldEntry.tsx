import { useId, type KeyboardEvent } from "react";
import { KINDS } from "../../records/fields.generated";
import { plain, shown, specOf, typedForm, type ReadField } from "../../records/reading";
import { Icon } from "../../ui/Icon";
import { Menu, MenuItem } from "../../ui/Menu";
import { tidied, understood, withField, withKind, type Typed } from "./edits";
import { spotOf, useWork, type Box } from "./work";

const LINE = "h-8 w-full rounded-[4px] border bg-sheet px-2 text-ink disabled:bg-transparent";
const SURE = 0.9;

/** To the next field in the order of the screen. */
export function nextOnEnter(event: KeyboardEvent): void {
  if (event.key !== "Enter" || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault();
  const all = [...document.querySelectorAll<HTMLInputElement>("[data-entry]")];
  const next = all[all.indexOf(event.target as HTMLInputElement) + (event.shiftKey ? -1 : 1)];
  next?.focus();
  next?.select?.();
}

/** One value: typed freely, understood by its type, with how sure it is and what else it could be. */
export function FieldEntry({ name, wide = false }: { name: string; wide?: boolean }) {
  const { reading, edits, habit, wrong, editable, dispatch, setField, aim, show, forget } = useWork();
  const id = useId();
  const spec = specOf(name, reading);
  const read = reading.fields[name];
  const edited = name in edits.fields ? edits.fields[name] : undefined;
  const text = edited === undefined ? typedForm(spec, read?.value, habit) : (edited?.text ?? "");
  const path = `fields.${name}`;
  const changed = name in edits.fields;
  const problem = wrong[path];
  const right = spec.type === "money" || spec.type === "number" || spec.type === "rate";

  function type(next: string) {
    forget(path);
    setField(name, { text: next }, name);
  }
  function leave() {
    show(null);
    if (!edited) return;
    if (!edited.text.trim() && !read) return dispatch({ do: "change", mark: name, change: (now) => withField(now, name, undefined) });
    const tidy = tidied(spec, edited, habit);
    const meant = understood(spec.type, tidy, habit);
    const same = "value" in meant && meant.value === plain(read?.value) && !edited.spot;
    if (same) dispatch({ do: "change", mark: name, change: (now) => withField(now, name, undefined) });
    else if (tidy !== edited) dispatch({ do: "change", mark: name, change: (now) => withField(now, name, tidy) });
  }
  return (
    <div className={`grid min-w-0 content-start gap-0.5 ${wide ? "col-span-2" : ""}`} onMouseEnter={() => show(spotOf(edited?.spot ?? (changed ? undefined : read)))} onMouseLeave={() => show(null)}>
      <div className="flex h-5 items-center gap-1.5 whitespace-nowrap text-[13px] text-ink-soft">
        <label htmlFor={`field-${name}`} title={spec.title} className="min-w-0 truncate">{spec.title}</label>
        <Evidence read={read} changed={changed} />
        {read?.others.length && editable ? <Others name={name} read={read} /> : null}
      </div>
      <input
        id={`field-${name}`}
        data-entry=""
        autoComplete="off"
        list={spec.choices?.length ? `choices-${name}` : undefined}
        disabled={!editable}
        value={text}
        aria-invalid={Boolean(problem)}
        aria-describedby={problem ? id : undefined}
        onChange={(event) => type(event.target.value)}
        onFocus={() => {
          aim({ field: name });
          show(spotOf(edited?.spot ?? (changed ? undefined : read)));
        }}
        onBlur={leave}
        onKeyDown={nextOnEnter}
        className={`${LINE} ${right ? "text-right" : ""} ${problem ? "border-brick" : changed ? "border-accent bg-accent-soft/50" : "border-rule-strong/60"}`}
      />
      {spec.choices?.length ? (
        <datalist id={`choices-${name}`}>
          {spec.choices.map((each) => <option key={each} value={each} />)}
        </datalist>
      ) : null}
      {problem ? (
        <p id={id} role="alert" className="text-[13px] text-brick">
          {problem}
        </p>
      ) : null}
    </div>
  );
}

function Evidence({ read, changed }: { read: ReadField | undefined; changed: boolean }) {
  if (changed) return <span className="text-accent">changed</span>;
  if (!read) return null;
  if (read.origin === "person") return <span title="entered by a person">by hand</span>;
  if (read.origin === "derived") return <span title="computed from other values">computed</span>;
  if (read.origin === "mended") return <span className="text-amber" title="a digit was misread; with this one everything adds up">mended</span>;
  if (read.confidence >= SURE) return null;
  return (
    <span className="inline-flex shrink-0 items-center gap-0.5 text-amber" title={`the reader is ${Math.round(read.confidence * 100)} % sure`}>
      <Icon mark="warn" className="size-3.5" />
      {Math.round(read.confidence * 100)} %
    </span>
  );
}

/** Other values that were considered; taking one takes its spot along. */
function Others({ name, read }: { name: string; read: ReadField }) {
  const { reading, habit, setField } = useWork();
  const spec = specOf(name, reading);
  function take(other: ReadField["others"][number]) {
    const text = typedForm(spec, other.value, habit);
    const typed: Typed = { text, value: plain(other.value) };
    if (other.page && other.box?.length === 4) typed.spot = { page: other.page, box: other.box as Box, text };
    setField(name, typed);
  }
  return (
    <span className="ml-auto shrink-0">
      <Menu
        button={
          <button type="button" aria-label={`or ${read.others.length}, other values for ${spec.title}`} className="inline-flex items-center gap-0.5 rounded-[3px] px-1 hover:bg-sunk">
            or {read.others.length} <Icon mark="down" className="size-3" />
          </button>
        }
      >
        {read.others.map((other, at) => (
          <MenuItem key={at} onSelect={() => take(other)}>
            <span className="flex-1">{shown(spec, other.value, habit.currency)}</span>
            <span className="text-sm text-ink-soft">{Math.round(other.confidence * 100)} %</span>
          </MenuItem>
        ))}
      </Menu>
    </span>
  );
}

/** What the document is. */
export function KindEntry() {
  const { document, edits, editable, dispatch } = useWork();
  const kind = edits.kind ?? document.kind;
  return (
    <div className="grid min-w-0 content-start gap-0.5">
      <label htmlFor="field-kind" className="flex h-5 items-center gap-1.5 text-[13px] text-ink-soft">
        Kind {edits.kind ? <span className="text-accent">changed</span> : null}
      </label>
      <select
        id="field-kind"
        data-entry=""
        disabled={!editable}
        value={kind}
        onChange={(event) =>
          dispatch({
            do: "change",
            mark: "kind",
            change: (now) => withKind(now, event.target.value === document.kind ? undefined : event.target.value),
          })
        }
        className={`${LINE} ${edits.kind ? "border-accent bg-accent-soft/50" : "border-rule-strong/60"}`}
      >
        {KINDS.map((each) => (
          <option key={each}>{each}</option>
        ))}
      </select>
    </div>
  );
}
