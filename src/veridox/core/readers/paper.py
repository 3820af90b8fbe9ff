"""Text without pages (a mail's own words, HTML) laid out on paper, so that words have places.

The laying out is left to WeasyPrint, which needs the Pango library of the
system; nothing is fetched from anywhere.
"""

from html import escape
from typing import Any

from veridox.core.filetypes import XML, Opened, file_type
from veridox.core.readers import office
from veridox.core.readers.limits import Limits
from veridox.core.readers.mail.decoding import decoded
from veridox.core.readers.mail.safe import safe_html
from veridox.core.readers.xml import xml_html

_STYLE = """
@page { size: A4; margin: 15mm }
body { font: 10pt "DejaVu Sans", sans-serif; line-height: 1.35 }
table { border-collapse: collapse }
td, th { padding: 1pt 4pt; vertical-align: top }
th { text-align: left }
td.whole { white-space: nowrap }
p { margin: 0 0 3pt; white-space: pre-wrap; tab-size: 8 }
pre { white-space: pre-wrap; font-family: "DejaVu Sans Mono", monospace }
"""


MARKUP = 8
"""Characters of HTML for each that is shown, at most."""


class PaperProblemError(Exception):
    """The text cannot be laid out."""


def on_paper(content: bytes, media_type: str, limits: Limits | None = None) -> bytes:
    """A PDF of HTML, plain text or an office file.

    Raises:
        PaperProblemError: laying out is not possible here, or the text is too long.
        OfficeProblemError: the office file cannot be read.
        XmlProblemError: the XML cannot be read.
    """
    limits = limits or Limits()
    if file_type(media_type).opened is Opened.OFFICE:
        body = office.office_html(content, media_type, limits)
    elif media_type == XML:
        body = xml_html(content)
    else:
        body = _of_text(decoded(content, "utf-8"), media_type)
    if len(body) > limits.characters * MARKUP:
        raise PaperProblemError(f"it is longer than {limits.characters:,} characters")
    try:
        import weasyprint
    except (ImportError, OSError) as error:
        raise PaperProblemError("the Pango library, which lays text out, is not here") from error
    page = f"<!DOCTYPE html><html><head><style>{_STYLE}</style></head><body>{body}</body></html>"
    try:
        found: bytes = weasyprint.HTML(string=page, url_fetcher=_nothing).write_pdf()
    except (ValueError, TypeError, AttributeError, RecursionError, AssertionError) as error:
        raise PaperProblemError(f"it cannot be laid out ({type(error).__name__})") from error
    return found


def _of_text(text: str, media_type: str) -> str:
    return safe_html(text) if media_type == "text/html" else f"<pre>{escape(text)}</pre>"


def _nothing(url: str, *_: Any, **__: Any) -> Any:
    raise ValueError(f"nothing is fetched from afar: {url[:100]}")
