"""Try an expression on a document as it stands. Reads only, and locks nothing."""

from veridox.core.language.names import TYPE_OF_FIELD, Subject
from veridox.core.language.trial import Trial, try_expression
from veridox.core.pipeline.stages.check import check
from veridox.core.pipeline.stages.desk import subject_of
from veridox.service.documents.models import Document
from veridox.service.flow.gathering import ground_of
from veridox.service.pipelines.queries import definition_of


def try_on(document: Document, source: str) -> Trial:
    """What an expression gives at the gates for this document, with what is known now."""
    definition = definition_of(document.pipeline_version)
    ground = ground_of(document, definition, locking=False)
    case = check(definition, ground.case).case or ground.case
    subject = subject_of(case, case.checked) if case.checked else Subject(facts=case.facts)
    declared = {
        each.field.name: TYPE_OF_FIELD[each.field.spec.type] for each in definition.declared
    }
    return try_expression(source, subject, declared)
