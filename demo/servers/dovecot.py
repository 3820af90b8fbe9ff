"""A Dovecot of our own: IMAP over TLS, LMTP for the mailroom, mail in Maildirs."""

import grp
import os
import shutil
import socket
import ssl
import time
from dataclasses import dataclass
from pathlib import Path

from demo.servers import owner_of_servers
from demo.servers.certificates import make_certificates

CONFIGURATION = """\
base_dir = {run}
state_dir = {folder}/state
log_path = {folder}/dovecot.log
listen = 127.0.0.1
protocols = imap lmtp
default_login_user = {login}
default_internal_user = {internal}
default_internal_group = {group}
first_valid_uid = 1
mail_location = maildir:{folder}/mail/%u
mail_uid = {mail_user}
mail_gid = {mail_group}
auth_username_format = %Ln
auth_failure_delay = 0
mail_max_userip_connections = 100
ssl = yes
ssl_cert = <{certificates}/server.pem
ssl_key = <{certificates}/server.key
auth_mechanisms = plain login xoauth2 oauthbearer
passdb {{
  driver = oauth2
  mechanisms = xoauth2 oauthbearer
  args = {folder}/tokens.conf
}}
passdb {{
  mechanisms = plain login
  driver = passwd-file
  args = scheme=PLAIN username_format=%u {folder}/users
}}
userdb {{
  driver = passwd-file
  args = username_format=%u {folder}/users
  default_fields = home={folder}/mail/%u
}}
namespace inbox {{
  inbox = yes
  separator = /
}}
service imap-login {{
  {chroot}
  inet_listener imap {{
    port = {starttls}
  }}
  inet_listener imaps {{
    port = {imap}
    ssl = yes
  }}
}}
service lmtp {{
  inet_listener lmtp {{
    address = 127.0.0.1
    port = {lmtp}
  }}
}}
service anvil {{
  {chroot}
}}
service stats {{
  {chroot}
}}
"""


@dataclass(frozen=True, kw_only=True)
class Dovecot:
    """Where it lies, its ports, and its mailboxes as name to password.

    `starttls` is a port that begins in the clear; `tokens` that of the token
    server which says whether a bearer token is good.
    """

    folder: Path
    imap: int
    lmtp: int
    users: dict[str, str]
    starttls: int = 0
    tokens: int = 0

    @property
    def certificates(self) -> Path:
        return self.folder / "certificates"

    @property
    def ca_file(self) -> Path:
        return self.certificates / "ca.pem"

    @property
    def run(self) -> Path:
        # Sockets have short paths: at most 107 bytes in all.
        return self.folder / "run"

    def write(self) -> None:
        """Configuration, certificates, mailboxes."""
        for name in ("mail", "state", "run"):
            (self.folder / name).mkdir(parents=True, exist_ok=True)
        make_certificates(self.certificates)
        root = os.getuid() == 0
        me = owner_of_servers("root")
        group = "dovecot" if root else grp.getgrgid(os.getgid()).gr_name
        if root:
            shutil.chown(self.folder / "mail", "dovecot", "dovecot")
        users = self.folder / "users"
        users.touch(0o600)
        users.write_text("".join(f"{user}:{word}::::::\n" for user, word in self.users.items()))
        if root:
            shutil.chown(users, "dovecot", "dovecot")
        (self.folder / "tokens.conf").write_text(
            "introspection_mode = post\n"
            f"introspection_url = http://127.0.0.1:{self.tokens}/introspect\n"
            "username_attribute = username\n"
            "active_attribute = active\n"
            "active_value = true\n"
        )
        (self.folder / "dovecot.conf").write_text(
            CONFIGURATION.format(
                run=self.run,
                folder=self.folder,
                login="dovenull" if root else me,
                internal="dovecot" if root else me,
                group=group,
                mail_user="dovecot" if root else str(os.getuid()),
                mail_group="dovecot" if root else str(os.getgid()),
                certificates=self.certificates,
                chroot="" if root else "chroot =",
                imap=self.imap,
                starttls=self.starttls,
                lmtp=self.lmtp,
            )
        )

    def command(self) -> list[str]:
        """The server in the foreground."""
        return ["/usr/sbin/dovecot", "-F", "-c", str(self.folder / "dovecot.conf")]

    def wait(self, seconds: float = 20) -> None:
        """Until it greets over TLS."""
        limit = time.monotonic() + seconds
        context = ssl.create_default_context(cafile=str(self.ca_file))
        while True:
            try:
                with (
                    socket.create_connection(("127.0.0.1", self.imap), timeout=2) as raw,
                    context.wrap_socket(raw, server_hostname="localhost") as line,
                ):
                    if line.recv(100).startswith(b"* OK"):
                        return
            except OSError:
                if time.monotonic() > limit:
                    raise
            time.sleep(0.1)
