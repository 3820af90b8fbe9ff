import { useMutation, useQuery } from "@tanstack/react-query";
import { useState, type FormEvent, type ReactNode } from "react";
import { api, ask, Problem } from "../../api/client";
import { counted } from "../../format/show";
import { Findings } from "../../records/Findings";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Choice, Entry, Lines } from "../../ui/Entry";
import { Notice } from "../../ui/Notice";
import { Fetched } from "../../ui/States";
import { addComment, callDocument, discardDocument, getLetter, holdDocument, letWait, postDocument, proveFinding, returnDocument, takeDocument, type Letter } from "./acts";
import type { WorkDocument } from "./work";

export type Asking = "prove" | "post" | "return" | "hold" | "discard" | "comment" | "give" | "call" | "let_wait";

interface Props {
  document: WorkDocument;
  onClose: () => void;
  onDone: (after: WorkDocument | null, said: string) => void;
}

const WORDS: Record<Asking, { title: string; about: string }> = {
  prove: { title: "Say how it was proven", about: "You say what you did to make sure; another person then posts it. Nothing goes out by this." },
  post: { title: "Post it", about: "It goes to the ledger as it stands here." },
  return: { title: "Return it to the vendor", about: "This letter goes out; the document ends here once the mail server has taken it. What the vendor sends instead will be linked to it." },
  hold: { title: "Hold it until a day", about: "It leaves the list and is back on that day." },
  discard: { title: "Discard it", about: "It ends without being posted. The original and its story stay." },
  call: { title: "Call it to the desk", about: "It does not wait any more for what comes by itself; somebody decides." },
  let_wait: { title: "Let it wait again", about: "It leaves the desk, and goes on by itself once what it waits for has come." },
  comment: { title: "Comment", about: "For colleagues; it stays in the document's story." },
  give: { title: "Give it to a colleague", about: "Only they can change it then." },
};

/** The one sheet of an act, with what it needs to know. */
export function ActDialog({ asking, ...rest }: Props & { asking: Asking | null }) {
  if (!asking) return null;
  const { title, about } = WORDS[asking];
  const forms: Record<Asking, ReactNode> = {
    prove: <ProveForm {...rest} />,
    post: <PostForm {...rest} />,
    return: <ReturnForm {...rest} />,
    hold: <HoldForm {...rest} />,
    discard: <DiscardForm {...rest} />,
    call: <CallForm {...rest} />,
    let_wait: <LetWaitForm {...rest} />,
    comment: <CommentForm {...rest} />,
    give: <GiveForm {...rest} />,
  };
  return (
    <Dialog open onClose={rest.onClose} title={title} about={about} wide={asking === "return"}>
      {forms[asking]}
    </Dialog>
  );
}

interface FormProps {
  children: ReactNode;
  error: Error | null;
  busy: boolean;
  label: string;
  grave?: boolean;
  onSend: () => void;
  onClose: () => void;
}

/** Fields above, the two ways out below; Ctrl Enter sends from anywhere inside. */
function Form({ children, error, busy, label, grave = false, onSend, onClose }: FormProps) {
  const placed = error instanceof Problem && error.places.length > 0;
  return (
    <form
      className="grid gap-4"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        onSend();
      }}
      onKeyDown={(event) => {
        if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
          event.preventDefault();
          onSend();
        }
      }}
    >
      {children}
      {error && !placed ? <Notice kind="wrong">{error.message}</Notice> : null}
      <div className="flex justify-end gap-2">
        <Button look="quiet" onClick={onClose}>
          Cancel
        </Button>
        <Button type="submit" look={grave ? "grave" : "main"} disabled={busy} keyHint="Ctrl ↵">
          {label}
        </Button>
      </div>
    </form>
  );
}

function placesOf(error: Error | null) {
  const places = error instanceof Problem ? error.places : [];
  return (path: string) => places.find((each) => each.path === path)?.message;
}

function nameOf(document: WorkDocument): string {
  return document.number || document.file_name;
}

function PostForm({ document, onClose, onDone }: Props) {
  const [reason, setReason] = useState("");
  const blocking = document.findings.filter((each) => each.weight === "block");
  const send = useMutation({
    mutationFn: () => postDocument(document, reason),
    onSuccess: (after) => onDone(after, `${nameOf(document)} goes to the ledger.`),
  });
  return (
    <Form label="Post" error={send.error} busy={send.isPending} onSend={() => send.mutate()} onClose={onClose}>
      {blocking.length ? (
        <>
          <div className="grid gap-2">
            <p>You accept {counted(blocking.length, "finding that stops it", "findings that stop it")}:</p>
            <Findings findings={blocking} />
          </div>
          <Lines label="Why" required autoFocus rows={3} value={reason} onChange={(event) => setReason(event.target.value)} hint="It stands in the story beside your name." />
        </>
      ) : (
        <Entry label="Remark, if any" autoFocus value={reason} onChange={(event) => setReason(event.target.value)} />
      )}
    </Form>
  );
}

function CallForm({ document, onClose, onDone }: Props) {
  const [reason, setReason] = useState("");
  const send = useMutation({
    mutationFn: () => callDocument(document, reason),
    onSuccess: (after) => onDone(after, `${nameOf(document)} is at the desk.`),
  });
  const wrong = placesOf(send.error)("reason");
  return (
    <Form label="Call it" error={send.error} busy={send.isPending} onSend={() => send.mutate()} onClose={onClose}>
      <Entry label="Why it is not waited for" required autoFocus value={reason} onChange={(event) => setReason(event.target.value)} {...(wrong ? { problem: wrong } : {})} />
    </Form>
  );
}

function LetWaitForm({ document, onClose, onDone }: Props) {
  const send = useMutation({
    mutationFn: () => letWait(document),
    onSuccess: (after) => onDone(after, `${nameOf(document)} waits.`),
  });
  return (
    <Form label="Let it wait" error={send.error} busy={send.isPending} onSend={() => send.mutate()} onClose={onClose}>
      <ul className="list-disc pl-5">
        {document.reasons.map((each) => <li key={each}>{each}</li>)}
      </ul>
    </Form>
  );
}

function ProveForm({ document, onClose, onDone }: Props) {
  const [first] = document.by_two;
  const [code, setCode] = useState(first?.code ?? "");
  const [how, setHow] = useState("");
  const chosen = document.by_two.find((each) => each.code === code);
  const send = useMutation({
    mutationFn: () => proveFinding(document, code, how),
    onSuccess: (after) => onDone(after, "It is kept; another person posts it now."),
  });
  return (
    <Form label="Keep it" error={send.error} busy={send.isPending} onSend={() => send.mutate()} onClose={onClose}>
      {document.by_two.length > 1 ? (
        <Choice label="Of which finding" value={code} onChange={(event) => setCode(event.target.value)}>
          {document.by_two.map((each) => (
            <option key={each.code} value={each.code}>
              {each.code}
            </option>
          ))}
        </Choice>
      ) : null}
      {chosen ? <p>{chosen.message}</p> : null}
      <Lines label="What you did" required autoFocus rows={4} value={how} wrong={placesOf(send.error)("how")} onChange={(event) => setHow(event.target.value)} hint="Whom you called, under which number, and where the number is from: never from the bill." />
    </Form>
  );
}

function DiscardForm({ document, onClose, onDone }: Props) {
  const [reason, setReason] = useState("");
  const send = useMutation({
    mutationFn: () => discardDocument(document, reason),
    onSuccess: (after) => onDone(after, `${nameOf(document)} is discarded.`),
  });
  return (
    <Form label="Discard" grave error={send.error} busy={send.isPending} onSend={() => send.mutate()} onClose={onClose}>
      <Lines label="Why" required autoFocus rows={3} value={reason} onChange={(event) => setReason(event.target.value)} />
    </Form>
  );
}

function HoldForm({ document, onClose, onDone }: Props) {
  const tomorrow = dayAhead(1);
  const [until, setUntil] = useState(dayAhead(7));
  const [reason, setReason] = useState("");
  const send = useMutation({
    mutationFn: () => holdDocument(document, until, reason),
    onSuccess: (after) => onDone(after, `${nameOf(document)} is on hold.`),
  });
  const wrong = placesOf(send.error);
  return (
    <Form label="Hold" error={send.error} busy={send.isPending} onSend={() => send.mutate()} onClose={onClose}>
      <Entry label="Until" type="date" required min={tomorrow} value={until} wrong={wrong("until")} onChange={(event) => setUntil(event.target.value)} />
      <Entry label="What is waited for" required autoFocus value={reason} wrong={wrong("reason")} onChange={(event) => setReason(event.target.value)} />
    </Form>
  );
}

function dayAhead(days: number): string {
  const date = new Date();
  date.setDate(date.getDate() + days);
  return [date.getFullYear(), date.getMonth() + 1, date.getDate()].map((part) => String(part).padStart(2, "0")).join("-");
}

function CommentForm({ document, onClose, onDone }: Props) {
  const [text, setText] = useState("");
  const send = useMutation({
    mutationFn: () => addComment(document.id, text),
    onSuccess: () => onDone(null, "Your comment stands in the story."),
  });
  return (
    <Form label="Comment" error={send.error} busy={send.isPending} onSend={() => send.mutate()} onClose={onClose}>
      <Lines label="Comment" hidden required autoFocus rows={4} value={text} wrong={placesOf(send.error)("text")} onChange={(event) => setText(event.target.value)} />
    </Form>
  );
}

function GiveForm({ document, onClose, onDone }: Props) {
  const people = useQuery({ queryKey: ["people"], queryFn: () => ask(api.GET("/api/v1/people", { params: { query: { limit: 500 } } })) });
  const [person, setPerson] = useState("");
  const send = useMutation({
    mutationFn: () => takeDocument(document.id, person, true),
    onSuccess: (after) => onDone(after, `${nameOf(document)} is with ${person} now.`),
  });
  return (
    <Fetched from={people} lines={2}>
      {({ results }) => (
        <Form label="Give" error={send.error} busy={send.isPending} onSend={() => person && send.mutate()} onClose={onClose}>
          <Choice label="Colleague" autoFocus required value={person} wrong={placesOf(send.error)("person")} onChange={(event) => setPerson(event.target.value)}>
            <option value="">choose</option>
            {results
              .filter((each) => each.may.includes("work") && each.username !== document.taken_by)
              .map((each) => (
                <option key={each.username} value={each.username}>
                  {each.name ? `${each.name} (${each.username})` : each.username}
                </option>
              ))}
          </Choice>
        </Form>
      )}
    </Fetched>
  );
}

function ReturnForm(props: Props) {
  const draft = useQuery({ queryKey: ["letter", props.document.id, props.document.version], queryFn: () => getLetter(props.document.id), staleTime: Infinity });
  return (
    <Fetched from={draft} lines={8}>
      {(letter) => <LetterForm {...props} draft={letter} />}
    </Fetched>
  );
}

function LetterForm({ document, onClose, onDone, draft }: Props & { draft: Letter }) {
  const [letter, setLetter] = useState(draft);
  const send = useMutation({
    mutationFn: () => returnDocument(document, letter),
    onSuccess: (after) => onDone(after, `${nameOf(document)} goes back; the letter is on its way to ${letter.to}.`),
  });
  const wrong = placesOf(send.error);
  return (
    <Form label="Return and send the letter" error={send.error} busy={send.isPending} onSend={() => send.mutate()} onClose={onClose}>
      <div className="grid grid-cols-[1fr_2fr] gap-3">
        <Entry label="To" type="email" required value={letter.to} wrong={wrong("to")} hint={draft.to ? "the vendor's contact" : "the vendor has no contact in the master data: type one, the trail says so"} onChange={(event) => setLetter({ ...letter, to: event.target.value })} />
        <Entry label="Subject" required value={letter.subject} wrong={wrong("subject")} onChange={(event) => setLetter({ ...letter, subject: event.target.value })} />
      </div>
      <Lines label="Letter" required autoFocus rows={15} value={letter.text} wrong={wrong("text")} onChange={(event) => setLetter({ ...letter, text: event.target.value })} />
    </Form>
  );
}
