import { completeFromList, type Completion, type CompletionContext, type CompletionResult } from "@codemirror/autocomplete";
import type { EditorState } from "@codemirror/state";

/** What of JSON Schema the service's schema of the pipeline file uses. */
export interface Schema {
  description?: string;
  type?: string | string[];
  properties?: Record<string, Schema>;
  additionalProperties?: Schema | boolean;
  items?: Schema;
  enum?: string[];
  anyOf?: Schema[];
  $ref?: string;
  $defs?: Record<string, Schema>;
}

/** The tables of the language, as the service answers them. */
export interface Language {
  names: { name: string; type: string; help: string; values: string[] }[];
  lists: { name: string; help: string; example: string }[];
  functions: { name: string; takes: string[]; gives: string; help: string; example: string }[];
}

/** What stands at a place in the file: the keys that lead there, and the value's beginning. */
export interface Spot {
  path: string[];
  key: string;
  inValue: boolean;
}

const LINE = /^(\s*(?:- )*)([\w.-]+)\s*:(.*)$/;

/** The keys above a line, by what is indented less; items of a list count for nothing. */
export function spotAt(lines: string[], line: number, column: number): Spot {
  const text = lines[line] ?? "";
  const before = text.slice(0, column);
  const depthOf = (each: string) => (/^(\s*(?:- )*)/.exec(each)?.[1] ?? "").length;
  const own = depthOf(text);
  const path: string[] = [];
  let depth = own;
  for (let at = line - 1; at >= 0 && depth > 0; at -= 1) {
    const each = lines[at] ?? "";
    if (!each.trim() || each.trim().startsWith("#")) continue;
    const found = LINE.exec(each);
    const its = depthOf(each);
    // "- key:" stands as deep as its following keys, and is no parent of them.
    if (found && its < depth && !(found[3] ?? "").trim()) {
      path.unshift(found[2] ?? "");
      depth = /^\s*/.exec(each)?.[0].length ?? 0;
      if (/^\s*- /.test(each)) depth += 0;
    }
  }
  const flow = inline(before);
  const here = LINE.exec(before.replace(/[{,].*$/, ""));
  if (flow) {
    const parent = here ? [...path, here[2] ?? ""] : path;
    return { path: [...parent, ...flow.path], key: flow.key, inValue: flow.inValue };
  }
  const typed = LINE.exec(before);
  return typed ? { path, key: typed[2] ?? "", inValue: true } : { path, key: "", inValue: false };
}

/** Within `{a: {b: ` of one line. */
function inline(before: string): Spot | null {
  const open: number[] = [];
  for (let at = 0; at < before.length; at += 1) {
    if (before[at] === "{") open.push(at);
    if (before[at] === "}") open.pop();
  }
  if (!open.length) return null;
  const path: string[] = [];
  open.slice(1).forEach((at) => {
    const key = /([\w.-]+)\s*:\s*$/.exec(before.slice(0, at));
    if (key?.[1]) path.push(key[1]);
  });
  const rest = before.slice((open.at(-1) ?? 0) + 1).split(/,(?![^[]*\])/).at(-1) ?? "";
  const typed = /^\s*([\w.-]+)\s*:/.exec(rest);
  return { path, key: typed?.[1] ?? "", inValue: Boolean(typed) };
}

function resolved(schema: Schema | undefined, root: Schema): Schema | undefined {
  if (!schema) return undefined;
  if (schema.$ref) return resolved(root.$defs?.[schema.$ref.replace("#/$defs/", "")], root);
  const mapping = schema.anyOf?.map((each) => resolved(each, root)).find((each) => each?.properties);
  if (mapping) return mapping;
  if (schema.items) return resolved(schema.items, root);
  return schema;
}

/** The schema below a path of keys. */
export function below(root: Schema, path: string[]): Schema | undefined {
  let at: Schema | undefined = root;
  for (const key of path) {
    if (!at) return undefined;
    const more = typeof at.additionalProperties === "object" ? at.additionalProperties : undefined;
    at = resolved(at.properties?.[key] ?? more, root);
  }
  return at;
}

/** What is said of a key, with the words that it may have. */
export function explained(root: Schema, spot: Spot): { text: string; values: string[] } | null {
  if (!spot.key) return null;
  const part = below(root, spot.path);
  const key = part?.properties?.[spot.key];
  if (!key) return null;
  return { text: key.description ?? "", values: valuesOf(key) };
}

function valuesOf(schema: Schema): string[] {
  if (schema.enum) return schema.enum;
  for (const each of schema.anyOf ?? []) {
    const found = valuesOf(each);
    if (found.length) return found;
  }
  return schema.type === "boolean" ? ["true", "false"] : [];
}

const CONDITIONS = new Set(["when", "from", "default", "to"]);

/** What may be typed at a spot. */
export function offered(root: Schema, language: Language, spot: Spot): Completion[] {
  if (!spot.inValue) {
    const keys = below(root, spot.path)?.properties ?? {};
    return Object.entries(keys).map(([name, key]) => ({
      label: name, type: "property", info: key.description ?? "", apply: `${name}: `,
    }));
  }
  const values = explained(root, spot)?.values ?? [];
  if (values.length) return values.map((each) => ({ label: each, type: "enum" }));
  if (!CONDITIONS.has(spot.key)) return [];
  return [
    ...language.names.map((each) => ({ label: each.name, type: "variable", detail: each.type, info: each.help })),
    ...language.lists.map((each) => ({ label: each.name, type: "namespace", detail: "list", info: `${each.help}, as in ${each.example}` })),
    ...language.functions.map((each) => ({
      label: each.name, type: "function", detail: `${each.takes.join(", ")} -> ${each.gives}`, apply: `${each.name}(`,
      info: `${each.help}. ${each.example}`,
    })),
  ];
}

export function spotIn(state: EditorState, position: number): Spot {
  const line = state.doc.lineAt(position);
  const lines = state.doc.sliceString(0, line.to).split("\n");
  return spotAt(lines, line.number - 1, position - line.from);
}

/** A source of completions for the editor. */
export function completing(known: () => { schema: Schema; language: Language } | null) {
  return (context: CompletionContext): CompletionResult | null => {
    const tables = known();
    const word = context.matchBefore(/[\w.]*/);
    if (!tables || !word || (word.from === word.to && !context.explicit)) return null;
    const options = offered(tables.schema, tables.language, spotIn(context.state, context.pos));
    const found = completeFromList(options)(context);
    return found && !("then" in found) ? { ...found, from: word.from, validFor: /^[\w.]*$/ } : null;
  };
}
