"""The bill for each family of findings goes through the running service and says what it should."""

import pytest

from demo.findings import CASES
from demo.mails import send
from tests.stack.running import until
from veridox.core.pipeline.definition import WAITS

pytestmark = pytest.mark.stack
ONLY_WARN = {"terms.shorter", "date.closed", "order.raised_afterwards"}


@pytest.fixture(scope="module")
def ended(running):
    """Each bill of the list where it came to stand, by its number."""
    for case in CASES:
        send(case.message(), running.stack.ports.smtp, case.forged_by)
        if not case.codes:
            running.posted(case.mail.name)

    def there(name):
        document = running.document(name)
        return document and document.state in ("at_desk", "posted", "waiting") and document

    return {case.mail.name: until(lambda n=case.mail.name: there(n), case.mail.name, 90)
            for case in CASES}  # fmt: skip


@pytest.mark.parametrize("case", CASES, ids=lambda case: case.mail.name)
def test_it_says_what_it_should(running, ended, case):
    document = running.vx.documents.get(ended[case.mail.name].id)
    said = {finding.code: finding for finding in document.findings}
    assert set(case.codes) <= set(said)
    stops = set(case.codes) - ONLY_WARN
    stopped = "waiting" if stops <= WAITS else "at_desk"
    assert document.state == (stopped if stops else "posted")
    for code in case.codes:
        assert said[code].message.endswith(".")
