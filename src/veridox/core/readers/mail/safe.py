"""A mail's HTML made safe to show: no scripts, no styles that hide, nothing fetched from afar."""

import re

import nh3

_TAGS = {
    "a", "abbr", "address", "b", "big", "blockquote", "br", "caption", "center", "code", "col",
    "colgroup", "dd", "del", "div", "dl", "dt", "em", "font", "h1", "h2", "h3", "h4", "h5", "h6",
    "hr", "i", "ins", "li", "ol", "p", "pre", "s", "small", "span", "strike", "strong", "sub",
    "sup", "table", "tbody", "td", "tfoot", "th", "thead", "tr", "tt", "u", "ul",
}  # fmt: skip
_SHAPE = {"align", "valign", "width", "height", "colspan", "rowspan", "bgcolor", "nowrap"}
_ATTRIBUTES = {
    "a": {"href", "title"},
    "col": {"span", "width"},
    "font": {"color", "size"},
    "ol": {"start", "type"},
    "table": {"border", "cellpadding", "cellspacing", *_SHAPE},
    **dict.fromkeys(("td", "th", "tr", "thead", "tbody", "tfoot"), _SHAPE),
    "div": {"align"},
    "p": {"align"},
}
_PICTURE = re.compile(r"<img\b[^>]*>", re.IGNORECASE)
_ALT = re.compile(r"\balt\s*=\s*(?:\"([^\"]*)\"|'([^']*)')", re.IGNORECASE)
_PLAIN_COLOUR = re.compile(r"#[0-9a-f]{3,8}|[a-z]+", re.IGNORECASE)


def safe_html(html: str) -> str:
    """HTML with words, tables and links only; pictures become their alternative text.

    Pictures tell their sender that and when they are looked at, so none is kept.
    """
    without = _PICTURE.sub(_said, html)
    return nh3.clean(
        without,
        tags=_TAGS,
        clean_content_tags={"script", "style", "title", "head"},
        attributes={tag: set(names) for tag, names in _ATTRIBUTES.items()},
        attribute_filter=_kept,
        url_schemes={"http", "https", "mailto", "tel"},
        link_rel="noopener noreferrer",
        strip_comments=True,
    )


def _said(match: re.Match[str]) -> str:
    alt = _ALT.search(match.group())
    text = (alt.group(1) or alt.group(2) or "").strip() if alt else ""
    return f"[{text}]" if text else ""


def _kept(tag: str, name: str, value: str) -> str | None:
    del tag
    if name in ("bgcolor", "color") and not _PLAIN_COLOUR.fullmatch(value.strip()):
        return None
    return value
