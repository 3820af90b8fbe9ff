"""Signing in to a mail server, and trying a mailbox step by step."""

import contextlib
import socket
import ssl

from imapclient import IMAPClient
from imapclient.exceptions import IMAPClientError, LoginError

from veridox.core.findings.wording import counted
from veridox.service.adapters.imap.mailbox import LINE_ERRORS, SignIn, connect
from veridox.service.adapters.imap.settings import MailboxSettings
from veridox.service.errors import VeridoxError
from veridox.service.ports.driver import Step


def by_password(settings: MailboxSettings, password: str) -> SignIn:
    """LOGIN, or PLAIN with the name of a shared mailbox to act for (RFC 4616)."""

    def sign_in(client: IMAPClient) -> None:
        if settings.on_behalf_of:
            client.plain_login(settings.user, password, settings.on_behalf_of)
        else:
            client.login(settings.user, password)

    return sign_in


def by_token(settings: MailboxSettings, token: str) -> SignIn:
    """OAUTHBEARER (RFC 7628) where it is offered, else XOAUTH2."""
    user = settings.on_behalf_of or settings.user

    def sign_in(client: IMAPClient) -> None:
        if client.has_capability("AUTH=OAUTHBEARER"):
            client.oauthbearer_login(user, token)
        else:
            client.oauth2_login(user, token)

    return sign_in


def try_mailbox(settings: MailboxSettings, sign_in: SignIn, folders: tuple[str, ...]) -> list[Step]:
    """Name, encryption, sign-in, folders, rights to move, news. Never raises.

    Args:
        settings: of the mailbox.
        sign_in: how; may ask a token server first.
        folders: that pipelines watch in it.
    """
    steps: list[Step] = []

    def step(name: str, good: bool, detail: str) -> None:
        steps.append(Step(name=name, good=good, detail=detail))

    try:
        found = {each[4][0] for each in socket.getaddrinfo(settings.host, settings.port)}
        step("find the server", True, f"{settings.host} is {', '.join(sorted(map(str, found)))}")
    except OSError as error:
        step("find the server", False, f"{settings.host}: {error}")
        return steps
    try:
        client = connect(settings)
    except ssl.SSLError as error:
        step("encryption", False, f"the certificate does not pass: {error}")
        return steps
    except IMAPClientError as error:
        step("encryption", False, f"STARTTLS is not offered or refused: {error}")
        return steps
    except OSError as error:
        step("reach the server", False, f"{settings.host}:{settings.port}: {error}")
        return steps
    step("encryption", True, f"{settings.security}, certificate checked")
    try:
        sign_in(client)
        step("sign in", True, settings.on_behalf_of or settings.user)
        _look(client, folders, step)
    except (LoginError, VeridoxError) as error:
        step("sign in", False, str(error))
    except LINE_ERRORS as error:
        step("use the mailbox", False, str(error))
    finally:
        with contextlib.suppress(*LINE_ERRORS):
            client.logout()
    return steps


def _look(client: IMAPClient, folders: tuple[str, ...], step) -> None:  # type: ignore[no-untyped-def]
    listed = client.list_folders()
    separator = next((row[1].decode() for row in listed if row[1]), "/")
    names = {str(row[2]) for row in listed}
    step("list folders", True, counted(len(names), "folder"))
    for folder in folders or ("INBOX",):
        path = folder.replace("/", separator)
        if path not in names and path.upper() != "INBOX":
            step(f"folder {folder}", False, "it is not there, or not for this user to see")
            continue
        answer = client.select_folder(path, readonly=True)
        step(f"folder {folder}", True, counted(int(answer[b"EXISTS"]), "mail"))
        _rights(client, path, folder, step)
    moves = "MOVE" if client.has_capability("MOVE") else "no MOVE: copied and deleted instead"
    step("move mails", True, moves)
    idle = client.has_capability("IDLE")
    step("be told of news", True, "IDLE" if idle else "no IDLE: asked every few seconds instead")


def _rights(client: IMAPClient, path: str, folder: str, step) -> None:  # type: ignore[no-untyped-def]
    """What we may do in a folder (RFC 4314): read, mark, take out."""
    if not client.has_capability("ACL"):
        client.select_folder(path)
        lasting = client.folder_status(path, ["UIDVALIDITY"])
        step(f"rights in {folder}", bool(lasting), "the server tells no rights; it opens to write")
        return
    rights = client.my_rights(path)
    held = rights.decode() if isinstance(rights, bytes) else str(rights)
    missing = [
        word
        for right, word in (("r", "read"), ("s", "mark as read"), ("t", "delete"), ("e", "expunge"))
        if right not in held
    ]
    said = f"missing: {', '.join(missing)}" if missing else "read, mark, move"
    step(f"rights in {folder}", not missing, said)
