"""Readings: values with their evidence, named by EN 16931."""

from veridox.core.reading.codec import (
    ValueFormatError,
    decode_value,
    encode_value,
    reading_from_json,
    reading_to_json,
)
from veridox.core.reading.extra import ExtraField
from veridox.core.reading.fields import (
    ADJUSTMENT_CELLS,
    FIELDS,
    LINE_CELLS,
    POSTED_KINDS,
    TAX_CELLS,
    FieldSpec,
    FieldType,
    Kind,
)
from veridox.core.reading.reading import (
    ON_PAGE,
    Candidate,
    Field,
    Origin,
    Reading,
    Row,
    Source,
    Value,
)

__all__ = [
    "ADJUSTMENT_CELLS",
    "FIELDS",
    "LINE_CELLS",
    "ON_PAGE",
    "POSTED_KINDS",
    "TAX_CELLS",
    "Candidate",
    "ExtraField",
    "Field",
    "FieldSpec",
    "FieldType",
    "Kind",
    "Origin",
    "Reading",
    "Row",
    "Source",
    "Value",
    "ValueFormatError",
    "decode_value",
    "encode_value",
    "reading_from_json",
    "reading_to_json",
]
