import { autocompletion, completionKeymap } from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap, indentWithTab } from "@codemirror/commands";
import { yaml } from "@codemirror/lang-yaml";
import { HighlightStyle, syntaxHighlighting } from "@codemirror/language";
import { lintGutter, setDiagnostics, type Diagnostic } from "@codemirror/lint";
import { EditorState } from "@codemirror/state";
import { EditorView, highlightActiveLine, hoverTooltip, keymap, lineNumbers, type Tooltip } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import { useEffect, useRef } from "react";
import { completing, explained, spotIn, type Language, type Schema } from "./completion";

export interface TextProblem {
  line: number;
  column: number;
  message: string;
  hint: string;
  /** Shared part that it stands in; empty for the file itself. */
  part?: string;
  /** Allowed, and hardly meant. */
  warning?: boolean;
}

const LOOK = EditorView.theme({
  "&": { height: "100%", color: "var(--ink)", backgroundColor: "var(--sheet)", fontSize: "14px" },
  "&.cm-focused": { outline: "2px solid var(--accent)", outlineOffset: "-2px" },
  ".cm-scroller": { fontFamily: "ui-monospace, 'DejaVu Sans Mono', monospace", lineHeight: "1.55" },
  ".cm-content": { caretColor: "var(--ink)" },
  ".cm-cursor": { borderLeftColor: "var(--ink)" },
  ".cm-gutters": { backgroundColor: "var(--ground)", color: "var(--ink-soft)", borderRight: "1px solid var(--rule)" },
  ".cm-activeLine, .cm-activeLineGutter": { backgroundColor: "color-mix(in srgb, var(--accent-soft) 45%, transparent)" },
  "&.cm-focused > .cm-scroller > .cm-selectionLayer .cm-selectionBackground, .cm-selectionBackground": { backgroundColor: "var(--accent-soft)" },
  ".cm-explained": { padding: "4px 8px", maxWidth: "420px", fontFamily: "'Source Sans 3 Variable', sans-serif" },
  ".cm-tooltip-autocomplete ul li[aria-selected]": { backgroundColor: "var(--accent-soft)", color: "var(--ink)" },
  ".cm-completionDetail": { color: "var(--ink-soft)", fontStyle: "normal", marginLeft: "1em" },
  ".cm-completionInfo": { maxWidth: "320px", fontFamily: "'Source Sans 3 Variable', sans-serif" },
  ".cm-tooltip": { backgroundColor: "var(--sheet)", color: "var(--ink)", border: "1px solid var(--rule)" },
});
const INKS = HighlightStyle.define([
  { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: "var(--accent)", fontWeight: "600" },
  { tag: [tags.string, tags.content], color: "var(--ink)" },
  { tag: tags.comment, color: "var(--ink-soft)", fontStyle: "italic" },
  { tag: [tags.number, tags.bool, tags.keyword], color: "var(--amber)" },
  { tag: tags.punctuation, color: "var(--ink-soft)" },
]);

interface Props {
  /** What it begins with; a new key begins anew. What is typed then is its own. */
  initial: string;
  readOnly: boolean;
  problems: TextProblem[];
  onChange: (text: string) => void;
  /** Line and column to go to; a new object goes there again. */
  goTo: { line: number; column: number } | null;
  /** What completion and explanations are made of. */
  tables: { schema: Schema; language: Language } | null;
}

/**
 * The text with its problems in place. It lives in a shadow root: there the editor
 * brings its styles as sheets, which the content policy allows, and not as elements.
 */
export function Editor({ initial, readOnly, problems, onChange, goTo, tables }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const changed = useRef(onChange);
  changed.current = onChange;
  const first = useRef(initial);
  const known = useRef(tables);
  known.current = tables;
  useEffect(() => {
    if (!host.current) return;
    const root = host.current.shadowRoot ?? host.current.attachShadow({ mode: "open" });
    const created = new EditorView({
      root,
      parent: root,
      state: EditorState.create({
        doc: first.current,
        extensions: [
          lineNumbers(),
          lintGutter(),
          history(),
          highlightActiveLine(),
          yaml(),
          autocompletion({ override: [completing(() => known.current)], icons: false }),
          hoverTooltip((now, position) => explanation(known.current, now, position)),
          syntaxHighlighting(INKS),
          LOOK,
          keymap.of([...completionKeymap, ...defaultKeymap, ...historyKeymap, ...(readOnly ? [] : [indentWithTab])]),
          EditorState.readOnly.of(readOnly),
          EditorView.contentAttributes.of({ "aria-label": "Pipeline file", tabindex: "0" }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) changed.current(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = created;
    return () => {
      created.destroy();
      view.current = null;
    };
  }, [readOnly]);
  useEffect(() => {
    const now = view.current;
    if (!now) return;
    const marks = problems.map(({ line, column, message, hint, warning }): Diagnostic => {
      const from = positionOf(now, line, column);
      const end = now.state.doc.lineAt(from).to;
      const word = /^[^\s,:}\]]+/.exec(now.state.sliceDoc(from, end))?.[0].length ?? 0;
      return { from, to: Math.min(end, from + Math.max(1, word)), severity: warning ? "warning" : "error", message: hint ? `${message} (${hint})` : message };
    });
    now.dispatch(setDiagnostics(now.state, marks));
  }, [problems]);
  useEffect(() => {
    const now = view.current;
    if (!now || !goTo) return;
    const at = positionOf(now, goTo.line, goTo.column);
    now.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: "center" }) });
    now.focus();
  }, [goTo]);
  return <div ref={host} className="h-full min-h-0 overflow-hidden [&::part(editor)]:h-full" />;
}

/** What the key means on which the pointer rests. */
function explanation(tables: Props["tables"], view: EditorView, position: number): Tooltip | null {
  const line = view.state.doc.lineAt(position);
  const word = /[\w.-]+(?=\s*:)/g;
  for (const found of line.text.matchAll(word)) {
    const from = line.from + found.index;
    const to = from + found[0].length;
    if (!tables || position < from || position > to) continue;
    const spot = { ...spotIn(view.state, from), key: found[0] };
    const said = explained(tables.schema, spot);
    if (!said?.text) return null;
    return {
      pos: from, end: to, above: true,
      create: () => {
        const dom = document.createElement("div");
        dom.textContent = said.values.length ? `${said.text} ${said.values.join(", ")}` : said.text;
        dom.className = "cm-explained";
        return { dom };
      },
    };
  }
  return null;
}

function positionOf(view: EditorView, line: number, column: number): number {
  const { doc } = view.state;
  const found = doc.line(Math.min(Math.max(1, line), doc.lines));
  return Math.min(found.to, found.from + Math.max(0, column - 1));
}
