"""Everything that runs: servers, stand-ins and the service, with their settings."""

import os
import secrets
import sys
import zlib
from dataclasses import dataclass, field
from pathlib import Path

from demo.servers import can_enter, free_port, owner_of_servers
from demo.servers.dovecot import Dovecot
from demo.servers.postgres import Postgres

ROOT = Path(__file__).parent.parent
MAILBOX, TEAM, POST, VENDORS = "ap", "ap-team", "post", "vendors"
ADMIN = "ada"
PEOPLE = {
    "bo": ("Bo Lind", "clerk"),
    "anna": ("Anna Tarn", "approver"),
    "eva": ("Eva Sund", "admin"),  # lets run what ada loosens
}


@dataclass(frozen=True, kw_only=True)
class Ports:
    """All on loopback."""

    service: int = 8440
    finance: int = 8441
    chat: int = 8442
    smtp: int = 8443
    imap: int = 8444
    postgres: int = 8445
    lmtp: int = 8446
    starttls: int = 8447
    tokens: int = 8448

    @staticmethod
    def from_environment() -> "Ports":
        """`VERIDOX_DEMO_PORT_SERVICE` and so on; the usual ones otherwise."""
        usual = Ports()
        chosen = {
            name: int(os.environ.get(f"VERIDOX_DEMO_PORT_{name.upper()}", getattr(usual, name)))
            for name in usual.__dataclass_fields__
        }
        return Ports(**chosen)

    @staticmethod
    def free() -> "Ports":
        """Ports that nobody uses at this moment."""
        return Ports(**{name: free_port() for name in Ports.__dataclass_fields__})


@dataclass(frozen=True, kw_only=True)
class Program:
    """A process to keep running. Servers start first and are waited for."""

    command: list[str]
    environment: dict[str, str] = field(default_factory=dict)
    server: bool = False
    stop_signal: str = "TERM"
    folder: Path = ROOT


@dataclass(frozen=True, kw_only=True)
class Stack:
    """One installation below one folder."""

    folder: Path
    ports: Ports
    fast: bool = False
    heartbeat: float = 5.0
    stalled: float = 20.0

    @property
    def postgres(self) -> Postgres:
        return Postgres(folder=self.cluster / "cluster", port=self.ports.postgres)

    @property
    def cluster(self) -> Path:
        """Where the cluster lies: below a folder that PostgreSQL's user may enter."""
        inside = self.folder / "postgres"
        if can_enter(owner_of_servers("postgres"), self.folder):
            return inside
        return Path("/var/tmp") / f"veridox-{zlib.crc32(str(self.folder).encode()):x}"

    @property
    def dovecot(self) -> Dovecot:
        words = {user: self.secret(f"mail-{user}") for user in (MAILBOX, TEAM, POST, VENDORS)}
        return Dovecot(
            folder=self.folder / "dovecot",
            imap=self.ports.imap,
            lmtp=self.ports.lmtp,
            users=words,
            starttls=self.ports.starttls,
            tokens=self.ports.tokens,
        )

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.ports.service}"

    @property
    def finance_url(self) -> str:
        return f"http://127.0.0.1:{self.ports.finance}"

    @property
    def chat_url(self) -> str:
        return f"http://127.0.0.1:{self.ports.chat}"

    @property
    def token_url(self) -> str:
        return f"http://127.0.0.1:{self.ports.tokens}/token"

    def secret(self, name: str) -> str:
        """A random secret that is made once and kept (mode 0600)."""
        path = self.folder / "secrets" / name
        if not path.exists():
            path.parent.mkdir(parents=True, exist_ok=True)
            path.touch(0o600)
            path.write_text(secrets.token_urlsafe(16))
        return path.read_text()

    def environment(self) -> dict[str, str]:
        """Settings of the service's processes."""
        return {
            "VERIDOX_DATABASE": self.postgres.url("veridox"),
            "VERIDOX_DATA": str(self.folder / "data"),
            "VERIDOX_URL": self.url,
            "VERIDOX_HEARTBEAT": str(self.heartbeat),
            "VERIDOX_STALLED": str(self.stalled),
            "PATH": f"{Path(sys.executable).parent}:{os.environ.get('PATH', os.defpath)}",
        }

    def prepare(self) -> None:
        """Cluster and configurations; nothing runs yet."""
        self.folder.mkdir(parents=True, exist_ok=True)
        (self.folder / "log").mkdir(exist_ok=True)
        self.postgres.create()
        self.dovecot.write()

    def programs(self) -> dict[str, Program]:
        """All processes by name, servers first."""
        python, settings = sys.executable, self.environment()
        veridox = str(Path(python).parent / "veridox")
        finance = [python, "-m", "veridox.standins.finance", "--port", str(self.ports.finance)]
        finance += ["--store", str(self.folder / "finance.sqlite")]
        mailroom = [python, "-m", "veridox.standins.mailroom", "--smtp", str(self.ports.smtp)]
        mailroom += ["--lmtp", str(self.ports.lmtp)]
        tokens = [python, "-m", "veridox.standins.tokens", "--port", str(self.ports.tokens)]
        clients = f"veridox:{self.secret('token-client')}:{POST}"
        chat = [python, "-m", "veridox.standins.chat", "--port", str(self.ports.chat)]
        return {
            "postgres": Program(
                command=self.postgres.command(fast=self.fast),
                server=True,
                stop_signal="INT",
                folder=Path("/"),
            ),
            "dovecot": Program(command=self.dovecot.command(), server=True),
            "mailroom": Program(command=mailroom, server=True),
            "finance": Program(
                command=finance, environment={"FINANCE_TOKEN": self.secret("finance")}, server=True
            ),
            "tokens": Program(command=tokens, environment={"TOKEN_CLIENTS": clients}, server=True),
            "chat": Program(
                command=chat, environment={"CHAT_TOKEN": self.secret("chat")}, server=True
            ),
            "serve": Program(
                command=[veridox, "serve", "--port", str(self.ports.service)], environment=settings
            ),
            "work": Program(command=[veridox, "work"], environment=settings),
            "watch": Program(command=[veridox, "watch"], environment=settings),
            "house": Program(
                command=[veridox, "work", "--queue", "house", "--jobs", "1"], environment=settings
            ),
        }
