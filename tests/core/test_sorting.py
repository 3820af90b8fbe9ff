"""Which files of a mail are bills, and which go with one."""

import pytest

from veridox.core.pipeline.sorting import SMALL, Piece, plans_for

BILL = Piece(name="bill.pdf", declared_type="", media_type="application/pdf", size=90_000)
XML = Piece(name="bill.xml", declared_type="", media_type="application/xml", size=9_000)
SHEET = Piece(name="hours.csv", declared_type="", media_type="text/csv", size=900)
BADGE = Piece(name="sig.png", declared_type="", media_type="image/png", size=SMALL)
PHOTO = Piece(name="photo.jpg", declared_type="", media_type="image/jpeg", size=900_000)
SHOWN = Piece(name="a.jpg", declared_type="", media_type="image/jpeg", size=900_000, in_text=True)
FAX = Piece(name="fax.tif", declared_type="", media_type="image/tiff", size=9_000)
FAKE = Piece(name="bill.pdf", declared_type="", media_type="image/png", size=9_000)


@pytest.mark.parametrize(
    ("pieces", "read"),
    [
        ([BILL, XML, SHEET, BADGE, SHOWN], [0]),
        ([BILL, PHOTO, FAX], [0, 1, 2]),  # each may be a bill: nothing is lost by reading it
        ([BADGE], [0]),
        ([SHOWN, BADGE], [0, 1]),
        ([SHEET, BADGE], [0]),
        ([XML], [0]),
        ([XML, SHEET], [0, 1]),
        ([PHOTO, SHOWN], [0]),
        ([FAKE, BADGE], [0]),
    ],
)
def test_what_is_likely_a_bill_is_read_and_the_rest_supports_it(pieces, read):
    plans = plans_for(pieces, ())
    assert [at for at, plan in enumerate(plans) if plan.read] == read
    for at, plan in enumerate(plans):
        if at not in read:
            assert plan.goes_with == read[0]
            assert plan.reason


def test_what_the_pipeline_lists_is_read_wherever_it_lies():
    plans = plans_for([BILL, SHEET, BADGE], ("pdf", "csv"))
    assert [plan.read for plan in plans] == [True, True, False]
    assert plans[2].reason == "goes with hours.csv"


def test_xml_of_the_same_name_is_the_structured_form():
    assert plans_for([BILL, XML], ())[1].reason == "the structured form of bill.pdf"


@pytest.mark.parametrize("types", [(), ("gif",), ("bmp",)])
def test_a_gif_is_a_bill_only_where_the_pipeline_says_so_and_a_bmp_always(types):
    gif = Piece(name="a.gif", declared_type="", media_type="image/gif", size=900_000)
    bmp = Piece(name="a.bmp", declared_type="", media_type="image/bmp", size=900_000)
    one, other = plans_for([gif], types)[0], plans_for([bmp], types)[0]
    assert (one.read, other.read) == (types == ("gif",), types != ("gif",))
    if not types:
        assert one.reason == "image/gif is read when the pipeline lists it under files"
