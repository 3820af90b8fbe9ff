"""Pages of a file as bytes, to be kept: the file need not be looked at a second time."""

import json
import zlib
from base64 import b64decode, b64encode
from typing import Any

from veridox.core.findings import Finding
from veridox.core.pages import Box, Page, QrCode, Word
from veridox.core.pages.words import WordOrigin
from veridox.core.readers.opened import FilePages

VERSION = 3
"""To be raised when reading changes: what was kept by an older one is not used."""


def file_to_json(file: FilePages) -> bytes:
    """Media type, pages and findings, compressed; pictures are kept beside it."""
    shape = {
        "media_type": file.media_type,
        "findings": [finding.to_json() for finding in file.findings],
        "pages": [
            {
                "number": page.number,
                "width": page.width,
                "height": page.height,
                "pictures": page.pictures,
                "look": page.look,
                "codes": [[code.text, *code.box] for code in page.codes],
                "words": [
                    [word.text, *word.box.rounded(), round(word.confidence, 5), word.origin]
                    for word in page.words
                ],
            }
            for page in file.pages
        ],
        "xml": [b64encode(each).decode() for each in file.xml],
    }
    return zlib.compress(json.dumps(shape, ensure_ascii=False).encode("utf-8", "replace"), 3)


def file_from_json(content: bytes) -> FilePages:
    """The inverse of `file_to_json`, without pictures."""
    shape: dict[str, Any] = json.loads(zlib.decompress(content))
    return FilePages(
        media_type=shape["media_type"],
        findings=tuple(Finding.from_json(each) for each in shape["findings"]),
        xml=tuple(b64decode(each) for each in shape["xml"]),
        pages=tuple(
            Page(
                number=page["number"],
                width=page["width"],
                height=page["height"],
                pictures=page["pictures"],
                look=page["look"],
                codes=tuple(QrCode(text=text, box=Box(*box)) for text, *box in page["codes"]),
                words=tuple(
                    Word(
                        text=text,
                        box=Box(left, top, right, bottom),
                        confidence=confidence,
                        origin=WordOrigin(origin),
                    )
                    for text, left, top, right, bottom, confidence, origin in page["words"]
                ),
            )
            for page in shape["pages"]
        ),
    )
