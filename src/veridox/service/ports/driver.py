"""Drivers: one row each says how a kind of system is spoken with, opened and tried."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Generic, TypeVar

S = TypeVar("S")


@dataclass(frozen=True, kw_only=True, slots=True)
class Step:
    """One step of a connection test."""

    name: str
    good: bool
    detail: str


def _forget(token: str) -> None:
    del token


@dataclass(frozen=True, kw_only=True, slots=True)
class Access(Generic[S]):
    """How one system is reached, with its secrets in the clear: for drivers only.

    Attributes:
        name: of the connection, for messages.
        settings: typed.
        secret, refresh_token: empty when none is set.
        keep_refresh_token: to be called when the other side gave a new one.
    """

    name: str
    settings: S
    secret: str = ""
    refresh_token: str = ""
    keep_refresh_token: Callable[[str], None] = field(default=_forget)


@dataclass(frozen=True, kw_only=True, slots=True)
class Driver(Generic[S]):
    """One way to speak with a kind of system. A module of `adapters` has one as `DRIVER`.

    Attributes:
        kind: `mailbox`, `outbox`, `ledger`, `chat` or `store`.
        name: small letters; a connection names its driver.
        settings: a dataclass; its fields are the keys that a connection may set.
        open: gives the port of its kind; may raise UnreachableError or BadInputError.
        test: tries it step by step and never raises; of a mailbox also these folders.
        check: raises BadInputError for settings that cannot work together.
        usual: the one that is taken when a connection names none.
        needs_secret: whether nothing goes without a secret.
    """

    kind: str
    name: str
    settings: type[S]
    open: Callable[[Access[S]], Any]
    test: Callable[[Access[S], tuple[str, ...]], list[Step]]
    check: Callable[[S], None] | None = None
    usual: bool = False
    needs_secret: Callable[[S], bool] | None = None
