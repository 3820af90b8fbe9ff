"""One table says what files are: no row contradicts another, and all who need it agree."""

from itertools import combinations

import pytest

from veridox.core.filetypes import FILE_TYPES, MAILS, NAMED, Beside, Opened, file_type, opened_as
from veridox.core.pipeline import PipelineError, load
from veridox.core.readers.files import READABLE
from veridox.core.readers.sniff import sniff

PIPELINE = """
pipeline: bills
entities: [aquarium-trust]
collect:
  - mailbox: ap-inbox
    files: [{files}]
post:
  ledger: main-books
"""


def test_no_type_is_there_twice():
    for key in ("media_type", "name", "ending"):
        told = [value for each in FILE_TYPES if (value := getattr(each, key))]
        assert len(told) == len(set(told)), key
    starts = [start for each in FILE_TYPES for start in each.starts]
    assert not any(
        one.startswith(other) or other.startswith(one) for one, other in combinations(starts, 2)
    )


@pytest.mark.parametrize("kind", [each for each in FILE_TYPES if each.starts], ids=str)
def test_a_type_is_told_by_how_it_begins(kind):
    assert {sniff(start + bytes(64)) for start in kind.starts} == {kind.media_type}


def test_whatever_pipelines_may_list_can_be_opened_and_the_other_way_round():
    opened = {each.media_type for each in NAMED.values()}
    assert opened == READABLE | opened_as(Opened.OLD_OFFICE)
    assert not opened & MAILS


@pytest.mark.parametrize("name", NAMED)
def test_a_pipeline_may_list_each_type_that_is_read(name):
    (collect,) = load(PIPELINE.format(files=name)).collect
    assert collect.files == (name,)


def test_a_type_that_is_not_known_is_told_with_the_nearest():
    with pytest.raises(PipelineError, match="'tif' is not a type of file that is known"):
        load(PIPELINE.format(files="tif"))


def test_what_nothing_is_known_of_is_kept_unopened():
    unknown = file_type("application/x-unheard-of")
    assert (unknown.opened, unknown.name, unknown.beside) == (Opened.NOT, "", Beside.BILL)
