"""What a page shows, whatever file it came from: words with boxes."""

from veridox.core.pages.layout import Segment, TextRow, rows_of
from veridox.core.pages.page import Box, Page, Word

__all__ = ["Box", "Page", "Segment", "TextRow", "Word", "rows_of"]
