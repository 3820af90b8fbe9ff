"""PostgreSQL and Dovecot of our own on loopback: for the demo and for tests."""

import os
import pwd
import secrets
import socket
from pathlib import Path


def as_user(name: str) -> list[str]:
    """A command prefix that drops root to a system user; empty when we are not root."""
    if os.getuid() != 0:
        return []
    return ["setpriv", f"--reuid={name}", f"--regid={name}", "--init-groups"]


def owner_of_servers(name: str) -> str:
    """The user that a server runs as: `name` when we are root, else ourselves."""
    return name if os.getuid() == 0 else pwd.getpwuid(os.getuid()).pw_name


def can_enter(user: str, folder: Path) -> bool:
    """Whether a user may enter every folder above `folder` (a checkout below 0700 fails)."""
    account = pwd.getpwnam(user)
    groups = {account.pw_gid}
    for part in [folder, *folder.parents]:
        if not part.exists():
            continue
        found = part.stat()
        bit = 0o001
        if found.st_uid == account.pw_uid:
            bit = 0o100
        elif found.st_gid in groups:
            bit = 0o010
        if not found.st_mode & bit:
            return False
    return True


# Bound as long as this process lives, never listening: see `free_port`.
_kept: list[socket.socket] = []


def free_port() -> int:
    """A port nobody listens on, kept for what this process starts.

    By chance and below those that the system gives to outgoing lines. What is found free now is
    used seconds later, and several stacks may be starting: the port stays bound. A server sets
    SO_REUSEADDR and may listen there all the same; another search for a port, which binds
    first without it, finds it taken.
    """
    for _ in range(200):
        port = secrets.randbelow(20_000) + 12_000
        probe = socket.socket()
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            probe.close()
            continue
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        _kept.append(probe)
        return port
    raise OSError("no free port was found between 12,000 and 32,000")


def port_is_taken(port: int) -> bool:
    """Whether somebody listens on a loopback port."""
    with socket.socket() as probe:
        probe.settimeout(0.5)
        return probe.connect_ex(("127.0.0.1", port)) == 0
