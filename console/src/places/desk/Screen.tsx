import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { Evidence, storedEvidence } from "../../records/Evidence";
import { Findings } from "../../records/Findings";
import { currencyOf, fieldOfFinding, specOf } from "../../records/reading";
import { useSession } from "../../ui/session";
import { About } from "./About";
import { Alike } from "./Alike";
import { getOrdersBeside, holdDocument, tryAgain } from "./acts";
import { useAround } from "./around";
import { ByTwo } from "./ByTwo";
import { Card } from "./Card";
import { Choose } from "./Choose";
import { Coding } from "./Coding";
import { Comments } from "./Comments";
import { ActDialog, type Asking } from "./Dialogs";
import { SPECS, tableOf, tidied, withField, type Spot } from "./edits";
import { Footer } from "./Footer";
import { Header } from "./Header";
import { InLedger } from "./InLedger";
import { LineGrid } from "./LineGrid";
import { marksOf } from "./marks";
import { Meant } from "./Meant";
import { PageView } from "./PageView";
import { Told } from "./Told";
import { useEditing } from "./useEditing";
import { useRenew } from "./useRenew";
import { useSaving } from "./useSaving";
import { useScreenKeys } from "./useScreenKeys";
import { useTaking } from "./useTaking";
import { Values } from "./Values";
import { focusPath, spotOf, WorkContext, type Shown, type Target, type Work, type WorkDocument } from "./work";

/** Page on one side, values on the other, findings above, sums below. */
export function Screen({ document, silent }: { document: WorkDocument; silent: Error | null }) {
  const { session } = useSession();
  const go = useNavigate();
  // What is not looked at first is fetched when the page's picture is there.
  const [ready, setReady] = useState(document.pages.length === 0);
  const around = useAround(document.id, ready);
  const renew = useRenew();
  const editing = useEditing(document);
  const { edits, empty, dispatch, wrong, forget, meanwhile, setMeanwhile, mine } = editing;
  const [asking, setAsking] = useState<Asking | null>(null);
  const [problem, setProblem] = useState<Error | null>(null);
  const [active, setActive] = useState<Shown | null>(null);
  const [target, setTarget] = useState<Target | null>(null);
  const { reading } = document;
  const currencyEdit = edits.fields.currency?.text.trim().toUpperCase();
  const habit = useMemo(() => ({ language: reading.document.language, currency: currencyEdit ?? currencyOf(reading) }), [reading, currencyEdit]);
  const evidence = useMemo(() => storedEvidence(document.evidence), [document.evidence]);
  const editable = document.may.includes("correct");

  const taking = useTaking(document, empty, setProblem);
  const next = useCallback(() => void go(around.next ?? around.list), [go, around.next, around.list]);
  const { save, busy, finished } = useSaving({ document, habit, editing, next, onProblem: setProblem });
  const setField = useCallback<Work["setField"]>(
    (name, typed, mark = "") => dispatch({ do: "change", mark, change: (now) => withField(now, name, typed) }),
    [dispatch],
  );
  const work: Work = { document, reading, edits, habit, wrong, editable, dispatch, setField, aim: setTarget, show: setActive, forget };

  useScreenKeys({ document, empty, around, taking, onSave: save, onAsk: setAsking, onLeave: () => setTarget(null), dispatch });
  useFirstField(document, editable);
  const orders = useQuery({
    queryKey: ["orders beside", document.id, document.orders, document.version],
    queryFn: () => getOrdersBeside(document.id),
    enabled: ready && document.orders.length > 0,
  });
  const marks = useMemo(() => marksOf(document), [document]);
  const after = (acting: Promise<WorkDocument>) => {
    acting.then((now) => {
      mine();
      renew(now);
    }, setProblem);
  };
  function goToFinding(finding: Schemas["Finding"]) {
    const path = fieldOfFinding(finding);
    if (path) focusPath(path);
    const spot = spotOf(finding);
    if (spot) setActive(spot);
  }
  return (
    <WorkContext value={work}>
      <main className="grid h-screen min-w-0 grid-rows-[auto_1fr]">
        <Header
          document={document}
          me={session.username}
          place={around.place}
          back={around.list}
          before={around.before}
          next={around.next}
          onTake={(over) => void taking.take(over)}
          onRelease={() => void taking.release()}
        />
        <div className="grid min-h-0 grid-cols-[minmax(0,9fr)_minmax(560px,11fr)]">
          <PageView document={document.id} pages={document.pages} marks={marks} active={active} onPick={(spot) => pick(work, target, spot)} onGo={focusPath} picking={editable && target !== null} onReady={() => setReady(true)} />
          <div className="grid min-h-0 grid-cols-[minmax(0,1fr)] grid-rows-[1fr_auto]">
            <div tabIndex={-1} className="grid min-h-0 content-start gap-4 overflow-auto px-4 py-3 [scrollbar-gutter:stable]">
              <Told silent={silent} problem={problem} meanwhile={meanwhile} empty={empty} onTakeOver={() => void taking.take(true)} onSaveAgain={() => void save(true)} onSeen={() => setMeanwhile(null)} />
              <About document={document} me={session.username} onEndHold={() => after(holdDocument(document, null, ""))} onAgain={() => after(tryAgain(document))} />
              {document.findings.length ? (
                <section aria-label="Findings">
                  <Findings findings={document.findings} accepted={document.accepted} onGo={goToFinding} />
                </section>
              ) : null}
              {evidence ? <Alike document={document} alike={evidence.alike} /> : null}
              {ready && document.vendor ? <InLedger document={document} /> : null}
              {evidence?.card?.length ? <Card lines={evidence.card} /> : null}
              {evidence?.orders?.length ? <Meant orders={evidence.orders} instead={evidence.instead} /> : null}
              <Choose document={document} unsaved={!empty} onChosen={finished} />
              {evidence ? <Evidence of={evidence} /> : null}
              <ByTwo document={document} />
              <Values />
              <LineGrid table="lines" title="Lines" beside={orders.data} />
              {document.coding.length ? <Coding key={document.version} document={document} unsaved={!empty} onDone={finished} /> : null}
              <LineGrid table="tax_lines" title="Tax lines" />
              {ready ? <Comments id={document.id} /> : null}
            </div>
            <Footer busy={busy} onAsk={setAsking} onSave={() => void save(true)} />
          </div>
        </div>
        <ActDialog
          asking={asking}
          document={document}
          onClose={() => setAsking(null)}
          onDone={(now, said) => {
            setAsking(null);
            if (now) taking.forget();
            finished(now, said);
          }}
        />
      </main>
    </WorkContext>
  );
}

/** The first field that something is said about gets the focus; anew when that changes by a save. */
function useFirstField(document: WorkDocument, editable: boolean): void {
  const path = document.findings.map(fieldOfFinding).find((name) => name !== undefined) ?? "";
  const codes = document.findings.map((each) => each.code).join(" ");
  useEffect(() => {
    if (!editable) return;
    const frame = requestAnimationFrame(() => (path && focusPath(path)) || focusPath("number"));
    return () => cancelAnimationFrame(frame);
  }, [document.id, path, codes, editable]);
}

/** Words of the page go into the field or cell that was last gone to, with their spot. */
function pick(work: Work, target: Target | null, spot: Spot): void {
  const { editable, habit, reading, forget, setField, dispatch, show } = work;
  if (!target || !editable) return;
  if ("field" in target) {
    forget(`fields.${target.field}`);
    setField(target.field, tidied(specOf(target.field, reading), { text: spot.text, spot }, habit));
  } else {
    const { table, row, cell } = target;
    const spec = SPECS[table].find((each) => each.name === cell);
    const typed = tidied(spec ?? { name: cell, type: "text" }, { text: spot.text, spot }, habit);
    forget(`${table}[${row + 1}].${cell}`);
    dispatch({
      do: "change",
      mark: "",
      change: (now) => ({
        ...now,
        [table]: tableOf(now, reading, table, habit).map((each, at) => (at === row ? { ...each, cells: { ...each.cells, [cell]: typed } } : each)),
      }),
    });
  }
  show(spot);
}
