"""Lines that no header names: rows in which one number is the product of two others."""

from tests.core.paper import page_of, read

HEAD = (
    (40, (50, "Invoice", 2.0)),
    (80, (50, "Saltglass Systems Ltd")),
    (100, (50, "Invoice No: SG/7"), (300, "Date: 5 November 2026")),
)


def figures(reading):
    names = ("quantity", "unit_price", "amount")
    return [
        tuple(str(line[name].value) if name in line else None for name in names)
        for line in reading.lines
    ]


def said(reading, name):
    return [str(line[name].value) if name in line else None for line in reading.lines]


def row(y, code, name, quantity, price, amount):
    return (y, (50, code), (120, name), (330, quantity, "right"), (420, price, "right"),
            (540, amount, "right"))  # fmt: skip


def sums(y, net, tax, gross):
    return (
        (y, (350, "Net total"), (540, f"£{net}", "right")),
        (y + 15, (350, "VAT 20 %"), (540, f"£{tax}", "right")),
        (y + 30, (350, "Total"), (540, f"£{gross}", "right")),
    )


BARE = page_of(
    *HEAD,
    row(200, "RS-25", "Reef salt", "4", "5.00", "20.00"),
    row(220, "TS-01", "Test strips", "3", "7.50", "22.50"),
    row(240, "KR-10", "Frozen krill", "10", "1.25", "12.50"),
    *sums(300, "55.00", "11.00", "66.00"),
)


def test_a_table_without_any_header_is_read():
    assert figures(read(BARE)) == [
        ("4", "5.00", "20.00 GBP"), ("3", "7.50", "22.50 GBP"), ("10", "1.25", "12.50 GBP"),
    ]  # fmt: skip


def test_code_and_description_are_told_apart_without_a_header():
    reading = read(BARE)
    assert said(reading, "item_code") == ["RS-25", "TS-01", "KR-10"]
    assert said(reading, "description") == ["Reef salt", "Test strips", "Frozen krill"]


def test_a_line_that_is_wrong_in_itself_stays_as_it_is_printed():
    reading = read(page_of(
        *HEAD,
        row(200, "RS-25", "Reef salt", "4", "5.00", "20.00"),
        row(220, "TS-01", "Test strips", "3", "7.50", "25.20"),
        row(240, "KR-10", "Frozen krill", "10", "1.25", "12.50"),
        *sums(300, "57.70", "11.54", "69.24"),
    ))  # fmt: skip
    assert figures(reading)[1] == ("3", "7.50", "25.20 GBP")


def test_totals_are_no_lines():
    # 2 x 27.50 = 55.00 stands in the totals' columns by chance.
    reading = read(page_of(
        *HEAD,
        row(200, "RS-25", "Reef salt", "4", "5.00", "20.00"),
        row(220, "TS-01", "Test strips", "3", "7.50", "22.50"),
        row(240, "KR-10", "Frozen krill", "10", "1.25", "12.50"),
        (260, (330, "17", "right"), (540, "55.00", "right")),
        *sums(300, "55.00", "11.00", "66.00"),
    ))  # fmt: skip
    assert len(reading.lines) == 3


def test_lines_in_words_are_read_where_a_sign_says_times():
    reading = read(page_of(
        *HEAD,
        (200, (60, "Reef salt: 4 x 5.00 = 20.00")),
        (220, (60, "Test strips, ten in a box: 3 x 7.50 = 22.50")),
        *sums(300, "42.50", "8.50", "51.00"),
    ))  # fmt: skip
    assert figures(reading) == [("4", "5.00", "20.00 GBP"), ("3", "7.50", "22.50 GBP")]
    first, second = said(reading, "description")
    assert first.startswith("Reef")
    assert second.startswith("Test strips, ten in")


def test_the_name_of_a_line_may_stand_above_its_figures():
    reading = read(page_of(
        *HEAD,
        (180, (60, "Description"), (540, "Amount", "right")),
        (200, (60, "Reef salt, bags of 25 kg")),
        (211, (70, "4 x 5.00"), (540, "20.00", "right")),
        (222, (60, "Test strips")),
        (233, (70, "3 x 7.50"), (540, "22.50", "right")),
        *sums(300, "42.50", "8.50", "51.00"),
    ))  # fmt: skip
    assert figures(reading) == [("4", "5.00", "20.00 GBP"), ("3", "7.50", "22.50 GBP")]
    assert said(reading, "description") == ["Reef salt, bags of 25 kg", "Test strips"]


def test_a_discount_in_percent_takes_part_in_the_product():
    def discounted(y, name, quantity, price, off, amount):
        return (y, (50, name), (280, quantity, "right"), (350, price, "right"),
                (420, off, "right"), (540, amount, "right"))  # fmt: skip

    reading = read(page_of(
        *HEAD,
        discounted(200, "Reef salt", "4", "5.00", "10", "18.00"),
        discounted(220, "Test strips", "3", "7.50", "20", "18.00"),
        discounted(240, "Frozen krill", "10", "1.30", "15", "11.05"),
        *sums(300, "47.05", "9.41", "56.46"),
    ))  # fmt: skip
    assert figures(reading)[2] == ("10", "1.30", "11.05 GBP")
    assert said(reading, "discount") == ["2.00 GBP", "4.50 GBP", "1.95 GBP"]
