from tests.core.paper import page_of
from veridox.core.pages import Box, Page, Word, rows_of


def test_words_of_one_line_are_a_row_from_left_to_right():
    page = page_of((100, (200, "second"), (50, "first")), (50, (50, "above")))
    assert [row.text for row in rows_of(page)] == ["above", "first second"]


def test_small_print_beside_large_print_stays_in_its_row():
    large = Word(text="TOTAL", box=Box(50, 100, 150, 120))
    small = Word(text="(EUR)", box=Box(155, 106, 180, 114))
    page = Page(number=1, width=595, height=842, words=(small, large))
    assert [row.text for row in rows_of(page)] == ["TOTAL (EUR)"]


def test_rows_close_above_each_other_stay_apart():
    page = page_of((100, (50, "one")), (110.5, (50, "two")), (121, (50, "three")))
    assert len(rows_of(page)) == 3


def test_wide_gaps_cut_a_row_into_segments():
    page = page_of((100, (50, "Invoice no."), (200, "4711"), (320, "Page 1 of 2")))
    (row,) = rows_of(page)
    assert [segment.text for segment in row.segments()] == ["Invoice no.", "4711", "Page 1 of 2"]


def test_the_text_of_a_page_reads_in_order():
    page = page_of((200, (50, "below")), (100, (50, "above")))
    assert page.text() == "above\nbelow"


def test_a_page_without_words_has_no_rows():
    assert rows_of(Page(number=1, width=10, height=10, words=())) == ()


def test_a_box_around_boxes_holds_them_all():
    around = Box.around([Box(1, 5, 3, 6), Box(2, 1, 9, 4)])
    assert around == Box(1, 1, 9, 6)
    assert around.middle == (5, 3.5)
