"""What a page shows, whatever file it came from: words with boxes."""

from veridox.core.pages.layout import Segment, TextRow, rows_of
from veridox.core.pages.page import Page
from veridox.core.pages.words import Box, QrCode, Word

__all__ = ["Box", "Page", "QrCode", "Segment", "TextRow", "Word", "rows_of"]
