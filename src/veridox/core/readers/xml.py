"""XML as a table of its values, so that a person can look at what a machine was sent."""

from html import escape
from typing import Any

from lxml import etree

MOST_ROWS = 5_000


class XmlProblemError(Exception):
    """XML that cannot be read."""


def xml_html(content: bytes) -> str:
    """The body of an HTML page: names on the left, values on the right.

    Raises:
        XmlProblemError: it is damaged, or declares a document type (entities).
    """
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False)
    try:
        root = etree.fromstring(content, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise XmlProblemError(f"it is damaged ({error})") from error
    if root.getroottree().docinfo.doctype:
        raise XmlProblemError("it declares a document type, as no invoice does")
    rows: list[str] = []
    _add(root, 0, rows)
    return f"<h3>{escape(_name(root))}</h3><table>{''.join(rows[:MOST_ROWS])}</table>"


def _name(element: Any) -> str:
    return str(etree.QName(element).localname)


def _add(element: Any, depth: int, rows: list[str]) -> None:
    for child in element:
        if not isinstance(child.tag, str) or len(rows) > MOST_ROWS:
            continue
        text = " ".join((child.text or "").split())
        notes = " ".join(str(value) for value in child.attrib.values())
        rows.append(
            f'<tr><td style="padding-left: {4 + min(depth, 12) * 8}pt">{escape(_name(child))}</td>'
            f"<td>{escape(text[:500])}</td><td>{escape(notes[:100])}</td></tr>"
        )
        _add(child, depth + 1, rows)
