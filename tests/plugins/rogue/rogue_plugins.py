"""Plug-ins that raise, hang, eat memory, leave, or answer nonsense."""

import os
import socket
import sys
import time

from veridox.plugins import Function, Told


def raises(document):
    raise RuntimeError("a mistake of mine")


def hangs(document):
    time.sleep(600)


def eats(document):
    return [bytes(2**31)]


def leaves(document):
    os._exit(3)


def nonsense(document):
    return [{"message": "a mapping is no finding"}]


def weightless(document):
    return [Told(message="x", weight="heavy")]


def chatters(document):
    print("to standard output, where the answers go")
    sys.stdin.read()
    yield Told(message="said all the same", weight="note")


def looks_around(document):
    """Tells what it can see of the service."""
    seen = sorted(name for name in os.environ if name.startswith("VERIDOX"))
    try:
        socket.create_connection(("127.0.0.1", 9), timeout=1)
        line = "a line"
    except ConnectionRefusedError:
        line = "the machine's network"
    except OSError:
        line = "no network"
    yield Told(message=f"environment {seen}, {line}", weight="note")


def of_tomorrow(document):
    return []


of_tomorrow.api = 2


def _crooked(number):
    raise ZeroDivisionError("by me")


crooked = Function(takes=("number",), gives="number", run=_crooked, help="fails",
                   example="crooked(1) > 2")  # fmt: skip
float_answer = Function(takes=("text",), gives="number", run=lambda text: 0.1, help="a float",
                        example='float_answer("x") > 2')  # fmt: skip
of_no_type = Function(takes=("colour",), gives="number", run=len, help="x", example="x")


def _unwilling(text):
    raise ValueError("not for this text")


unwilling = Function(takes=("text",), gives="number", run=_unwilling, help="never says",
                     example='unwilling("x") > 2')  # fmt: skip
lower = Function(takes=("text",), gives="text", run=len, help="ours is called so", example="x")
Loud = Function(takes=("text",), gives="text", run=len, help="a name in capitals", example="x")


class OddBook:
    """A ledger whose settings are none."""

    settings = {"class": "x"}
    repeats_safely, late_window = True, 60.0


class ListBook(OddBook):
    settings = {"shelves": ["a", "b"]}
