"""`bin/demo`: start, stop, fresh, status."""

import os
import shutil
import signal
import subprocess
import sys
import time

import httpx

from demo import samples
from demo.console import build_console
from demo.load import make_token, send_awkward_mails, send_findings, send_mails, set_up
from demo.servers import port_is_taken
from demo.stack import ADMIN, PEOPLE, ROOT, Ports, Stack
from demo.supervisor import Supervisor, leftovers
from veridox.client import Veridox

FOLDER = ROOT / "var" / "demo"


def say(text: str) -> None:
    print(f"demo: {text}", flush=True)


def the_stack() -> Stack:
    return Stack(folder=FOLDER, ports=Ports.from_environment())


def start() -> None:
    stack = the_stack()
    supervisor = Supervisor(stack)
    began = time.monotonic()
    build_console(say)
    if not supervisor.running():
        taken = [
            f"{name} {getattr(stack.ports, name)}"
            for name in stack.ports.__dataclass_fields__
            if port_is_taken(getattr(stack.ports, name))
        ]
        if taken:
            raise SystemExit(
                f"demo: somebody else listens on {', '.join(taken)}; "
                "choose others, as in VERIDOX_DEMO_PORT_SERVICE=9440"
            )
        say("preparing the database cluster and the mail server")
        stack.prepare()
        supervisor.write(stack.programs())
        supervisor.launch()
    servers = [name for name, each in stack.programs().items() if each.server]
    others = [name for name, each in stack.programs().items() if not each.server]
    say("starting " + ", ".join(servers))
    supervisor.start(servers)
    for name, server in (("postgres", stack.postgres), ("dovecot", stack.dovecot)):
        try:
            server.wait()
        except OSError as error:
            raise SystemExit(
                f"demo: {name} did not start ({error}); see {stack.folder / 'log'}"
            ) from None
    say("preparing the service's records")
    stack.postgres.create_database("veridox")
    stack.secret("admin")
    subprocess.run(
        [str(ROOT / ".venv/bin/veridox"), "setup", "--admin", ADMIN,
         "--password-file", str(stack.folder / "secrets" / "admin")],
        check=True, env={**os.environ, **stack.environment()}, stdout=subprocess.DEVNULL,
    )  # fmt: skip
    say("starting " + ", ".join(others))
    supervisor.start(others)
    wait_for(stack)
    token = make_token(stack)
    loaded = stack.folder / "loaded"
    if not loaded.exists():
        say("loading the Merrowmere scenario")
        set_up(stack, token)
        send_mails(stack, token, say)
        send_awkward_mails(stack, token, say)
        send_findings(stack, token, say)
        loaded.touch()
    samples.write(stack.folder / "samples")
    say(f"ready after {time.monotonic() - began:.1f} s")
    tell(stack)


def wait_for(stack: Stack) -> None:
    limit = time.monotonic() + 60
    while True:
        try:
            if httpx.get(f"{stack.url}/api/v1/health").is_success:
                return
        except httpx.TransportError:
            if time.monotonic() > limit:
                raise SystemExit(
                    "demo: the service did not start; see var/demo/log/serve.log"
                ) from None
        time.sleep(0.1)


def tell(stack: Stack) -> None:
    ports = stack.ports
    with Veridox(stack.url, token=make_token(stack)) as vx:
        slip = next((each.id for each in vx.documents.list(search="SG/10442")), 3)
        there = [each for each in vx.people.list() if each["username"] in (ADMIN, *PEOPLE)]
    people = "\n".join(
        f"    {each['role']:<9}      {each['username']:<5}  "
        + stack.secret("admin" if each["username"] == ADMIN else each["username"])
        for each in there
    )
    print(f"""
  Console          {stack.url}
  Sign in as       (name, password)
{people}
  REST reference   {stack.url}/api/v1/docs
  Finance system   {stack.finance_url}   (what was booked)
  Chat             {stack.chat_url}   (what it was told)
  Mail in          127.0.0.1:{ports.smtp}  (SMTP, for ap@ and post@merrowmere.example)
  Mailboxes        127.0.0.1:{ports.imap}  (IMAP over TLS; ap / {stack.secret("mail-ap")},
                                    ap-team / {stack.secret("mail-ap-team")},
                                    vendors / {stack.secret("mail-vendors")}: their letters)
  Files in         {stack.folder / "data" / "drops" / "post"}
  Sample mails     {stack.folder / "samples"}   (to try pipelines on)

  Try next, with   export VERIDOX_URL={stack.url} VERIDOX_TOKEN_FILE={stack.folder / "token"}
                   export PATH="{ROOT / ".venv/bin"}:$PATH"

    veridox mail list                     what came in and what became of it
    veridox mail peek ap-inbox --why      what would be taken, and what decides
    veridox report accounted ap-inbox     that nothing got lost
    veridox document list                 what became of it
    veridox desk list                     what waits for people, and why
    veridox desk return {slip} --show          the letter that its vendor would get
    veridox document show {slip}               one document with its findings
    veridox document set {slip} gross_total=1421.28 --note "slip of the pen"
    veridox document history {slip}            its whole story
    veridox document why {slip}                why it stands where it stands, condition by condition
    veridox rule try "risk > 1 %" --document {slip}
    veridox pipeline try demo/pipelines/supplier-invoices.pipeline.yaml \\
      --mail {stack.folder / "samples"}/03-does-not-add-up.eml \\
      --facts {stack.folder / "samples"}/facts.yaml    stage by stage, with nothing done
    veridox trail verify                  nobody changed the trail

  bin/demo status | stop | fresh
""")


def stop() -> None:
    stack = the_stack()
    supervisor = Supervisor(stack)
    if supervisor.running():
        say("stopping all processes")
        supervisor.stop()
    for attempt in (signal.SIGTERM, signal.SIGKILL):
        for pid in leftovers(stack):
            say(f"ending process {pid}, which the supervisor had lost")
            try:
                os.kill(pid, attempt)
            except ProcessLookupError:
                continue
        limit = time.monotonic() + 10
        while leftovers(stack) and time.monotonic() < limit:
            time.sleep(0.1)
    left = leftovers(stack)
    if left:
        raise SystemExit(f"demo: could not end {left}")
    say("nothing is running")


def fresh() -> None:
    stop()
    stack = the_stack()
    for folder in (stack.folder, stack.cluster):
        if folder.exists():
            say(f"removing {folder}")
            shutil.rmtree(folder)
    start()


def status() -> None:
    stack = the_stack()
    supervisor = Supervisor(stack)
    if not supervisor.running():
        say("not running; start it with bin/demo")
        return
    for each in supervisor.states():
        print(f"  {each['name']:<10} {each['statename']:<9} {each['description']}")
    try:
        health = httpx.get(f"{stack.url}/api/v1/health").json()
        print(f"\n  service {stack.url}: {'good' if health['good'] else health['parts']}")
    except httpx.TransportError:
        print(f"\n  service {stack.url}: does not answer")


def dev() -> None:
    """The service with reload in place of the supervised one, and the console with reload."""
    stack = the_stack()
    supervisor = Supervisor(stack)
    if not supervisor.running():
        raise SystemExit("demo: start it first with bin/demo")
    # TERM ends it as Ctrl-C does, so that the supervised service comes back.
    signal.signal(signal.SIGTERM, signal.default_int_handler)
    supervisor.halt("serve")
    serve = stack.programs()["serve"]
    environment = {**os.environ, **serve.environment, "VERIDOX_DEBUG": "yes"}
    environment["VERIDOX_STACK"] = str(stack.folder)
    running = [
        subprocess.Popen([*serve.command, "--workers", "1", "--reload"], env=environment),
        subprocess.Popen(["npm", "run", "--silent", "dev"], cwd=ROOT / "console", env=environment),
    ]
    say(f"service {stack.url}, console http://127.0.0.1:5173; Ctrl-C ends")
    try:
        while all(process.poll() is None for process in running):
            time.sleep(0.3)
    except KeyboardInterrupt:
        say("ending")
    finally:
        for process in running:
            process.terminate()
        for process in running:
            process.wait(15)
        supervisor.start(["serve"])


COMMANDS = {"start": start, "stop": stop, "fresh": fresh, "status": status, "dev": dev}

if __name__ == "__main__":
    wanted = sys.argv[1] if len(sys.argv) > 1 else "start"
    if wanted not in COMMANDS or len(sys.argv) > 2:
        sys.exit(f"usage: bin/demo [{' | '.join(each for each in COMMANDS if each != 'dev')}]")
    COMMANDS[wanted]()
