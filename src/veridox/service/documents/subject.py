"""A document as it is stored, for the names of the language: at events, and in letters. Reads."""

from decimal import Decimal

from django.conf import settings

from veridox.core.facts import Facts
from veridox.core.language import Names, Subject
from veridox.core.language.syntax import Literal, Percent
from veridox.core.pipeline import PipelineError
from veridox.core.pipeline.parameters import ParameterError, values_of_texts
from veridox.service.documents.columns import current_reading, findings_of
from veridox.service.documents.models import Document
from veridox.service.documents.orders import order_records, orders_of_bill
from veridox.service.documents.queries import accepted
from veridox.service.intake.models import File, Message
from veridox.service.intake.names import names_of_file, names_of_files, names_of_mail
from veridox.service.intake.sender import mail_fact
from veridox.service.masterdata.records import entity_record, vendor_record
from veridox.service.pipelines.models import PipelineRun, PipelineVersion
from veridox.service.pipelines.queries import definition_of


def subject_of_document(document: Document) -> Subject:
    """What names and lists speak of, from what is stored with the document."""
    findings = tuple(findings_of(document))
    orders = order_records(orders_of_bill(document), document)
    answered = {each["message"] for each in accepted(document)}
    facts = Facts(
        reading=current_reading(document),
        entity=entity_record(document.entity) if document.entity else None,
        vendor=vendor_record(document.vendor) if document.vendor else None,
        order=orders[0] if orders else None,
        further_orders=tuple(orders[1:]),
        arrived=document.received_at.date(),
        mail=mail_fact(document.file),
    )
    return Subject(
        mail=names_of_file(document.file),
        files=files_beside(document.file),
        facts=facts,
        blocked=any(each.blocks and each.message not in answered for each in findings),
        risk=Percent(document.risk) if document.risk is not None else None,
        findings=findings,
        reasons=tuple(str(each) for each in document.reasons),
        around={**around_of_file(document.file), **_stands(document)},
    )


def subject_of_mail(message: Message) -> Subject:
    """The same of a mail that just came in."""
    around = {
        **_of_pipeline(message.pipeline_version, message.run),
        **_known(link=_link("mail", message.pk), mailbox=_mailbox(message)),
    }
    return Subject(mail=names_of_mail(message), files=names_of_files(message), around=around)


def files_beside(file: File) -> tuple[Names, ...]:
    """Names of the files of its mail; of itself, where it came without one."""
    if file.message is not None:
        return names_of_files(file.message)
    names = names_of_file(file)
    return ({key: names[f"file.{key}"] for key in ("name", "type", "size", "position")},)


def around_of_file(file: File) -> dict[str, Literal]:
    """What the service alone knows of a file, before it is read."""
    mailbox = _mailbox(file.message) if file.message else ""
    return {
        **_of_pipeline(file.pipeline_version, file.run),
        **_known(mailbox=mailbox),
    }


def around_of_run(run: PipelineRun) -> dict[str, Literal]:
    """The same of a run."""
    link = f"{settings.CONFIGURATION.url}/documents?run={run.pk}"
    return {**_of_pipeline(run.version, run), **_known(link=link)}


def _of_pipeline(version: PipelineVersion, run: PipelineRun | None) -> dict[str, Literal]:
    found = _known(pipeline=version.pipeline.name)
    if run is None:
        return found
    try:
        parameters = definition_of(version).run.parameters
        said = values_of_texts(parameters, run.parameters)
    except (PipelineError, ParameterError):
        said = {}  # what was said for another version means nothing to this one
    return {
        **found, **said, "run.number": Decimal(run.pk), "run.began": run.begun_at.date(),
    }  # fmt: skip


def _stands(document: Document) -> dict[str, Literal]:
    posting = document.posting
    return _known(
        link=_link("documents", document.pk),
        queue=document.queue,
        end_reason=document.end_reason,
        **{"posting.number": posting.number, "posting.link": posting.link} if posting else {},
    )


def _known(**names: str) -> dict[str, Literal]:
    return {name: value for name, value in names.items() if value}


def _mailbox(message: Message) -> str:
    return str(message.connection.name) if message.connection else ""


def _link(what: str, number: int) -> str:
    return f"{settings.CONFIGURATION.url}/{what}/{number}"
