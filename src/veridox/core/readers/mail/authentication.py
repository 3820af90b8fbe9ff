"""What the receiving server says of where a mail comes from (RFC 8601)."""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

HEADER = "authentication-results"
_COMMENT = re.compile(r"\((?:[^()\\]|\\.)*\)")
_RESULT = re.compile(r"^\s*([a-z][a-z0-9-]*)(?:\s*/\s*\d+)?\s*=\s*([a-z]+)\b(.*)$", re.S | re.I)
_PROPERTY = re.compile(r'\b([a-z]+)\.([a-z-]+)\s*=\s*(?:"([^"]*)"|([^\s;]+))', re.I)
FAILS = frozenset({"fail", "hardfail", "policy"})
"""Results that say that it does not come from where it says. `softfail`, `neutral`, `none` and
errors say that nobody knows."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Authentication:
    """What a mail's receiving server found.

    Attributes:
        passed: an aligned pass: the domain of `From` is proven.
        failed: the server found it not to be from there.
        said: its results, for people (`dmarc=fail, spf=pass`); empty when it said nothing.
    """

    passed: bool = False
    failed: bool = False
    said: str = ""


def authentication_of(headers: Mapping[str, str], server: str, address: str) -> Authentication:
    """What the server that the mailbox trusts says of a sender.

    Only the topmost Authentication-Results counts, and only where it bears that server's name:
    any other may have been written by the sender. A pass counts where it is aligned with the
    domain of the `From` address: `dmarc` of that domain, `dkim` or `spf` of the same domain or
    one above it. What is said twice, and differently, is nothing.

    Args:
        headers: of the mail, the topmost of each name, names in lower case.
        server: authserv-id of the receiving server; empty where none is trusted.
        address: that the mail says it is from.
    """
    text = headers.get(HEADER, "")
    domain = address.rpartition("@")[2].lower()
    if not server or not text or not domain:
        return Authentication()
    name, _, rest = _COMMENT.sub(" ", text).partition(";")
    if name.split()[:1] != [server.lower()] and name.strip().lower() != server.lower():
        return Authentication()
    found = list(_results(rest))
    methods: dict[str, set[str]] = {}
    for method, result, _ in found:
        methods.setdefault(method, set()).add(result)
    # Several signatures may pass or fail beside each other; verdicts on the whole mail may not.
    unclear = {name for name in ("dmarc", "spf") if len(methods.get(name, ())) > 1}
    told = [each for each in found if each[0] not in unclear]
    passed = any(_aligned(method, properties, domain)
                 for method, result, properties in told if result == "pass")  # fmt: skip
    dmarc = methods.get("dmarc", set()) if "dmarc" not in unclear else set()
    failed = bool(dmarc & FAILS) or (not dmarc and not passed and any(
        result in FAILS for method, result, _ in told if method in ("spf", "dkim")
    ))  # fmt: skip
    said = ", ".join(f"{method}={result}" for method, result, _ in found)
    return Authentication(passed=passed and not failed, failed=failed, said=said)


def _results(text: str) -> Iterator[tuple[str, str, dict[str, str]]]:
    for part in text.split(";"):
        match = _RESULT.match(part)
        if match is not None:
            properties = {
                f"{kind}.{name}".lower(): (quoted or plain).lower()
                for kind, name, quoted, plain in _PROPERTY.findall(match[3])
            }
            yield match[1].lower(), match[2].lower(), properties


def _aligned(method: str, properties: Mapping[str, str], domain: str) -> bool:
    if method == "dmarc":
        return properties.get("header.from", "").rpartition("@")[2] == domain
    if method == "dkim":
        return _same_or_above(properties.get("header.d", ""), domain)
    if method == "spf":
        return _same_or_above(properties.get("smtp.mailfrom", "").rpartition("@")[2], domain)
    return False


def _same_or_above(proven: str, domain: str) -> bool:
    proven = proven.lstrip("@")
    return "." in proven and (domain == proven or domain.endswith("." + proven))
