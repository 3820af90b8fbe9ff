"""A file with several documents, and fields that a pipeline declares, through the service."""

import io

import pikepdf
import pytest
from django.test import Client

from demo import bills
from demo.drawing import LAYOUTS
from tests.service.conftest import PIPELINE, SYSTEM, answer_of, jobs
from veridox.core.findings import Finding, Weight
from veridox.core.reading import Origin
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.correct import correct
from veridox.service.documents.actions.store_reading import store_reading
from veridox.service.documents.columns import current_reading
from veridox.service.documents.models import Document
from veridox.service.errors import BadInputError
from veridox.service.flow.actions.advance import advance
from veridox.service.intake.actions.receive import upload
from veridox.service.intake.models import File
from veridox.service.pipelines.actions.publish import publish
from veridox.service.storage import originals

DECLARED = PIPELINE.replace(
    "read:\n",
    "read:\n  fields:\n"
    "    request: {type: choice, of: [new, correction], from: =file.name, default: new}\n"
    "    berth: {type: text, labels: [berth], example: B-12}\n",
)


def together(*pdfs):
    book = pikepdf.new()
    for pdf in pdfs:
        book.pages.extend(pikepdf.open(io.BytesIO(pdf)).pages)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def arrive(version, content, name="scan.pdf", findings=()):
    sha256 = originals().put(content)
    file = upload(
        SYSTEM, version, name=name, declared_type="application/pdf",
        media_type="application/pdf", sha256=sha256, size=len(content),
    )  # fmt: skip
    answer = answer_of(content)
    store_reading(SYSTEM, file.pk, type(answer)(**{
        **{name: getattr(answer, name) for name in answer.__dataclass_fields__},
        "findings": (*answer.findings, *findings),
    }))  # fmt: skip
    return list(Document.objects.filter(file=file).order_by("position"))


TWO = together(
    LAYOUTS["letterhead"](bills.KRILL), LAYOUTS["letterhead"](bills.SALT_SLIP),
)  # fmt: skip


def test_each_bill_of_a_file_is_a_document_with_its_own_pages(installation):
    one, other = arrive(installation.version, TWO)
    assert (one.number, other.number) == (bills.KRILL.number, bills.SALT_SLIP.number)
    assert (one.first_page, one.last_page) == (1, 1)
    assert (other.first_page, other.last_page) == (2, 2)
    assert {job["document_id"] for job in jobs("advance")} >= {
        one.pk, other.pk,
    }  # fmt: skip


def test_each_is_checked_by_itself(installation):
    one, other = arrive(installation.version, TWO)
    for document in (one, other):
        advance(SYSTEM, document.pk)
        document.refresh_from_db()
    assert "total.sum" not in [finding["code"] for finding in one.findings]
    assert "total.sum" in [finding["code"] for finding in other.findings]


def test_what_a_reader_says_of_a_page_concerns_its_document_only(installation):
    said = Finding(code="page.text_differs", weight=Weight.WARN, message="Look at it.", page=2)
    one, other = arrive(installation.version, TWO, findings=[said])
    for document in (one, other):
        advance(SYSTEM, document.pk)
        document.refresh_from_db()
    assert "page.text_differs" not in [finding["code"] for finding in one.findings]
    assert "page.text_differs" in [finding["code"] for finding in other.findings]


def test_the_api_shows_a_document_with_its_pages_and_place(installation, clerk):
    _, other = arrive(installation.version, TWO)
    web = Client()
    web.force_login(clerk)
    shown = web.get(f"/api/v1/documents/{other.pk}").json()
    assert [page["number"] for page in shown["pages"]] == [2]
    assert (shown["position"], shown["page_count"], shown["stretch"]) == (2, 1, "page 2")
    assert len(web.get(f"/api/v1/files/{other.file_id}").json()["pages"]) == 2


# -- declared fields


@pytest.fixture
def declared(installation):
    return publish(SYSTEM, DECLARED)


def test_declared_fields_come_from_the_file_s_mail_or_by_default(declared):
    pdf = LAYOUTS["letterhead"](bills.KRILL)
    (one,) = arrive(declared, pdf, name="correction of May.pdf")
    (other,) = arrive(declared, pdf, name="may.pdf")
    found = [current_reading(document).fields["request"] for document in (one, other)]
    assert [(field.value, field.origin) for field in found] == [
        ("correction", Origin.MAIL), ("new", Origin.DERIVED),
    ]  # fmt: skip


def test_a_person_enters_a_declared_field_and_a_choice_stays_a_choice(declared, clerk):
    (document,) = arrive(declared, LAYOUTS["letterhead"](bills.SALT_SLIP))
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    actor = Actor.of(clerk)
    correct(actor, document.pk, document.version, {"fields": {"berth": "B-14"}}, "")
    assert current_reading(document).value("berth") == "B-14"
    document.refresh_from_db()
    with pytest.raises(BadInputError) as refused:
        correct(actor, document.pk, document.version, {"fields": {"request": "maybe"}}, "")
    assert "'maybe' is none of: new, correction" in str(refused.value.extra)


def test_a_field_that_nobody_declared_is_refused_with_the_nearest_name(declared, clerk):
    (document,) = arrive(declared, LAYOUTS["letterhead"](bills.SALT_SLIP))
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    with pytest.raises(BadInputError) as refused:
        correct(Actor.of(clerk), document.pk, document.version, {"fields": {"birth": "B"}}, "")
    assert "did you mean berth?" in str(refused.value.extra)
    assert File.objects.count() == 1
