"""A mail's HTML: as plain text, and what it leads to and shows."""

import re
from collections.abc import Iterator
from typing import Any
from urllib.parse import unquote

import lxml.etree
import lxml.html

_BREAKS = frozenset(
    {
        "address", "article", "blockquote", "br", "dd", "div", "dl", "dt", "fieldset", "footer",
        "form", "h1", "h2", "h3", "h4", "h5", "h6", "header", "hr", "li", "main", "ol", "p", "pre",
        "section", "table", "tbody", "tfoot", "thead", "tr", "ul",
    }
)  # fmt: skip
_SILENT = frozenset({"script", "style", "head", "title", "template", "noscript"})
_LINK = re.compile(r"https?://[^\s<>\"')\]]+", re.IGNORECASE)
MAX_LINKS = 50


def parse(html: str) -> Any:
    """The tree of a mail's HTML; None when nothing of it can be read."""
    try:
        # As bytes with their encoding: a declaration inside may lie about it.
        parser = lxml.html.HTMLParser(encoding="utf-8", no_network=True, huge_tree=False)
        found = lxml.html.document_fromstring(html.encode("utf-8", "replace"), parser=parser)
    except (lxml.etree.LxmlError, ValueError, AssertionError):
        return None
    return found


def text_of(html: str) -> str:
    """Words as they would be read; the cells of a table row on one line, with tabs between."""
    tree = parse(html)
    if tree is None:
        return ""
    rough = "".join(_words(tree))
    lines = (re.sub(r"[ \xa0]*\t[ \t\xa0]*", "\t", line).strip() for line in rough.split("\n"))
    return re.sub(r"\n{3,}", "\n\n", "\n".join(lines)).strip()


def _words(tree: Any) -> Iterator[str]:
    silent = 0
    for event, node in lxml.etree.iterwalk(tree, events=("start", "end", "comment", "pi")):
        if event in ("comment", "pi"):
            if not silent:
                yield _plain(node.tail)
            continue
        tag = str(node.tag).lower()
        if event == "start":
            silent += tag in _SILENT
            if not silent:
                yield "\n" if tag in _BREAKS else ""
                yield _plain(node.text)
        else:
            silent -= tag in _SILENT
            if not silent:
                yield "\t" if tag in ("td", "th") else "\n" if tag in _BREAKS else ""
                yield _plain(node.tail)


def _plain(text: str | None) -> str:
    return re.sub(r"[ \t\r\n]+", " ", text or "")


def links_in(text: str, html: str) -> tuple[str, ...]:
    """Addresses on the web that a mail leads to, each once."""
    found = list(_LINK.findall(text))
    tree = parse(html) if html else None
    if tree is not None:
        found += [href for href in tree.xpath("//a/@href") if _LINK.match(href)]
    return tuple(dict.fromkeys(each.rstrip(".,;")[:2000] for each in found))[:MAX_LINKS]


def content_ids_in(html: str) -> frozenset[str]:
    """Content-IDs and locations that the HTML shows pictures by (RFC 2392)."""
    tree = parse(html) if html else None
    if tree is None:
        return frozenset()
    found = [str(each) for each in tree.xpath("//@src | //@background")]
    found += re.findall(r"url\(['\"]?(cid:[^'\")]+)", html, re.IGNORECASE)
    return frozenset(unquote(each[4:]) for each in found if each.lower().startswith("cid:"))
