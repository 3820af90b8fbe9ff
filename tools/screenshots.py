"""Take the pictures of docs/screenshots from the running demo: `python -m tools.screenshots`."""

import io
import os
import pty
import re
import select
import subprocess
import sys
import tempfile
from dataclasses import replace
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright
from rich.console import Console
from rich.text import Text

from demo import bills
from demo.__main__ import the_stack
from demo.drawing import LAYOUTS
from demo.load import make_token
from demo.stack import ADMIN, ROOT, Stack
from veridox.client import Veridox

SHOTS = ROOT / "docs/screenshots"
SIZE = {"width": 1280, "height": 800}
COLUMNS = 142
PAGE = """<!doctype html><meta charset="utf-8"><style>
body {{ margin: 0; background: #fffdf8; color: #1c3a5e; }}
pre {{ font: 14px/1.45 "DejaVu Sans Mono", monospace; padding: 20px 24px; margin: 0; }}
.asked {{ color: #1f6f63; font-weight: bold; }}
</style><pre><span class="asked">$ {command}</span>\n{output}</pre>"""


def in_terminal(command: str, stack: Stack) -> str:
    """What a command prints when a terminal looks, with its colours."""
    environment = {
        **os.environ,
        "VERIDOX_URL": stack.url,
        "VERIDOX_TOKEN": make_token(stack),
        "COLUMNS": str(COLUMNS),
        "LINES": "60",
        "TERM": "xterm-256color",
        "PATH": f"{Path(sys.executable).parent}:{os.environ['PATH']}",
    }
    parent, child = pty.openpty()
    process = subprocess.Popen(
        ["bash", "-c", command], stdin=child, stdout=child, stderr=child, env=environment
    )
    os.close(child)
    parts = []
    while select.select([parent], [], [], 30)[0]:
        try:
            part = os.read(parent, 65536)
        except OSError:  # the other end is closed: the command has ended
            break
        if not part:
            break
        parts.append(part)
    process.wait()
    return b"".join(parts).decode("utf-8", "replace").replace("\r\n", "\n")


def as_html(ansi: str) -> str:
    """Terminal colours as spans."""
    console = Console(record=True, width=COLUMNS, file=io.StringIO(), color_system="256")
    console.print(Text.from_ansi(ansi), soft_wrap=True)
    page = console.export_html(inline_styles=True, code_format="{code}")
    return re.sub(r"^<pre[^>]*>|</pre>$", "", page.strip())


def terminal_shot(browser: Browser, stack: Stack, name: str, command: str) -> None:
    """A picture of a command with its output."""
    html = PAGE.format(command=command, output=as_html(in_terminal(command, stack)))
    page = browser.new_page(viewport=SIZE)
    page.set_content(html)
    page.screenshot(path=SHOTS / f"{name}.png")
    page.close()


def commands(folder: Path) -> dict[str, str]:
    """The main commands, on the demo data."""
    (folder / "sg-10442.pdf").write_bytes(LAYOUTS["band"](bills.SALT_SLIP))
    return {
        "mail-peek": "veridox mail peek ap-inbox --why && veridox report accounted ap-inbox",
        "read": "veridox read sg-10442.pdf",
    }


PLACES = {
    "today": "/",
    "desk": "/desk",
    "work": "/desk/{slip}",
    "coding": "/desk/{charges}",
    "order": "/orders/PO-26-0109?entity=aquarium-trust",
    "documents": "/documents",
    "story": "/documents/{first}",
    "mail": "/mail",
    "pipelines": "/pipelines/supplier-invoices",
    "try": "/pipelines/supplier-invoices?view=try",
    "versions": "/pipelines/supplier-invoices?view=versions",
    "vendors": "/vendors/V1004",
    "trail": "/trail",
    "alike": "/desk/{near}",
    "why": "/documents/{slip}?view=why",
    "who": "/desk/{impostor}",  # the last one: it adds a document to all the others
}


def ids(stack: Stack) -> dict[str, int]:
    """The documents and the mail that are pictured."""
    with Veridox(stack.url, token=make_token(stack)) as vx:
        return {
            "slip": next(vx.documents.list(search="SG/10442")).id,
            "charges": next(vx.documents.list(search="SL-55318")).id,
            "near": next(vx.documents.list(search="CQ1291")).id,
            "first": next(vx.documents.list(search="BF-2026-0413", state="posted")).id,
        }


def impostor(vx: Veridox) -> int:
    """A bill under one vendor's name with another's tax id, handed in for its picture."""
    number = "QV-9001"
    for found in vx.documents.list(search=number):
        return found.id
    vendor = replace(bills.VET_VISIT.vendor, tax_id=bills.KRILL.vendor.tax_id)
    bill = replace(bills.of_its_own(number), vendor=vendor)
    content = LAYOUTS["letterhead"](bill)
    file = vx.files.upload(content, pipeline="supplier-invoices", name="qv-9001.pdf")
    return vx.files.wait(file.id).documents[0].id


def loosened(vx: Veridox) -> None:
    """A version that loosens something, for its picture; it waits for eva."""
    text = vx.pipelines.get("supplier-invoices")["text"]
    if not any(each["state"] == "waiting" for each in vx.pipelines.versions("supplier-invoices")):
        changed = text.replace("percent: 2,", "percent: 4,").replace("queue: unsure", "queue: look")
        vx.pipelines.publish(changed, commit="1a2b3c4d5e6f")


def web_shots(browser: Browser, stack: Stack) -> None:
    """Places of the console."""
    context = browser.new_context(viewport=SIZE, locale="en-GB", timezone_id="Europe/London")
    page = context.new_page()
    page.goto(stack.url)
    page.get_by_label("Name").wait_for()
    page.get_by_label("Name").fill(ADMIN)
    page.get_by_label("Password").fill(stack.secret("admin"))
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Came in").wait_for()
    known = ids(stack)
    for name, path in PLACES.items():
        if name == "who":
            with Veridox(stack.url, token=make_token(stack)) as vx:
                known["impostor"] = impostor(vx)
        if name == "versions":
            with Veridox(stack.url, token=make_token(stack)) as vx:
                loosened(vx)
        page.goto(stack.url + path.format(**known))
        page.wait_for_load_state("networkidle")
        if name == "try":
            mail = stack.folder / "samples" / "03-does-not-add-up.eml"
            page.get_by_label("Mail or file to try").set_input_files(mail)
            page.get_by_role("button", name="gross_total").hover()
            page.wait_for_timeout(300)
            page.screenshot(path=SHOTS / "console-try.png")
            continue
        if name == "alike":
            page.keyboard.press("Escape")
            page.keyboard.press("b")
            page.get_by_role("dialog").wait_for()
            page.wait_for_load_state("networkidle")
        if name == "coding":
            page.get_by_role("region", name="Coding").scroll_into_view_if_needed()
        page.mouse.move(700, 24)
        page.wait_for_timeout(600)
        page.screenshot(path=SHOTS / f"console-{name}.png")
    context.close()


def main() -> None:
    """Entry point."""
    stack = the_stack()
    SHOTS.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as name, sync_playwright() as playwright:
        folder = Path(name)
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"]
        )
        for shot, command in commands(folder).items():
            os.chdir(folder)
            terminal_shot(browser, stack, shot, command)
        subprocess.run(
            [Path(sys.executable).parent / "veridox", "read", "sg-10442.pdf",
             "--picture", SHOTS / "read-picture.png"],
            capture_output=True, cwd=folder,
        )  # fmt: skip
        web_shots(browser, stack)
        browser.close()


if __name__ == "__main__":
    main()
