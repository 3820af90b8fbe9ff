"""Set the demo up through the service's own interface, then send its mails."""

import time
from collections.abc import Callable
from decimal import Decimal
from typing import Any

import httpx

from demo import merrowmere as m
from demo.awkward import awkward_mails, unwanted_mails
from demo.findings import CASES, NEW_ACCOUNT, OTHER_ACCOUNT
from demo.mails import MAILS, send
from demo.stack import ADMIN, MAILBOX, PEOPLE, POST, ROOT, Stack
from veridox.client import Veridox
from veridox.client.masterdata import KINDS
from veridox.client.signin import signed_in
from veridox.core.findings.wording import counted

PIPELINE = ROOT / "demo" / "pipelines" / "supplier-invoices.pipeline.yaml"
MAIL_SERVER = "mx.merrowmere.example"
"""Under which the mailroom writes what it found of a sender."""
SECOND = "eva"
POST_ROOM = ROOT / "demo" / "pipelines" / "post-room.pipeline.yaml"


def make_token(stack: Stack) -> str:
    """A token for the demo's command line, kept in the installation's folder."""
    path = stack.folder / "token"
    if not path.exists():
        with signed_in(stack.url, ADMIN, stack.secret("admin")) as browser:
            wanted = {"name": "demo", "scopes": ["read", "work", "accept", "admin"]}
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
            "settings": {
                **mailbox,
                "ca_file": str(stack.dovecot.ca_file),
                "authserv_id": MAIL_SERVER,
            },
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
                "authserv_id": MAIL_SERVER,
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
    """Everything that the finance system knows, and what stands in its books already."""
    headers = {"Authorization": f"Bearer {stack.secret('finance')}"}
    with httpx.Client(base_url=f"{stack.finance_url}/v1", headers=headers) as finance:
        finance.post("/masterdata", json={"lists": m.lists()}).raise_for_status()
        for vendor, number, day, currency, net in m.HISTORY:
            rate = Decimal("0.2") if currency == "GBP" else Decimal("0.19")
            tax = (Decimal(net) * rate).quantize(Decimal("0.01"))
            entity = m.TRUST if currency == "GBP" else m.MEERHAUS
            bill = {
                "entity": entity.code, "vendor": vendor, "kind": "bill", "number": number,
                "issue_date": day, "currency": currency, "net_total": net, "tax_total": str(tax),
                "gross_total": str(Decimal(net) + tax),
                "lines": [{"description": "Entered by hand", "amount": net}],
            }  # fmt: skip
            finance.post("/bills", json=bill, headers={"Idempotency-Key": f"history {number}"})


def sync_all(vx: Veridox) -> None:
    """All master data from the ledger, in the order in which they need each other."""
    for what in KINDS:
        load = getattr(vx, what.replace("-", "_")).sync("main-books")
        ended = vx.masterdata.wait(load["id"], seconds=60)
        if ended["state"] != "done":
            raise SystemExit(f"demo: {what} could not be brought in: {ended['problem']}")


def set_up(stack: Stack, token: str) -> None:
    """Connections, master data, the pipeline and people."""
    load_finance(stack)
    with Veridox(stack.url, token=token) as vx:
        for connection in connections(stack):
            vx.connections.create(connection)
        sync_all(vx)
        vx.pipelines.publish(PIPELINE.read_text())
        known = {each["username"] for each in vx.people.list()}
        for username, (name, role) in PEOPLE.items():
            if username in known:
                continue
            secret = {"username": username, "password": stack.secret(username)}
            vx.people.create({**secret, "name": name, "role": role})
    move_account(stack, token)


def move_account(stack: Stack, token: str) -> None:
    """A vendor's account changes in the finance system, and a second person lets it hold."""
    change_vendors(stack, {m.SEAGRASS.code: lambda vendor: vendor["accounts"].append(NEW_ACCOUNT)})
    with Veridox(stack.url, token=token) as vx:
        vx.masterdata.wait(vx.vendors.sync("main-books")["id"], seconds=60)
    with signed_in(stack.url, SECOND, stack.secret(SECOND)) as browser:
        browser.post("/masterdata/held/accept", {
            "vendor": m.SEAGRASS.code, "reason": "called under the number of the contract",
        })  # fmt: skip


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


def send_findings(stack: Stack, token: str, say: Callable[[str], None]) -> None:
    """A bill for each family of findings, and what waits for a second person in the master data."""
    with Veridox(stack.url, token=token) as vx:
        before = len(list(vx.messages.list()))
        for case in CASES:
            send(case.message(), stack.ports.smtp, case.forged_by)
            says = ", ".join(case.codes) or "clean"
            say(f"sent: {case.mail.subject} ({says})")
            if not case.codes:  # what is sent once more comes after the first was posted
                number = case.mail.name
                _wait(lambda number=number: any(vx.documents.list(state="posted", search=number)))
        _wait(lambda: len(list(vx.messages.list())) >= before + len(CASES) and settled(vx))
        change_vendors(stack, {
            m.KESTREL.code: lambda vendor: vendor["accounts"].append(OTHER_ACCOUNT),
            m.HALVARD.code: lambda vendor: vendor.update(email="fakturor@halvard-media.example"),
        })  # fmt: skip
        sync_all(vx)


def change_vendors(stack: Stack, changes: dict[str, Callable[[dict[str, Any]], None]]) -> None:
    """Somebody changes accounts and contacts in the finance system."""
    vendors = {each["code"]: each for each in m.lists()["vendors"] if each["code"] in changes}
    for code, change in changes.items():
        change(vendors[code])
    headers = {"Authorization": f"Bearer {stack.secret('finance')}"}
    changed = {"lists": {"vendors": list(vendors.values())}}
    url = f"{stack.finance_url}/v1/masterdata"
    httpx.post(url, json=changed, headers=headers).raise_for_status()


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
