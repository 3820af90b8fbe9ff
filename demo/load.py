"""Set the demo up through the service's own interface, then send its mails."""

import time
from collections.abc import Callable

import httpx

from demo import merrowmere as m
from demo.awkward import awkward_mails, unwanted_mails
from demo.mails import MAILS, send
from demo.stack import ADMIN, MAILBOX, PEOPLE, POST, ROOT, Stack
from veridox.client import Veridox
from veridox.client.signin import signed_in
from veridox.core.findings.wording import counted

PIPELINE = ROOT / "demo" / "pipelines" / "supplier-invoices.pipeline.yaml"
POST_ROOM = ROOT / "demo" / "pipelines" / "post-room.pipeline.yaml"


def make_token(stack: Stack) -> str:
    """A token for the demo's command line, kept in the installation's folder."""
    path = stack.folder / "token"
    if not path.exists():
        with signed_in(stack.url, ADMIN, stack.secret("admin")) as browser:
            wanted = {"name": "demo", "scopes": ["read", "work", "admin"]}
            token = browser.post("/tokens", wanted)["token"]
        path.touch(0o600)
        path.write_text(token)
    return path.read_text()


def connections(stack: Stack) -> list[dict[str, object]]:
    """The mailbox, the outbox and the ledger, as the API takes them."""
    mailbox = {"host": "127.0.0.1", "port": stack.ports.imap, "user": MAILBOX, "security": "tls"}
    outbox = {"host": "127.0.0.1", "port": stack.ports.smtp, "security": "none"}
    return [
        {
            "name": "ap-inbox",
            "kind": "mailbox",
            "settings": {**mailbox, "ca_file": str(stack.dovecot.ca_file)},
            "secret": stack.secret(f"mail-{MAILBOX}"),
        },
        {
            "name": "mail-out",
            "kind": "outbox",
            "settings": {**outbox, "sender": "veridox@merrowmere.example"},
        },
        {
            "name": "main-books",
            "kind": "ledger",
            "settings": {"url": stack.finance_url, "timeout": 5, "late_window": 5},
            "secret": stack.secret("finance"),
        },
        {
            # Signed in to with bearer tokens, over a line that begins in the clear (STARTTLS).
            "name": "post-room",
            "kind": "mailbox",
            "settings": {
                **mailbox,
                "port": stack.ports.starttls,
                "user": POST,
                "security": "starttls",
                "ca_file": str(stack.dovecot.ca_file),
                "auth": "oauth2",
                "token_url": stack.token_url,
                "client_id": "veridox",
            },
            "secret": stack.secret("token-client"),
        },
        {
            "name": "ap-chat",
            "kind": "chat",
            "settings": {"url": f"{stack.chat_url}/messages"},
            "secret": stack.secret("chat"),
        },
    ]


def load_finance(stack: Stack) -> None:
    """The same master data in the finance system."""
    data = {
        "entities": [[e.code, e.name, e.currency] for e in m.ENTITIES],
        "vendors": [[v.code, v.name, v.tax_id, False] for v in m.VENDORS],
        "orders": [
            [o.number, o.entity, o.vendor, o.currency,
             str(sum(line.quantity * line.price for line in o.lines))]
            for o in m.ORDERS
        ],
    }  # fmt: skip
    headers = {"Authorization": f"Bearer {stack.secret('finance')}"}
    url = f"{stack.finance_url}/v1/masterdata"
    httpx.post(url, json=data, headers=headers).raise_for_status()


def set_up(stack: Stack, token: str) -> None:
    """Connections, master data, the pipeline and people."""
    load_finance(stack)
    with Veridox(stack.url, token=token) as vx:
        for connection in connections(stack):
            vx.connections.create(connection)
        vx.entities.import_table(m.entities_csv().encode())
        vx.vendors.import_table(m.vendors_csv().encode())
        vx.orders.import_table(m.orders_csv().encode())
        vx.pipelines.publish(PIPELINE.read_text())
        known = {each["username"] for each in vx.people.list()}
        for username, (name, role) in PEOPLE.items():
            if username in known:
                continue
            secret = {"username": username, "password": stack.secret(username)}
            vx.people.create({**secret, "name": name, "role": role})


def send_mails(stack: Stack, token: str, say: Callable[[str], None]) -> None:
    """All ten; the copy goes out only when the first was posted, as it would in life."""
    with Veridox(stack.url, token=token) as vx:
        for mail in MAILS:
            if mail.name == "sent twice":
                _wait(lambda: any(vx.documents.list(state="posted", search="BF-2026-0413")))
            send(mail.message(), stack.ports.smtp)
            say(f"sent: {mail.subject} ({mail.name}, {counted(len(mail.files), 'file')})")
        _wait(lambda: settled(vx))


def send_awkward_mails(stack: Stack, token: str, say: Callable[[str], None]) -> None:
    """What else comes in with the post, for the mailbox that takes everything."""
    with Veridox(stack.url, token=token) as vx:
        vx.pipelines.publish(POST_ROOM.read_text())
        before = len(list(vx.messages.list()))
        for name, message in awkward_mails().items():
            send(message, stack.ports.smtp)
            say(f"sent: {message['Subject']} ({name})")
        for message in unwanted_mails():
            send(message, stack.ports.smtp)
            say(f"sent: {message['Subject']} (nobody's bill, to the AP inbox)")
        more = before + len(awkward_mails())
        _wait(lambda: len(list(vx.messages.list())) >= more and settled(vx))


def settled(vx: Veridox) -> bool:
    """All mails are in, and each lies where it belongs."""
    mails = list(vx.messages.list())
    return len(mails) >= len(MAILS) and all(mail["place"] != "arrived" for mail in mails)


def _wait(done: Callable[[], bool], seconds: float = 90) -> None:
    limit = time.monotonic() + seconds
    while not done():
        if time.monotonic() > limit:
            raise SystemExit("demo: the mails were not worked through in time; see var/demo/log")
        time.sleep(0.2)
