"""The finance system's lists: page by page, with stamps, and what was taken out."""

import pytest

from veridox.standins.finance.lists import ForgottenError, Lists
from veridox.standins.finance.store import Books


def vendor(n, **more):
    return {"code": f"V{n:03}", "name": f"Vendor {n}", **more}


@pytest.fixture
def lists(tmp_path):
    found = Lists(Books(tmp_path / "books.sqlite"))
    found.put("vendors", [vendor(n) for n in range(7)])
    return found


def whole(lists, kind, since="", limit=3):
    rows, gone, after = [], [], ""
    while True:
        page = lists.page(kind, since, after, limit)
        rows, gone, after = rows + page["rows"], gone + page["gone"], page["next"]
        if not after:
            return rows, gone, page["stamp"]


def test_pages_give_every_record_once(lists):
    rows, gone, _ = whole(lists, "vendors")
    assert [row["code"] for row in rows] == [f"V{n:03}" for n in range(7)]
    assert gone == []
    assert lists.page("vendors", "", "", 3)["total"] == 7


def test_since_a_stamp_only_what_changed_comes(lists):
    _, _, stamp = whole(lists, "vendors")
    assert lists.put("vendors", [vendor(2), vendor(3, blocked=True)]) == 1  # one is as it was
    lists.take_out("vendors", ["V005"])
    rows, gone, later = whole(lists, "vendors", stamp)
    assert [row["code"] for row in rows] == ["V003"]
    assert gone == ["V005"]
    assert int(later) > int(stamp)
    assert whole(lists, "vendors", later)[:2] == ([], [])


def test_what_was_taken_out_is_in_no_whole_list(lists):
    lists.take_out("vendors", ["V005"])
    rows, gone, _ = whole(lists, "vendors")
    assert "V005" not in [row["code"] for row in rows]
    assert gone == []


def test_an_order_comes_as_one_row_a_line(lists):
    lines = [{"line": 1, "quantity": "2"}, {"line": 2, "quantity": "3"}]
    lists.put("orders", [{"entity": "trust", "number": "PO-1", "lines": lines}])
    rows, _, _ = whole(lists, "orders")
    assert [(row["number"], row["line"]) for row in rows] == [("PO-1", 1), ("PO-1", 2)]


@pytest.mark.parametrize("stamp", ["999", "abc"])
def test_a_stamp_that_was_never_given_out_is_refused(lists, stamp):
    with pytest.raises(ForgottenError):
        lists.page("vendors", stamp, "", 3)
