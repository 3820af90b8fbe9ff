"""Versions of pipelines: who lets which run, what changed, and what in-flight documents keep."""

import json
from dataclasses import replace

import pytest

from demo import bills
from tests.service.caller import Caller
from tests.service.conftest import PIPELINE, SYSTEM
from veridox.service.accounts.actors import Actor
from veridox.service.errors import (
    BadInputError,
    ConfigurationError,
    NotAllowedError,
    NotThereError,
    WrongStateError,
)
from veridox.service.flow.actions.advance import advance
from veridox.service.people.actions.people import create_person
from veridox.service.pipelines.actions.pause import pause, pause_refused, resume
from veridox.service.pipelines.actions.publish import (
    accept_version,
    bring_back,
    copy,
    publish,
    refuse_version,
    remove,
)
from veridox.service.pipelines.checking import PipelineText, overlapping
from veridox.service.pipelines.models import Pipeline, PipelineVersion, VersionState
from veridox.service.pipelines.queries import definition_of, newest, running, sources
from veridox.service.trail.models import Entry

NAME = "supplier-invoices"
LOOSER = PIPELINE.replace("percent: 2,", "percent: 5,")
TIGHTER = PIPELINE.replace("percent: 2,", "percent: 1,")


@pytest.fixture
def ada(installation, admin):
    return Actor.of(admin)


@pytest.fixture
def bea(installation):
    return Actor.of(create_person(SYSTEM, "bea", "a long enough word", "admin"))


def last(act):
    return Entry.objects.filter(act=act).order_by("-number").first()


def test_what_tightens_runs_at_once(ada):
    assert publish(ada, TIGHTER).state == VersionState.PUBLISHED
    assert newest(NAME).number == 2
    assert last("pipeline.published").details["changes"] == [
        "check.order.total.percent: 2 % -> 1 %"
    ]


def test_what_loosens_waits_for_somebody_else(ada, bea):
    version = publish(ada, LOOSER)
    assert version.state == VersionState.WAITING
    assert newest(NAME).number == 1
    assert last("pipeline.proposed").details["loosens"] == ["check.order.total.percent: 2 % -> 5 %"]
    with pytest.raises(NotAllowedError, match="somebody else"):
        accept_version(ada, NAME, 2)
    with pytest.raises(NotAllowedError):
        accept_version(SYSTEM, NAME, 2)
    assert newest(NAME).number == 1
    accept_version(bea, NAME, 2, "agreed with the controller")
    assert newest(NAME).number == 2
    entry = last("pipeline.accepted")
    assert (entry.actor, entry.details["published_by"]) == (bea.name, ada.name)
    assert entry.details["loosens"] == ["check.order.total.percent: 2 % -> 5 %"]
    with pytest.raises(WrongStateError, match="waits for nobody"):
        accept_version(bea, NAME, 2)


def test_what_was_refused_never_runs_and_keeps_its_text(ada, bea):
    publish(ada, LOOSER)
    refuse_version(bea, NAME, 2, "too much")
    row = PipelineVersion.objects.get(number=2)
    assert (row.state, row.decided_by, row.decided_reason) == (
        VersionState.REFUSED, bea.name, "too much",
    )  # fmt: skip
    assert newest(NAME).number == 1
    assert publish(ada, LOOSER).number == 3  # asked again, it waits again


def test_what_waits_ends_when_another_is_published(ada, bea):
    publish(ada, LOOSER)
    publish(ada, TIGHTER)
    assert PipelineVersion.objects.get(number=2).state == VersionState.REFUSED
    with pytest.raises(WrongStateError):
        accept_version(bea, NAME, 2)
    assert newest(NAME).number == 3


def test_a_second_person_is_a_setting(ada, settings):
    settings.CONFIGURATION = replace(settings.CONFIGURATION, second_person=False)
    assert publish(ada, LOOSER).state == VersionState.PUBLISHED
    assert newest(NAME).number == 2


def test_an_older_version_is_brought_back_as_the_newest(ada, bea):
    publish(ada, TIGHTER)
    version = bring_back(ada, NAME, 1)  # version 1 is looser than what runs
    assert (version.number, version.as_version, version.state) == (3, 1, VersionState.WAITING)
    accept_version(bea, NAME, 3)
    assert newest(NAME).text == PIPELINE
    assert bring_back(ada, NAME, 2).state == VersionState.PUBLISHED
    with pytest.raises(WrongStateError, match="is the one that runs"):
        bring_back(ada, NAME, newest(NAME).number)
    with pytest.raises(NotThereError, match="no version 9"):
        bring_back(ada, NAME, 9)


def test_documents_in_flight_end_under_their_version(installation, ada):
    document = installation.arrive(bills.KRILL)
    publish(ada, TIGHTER)
    advance(SYSTEM, document.pk)
    document.refresh_from_db()
    assert document.pipeline_version.number == 1


def test_a_paused_pipeline_collects_nothing_until_it_is_resumed(ada):
    pause(ada, NAME, "stocktaking")
    assert (sources(), running()) == ([], [])
    assert last("pipeline.paused").details == {"reason": "stocktaking"}
    with pytest.raises(WrongStateError, match="paused already"):
        pause(ada, NAME)
    publish(ada, TIGHTER)  # a person paused it: publishing does not start it
    assert running() == []
    resume(ada, NAME)
    assert [version.number for version, _ in running()] == [2]
    with pytest.raises(WrongStateError, match="running already"):
        resume(ada, NAME)


def test_what_a_newer_release_refuses_is_paused_and_started_by_a_corrected_one(ada):
    text = PIPELINE.replace("risk > 10 %", "rsk > 10 %")
    broken = PipelineVersion.objects.create(
        pipeline=newest(NAME).pipeline, number=2, text=text, sha256="x", published_by="x"
    )
    assert NAME in pause_refused(SYSTEM)
    with pytest.raises(WrongStateError, match="does not pass its check any more"):
        resume(ada, NAME)
    with pytest.raises(WrongStateError, match="is the one that runs"):
        bring_back(ada, NAME, broken.number)
    publish(ada, TIGHTER)
    assert [version.number for version, _ in running()] == [3]


def test_a_copy_begins_paused_under_its_own_name(ada):
    version = copy(ada, NAME, "second-look")
    assert version.pipeline.paused
    assert definition_of(version).name == "second-look"
    assert [version.pipeline.name for version, _ in running()] == [NAME]
    with pytest.raises(WrongStateError, match="already"):
        copy(ada, NAME, "second-look")
    with pytest.raises(BadInputError, match="small letters"):
        copy(ada, NAME, "Second Look")
    resume(ada, "second-look")
    said = overlapping(definition_of(newest(NAME)))
    assert said == [
        "second-look looks into ap-inbox INBOX, too: what passes both filters is taken by "
        "whichever looks first"
    ]


@pytest.mark.parametrize(("mine", "theirs", "overlaps"), [
    ("senders: [a@x.example]", "senders: [b@x.example]", False),
    ("senders: [a@x.example]", "senders: [A@x.example, b@x.example]", True),
    ("senders: ['*@x.example']", "senders: [b@x.example]", True),
    ("subject: [invoice]", "subject: [reminder]", True),  # one subject may have both words
])  # fmt: skip
def test_only_what_is_certain_is_no_overlap(ada, mine, theirs, overlaps):
    text = PIPELINE.replace("subject: [invoice, credit note, Rechnung, Gutschrift]", "{}")
    publish(SYSTEM, text.replace("{}", mine))
    other = publish(
        SYSTEM, text.replace("{}", theirs).replace("pipeline: supplier", "pipeline: others")
    )
    assert bool(overlapping(definition_of(other))) is overlaps


def test_a_removed_pipeline_is_gone_and_may_come_back(ada):
    publish(ada, LOOSER)
    remove(ada, NAME, "replaced")
    with pytest.raises(NotThereError):
        newest(NAME)
    assert PipelineVersion.objects.get(number=2).state == VersionState.REFUSED
    with pytest.raises(NotThereError):
        remove(ada, NAME)
    assert publish(ada, LOOSER).number == 3  # nothing runs that it could loosen
    assert newest(NAME).number == 3
    assert Pipeline.objects.get(name=NAME).removed_at is None


SHARED = "desk:\n  - {when: gross_total > 900 GBP, queue: large}\n"


def test_shared_parts_and_values_are_frozen_into_their_version(ada, settings):
    settings.CONFIGURATION = replace(settings.CONFIGURATION, values={"TEAM": "one@x.example"})
    text = PIPELINE.replace("title:", "shared: [house]\ntitle:").replace(
        "ap-team@merrowmere.example", "=environment.TEAM"
    )
    file = PipelineText(text=text, parts={"house": SHARED}, commit="1a2b3c")
    version = publish(ada, file)
    assert (version.parts, version.values, version.commit) == (
        {"house": SHARED}, {"TEAM": "one@x.example"}, "1a2b3c",
    )  # fmt: skip
    settings.CONFIGURATION = replace(settings.CONFIGURATION, values={"TEAM": "two@x.example"})
    definition = definition_of(PipelineVersion.objects.get(pk=version.pk))
    assert definition.tell[0].to == "one@x.example"
    assert definition.desk[-1].queue == "large"
    # The same text with other values is another version.
    assert publish(ada, file).number == version.number + 1


@pytest.mark.parametrize(("listed", "said"), [
    ("MISSING_ONE", "is not set"), ("DB_PASSWORD", "no secret"), ("VERIDOX_URL", "no setting"),
    ("a-b", "is not set"),
])  # fmt: skip
def test_only_what_is_listed_and_no_secret_reaches_a_pipeline(monkeypatch, listed, said):
    from veridox.service.configuration import configuration

    monkeypatch.setenv("DB_PASSWORD", "x")
    monkeypatch.setenv("VERIDOX_URL", "http://127.0.0.1:1")
    monkeypatch.setenv("VERIDOX_PIPELINE_VALUES", listed)
    with pytest.raises(ConfigurationError, match=said):
        configuration()


# -- by REST


def test_the_list_says_what_each_does(rules, installation):
    installation.checked(bills.KRILL)
    rules.send("post", "/pipelines", {"text": LOOSER})
    (row,) = rules.get("/pipelines").json()["results"]
    assert (row["version"], row["waiting"], row["paused"]) == (1, 2, False)
    assert {each["state"]: each["count"] for each in row["today"]} == {"cleared": 1}
    today = rules.get("/today").json()
    (waits,) = today["versions"]
    assert (waits["pipeline"], waits["number"], waits["published_by"]) == (NAME, 2, "person:ada")
    assert today["troubles"] == []


def test_checking_tells_what_would_change_and_what_is_hardly_meant(rules):
    text = LOOSER.replace("risk > 10 %", "risk >= 0 %")
    answer = rules.send("post", "/pipelines/check", {"text": text}).json()
    assert [each["place"] for each in answer["changes"] if each["loosens"]] == [
        "check.order.total.percent",
    ]  # fmt: skip
    assert [each["message"] for each in answer["warnings"]] == ["this condition always holds"]
    assert PipelineVersion.objects.count() == 1


def test_two_versions_are_compared_by_meaning_and_by_line(rules):
    rules.send("post", "/pipelines", {"text": TIGHTER})
    answer = rules.get(f"/pipelines/{NAME}/compare").json()
    assert (answer["before"], answer["after"]) == (1, 2)
    (change,) = answer["changes"]
    assert (change["before"], change["after"], change["loosens"]) == ("2 %", "1 %", "")
    assert "-    total: {percent: 2, amount: 50}" in answer["lines"]
    back = rules.get(f"/pipelines/{NAME}/compare", before=2, after=1).json()
    assert back["changes"][0]["loosens"]
    assert rules.get(f"/pipelines/{NAME}/compare", before="x").status_code == 400
    assert rules.get(f"/pipelines/{NAME}/compare", before=7).status_code == 404


@pytest.mark.parametrize("path", [
    "pause", "resume", "copy", "remove", "versions/1/accept", "versions/1/bring-back",
])  # fmt: skip
def test_clerks_change_no_pipeline(works, path):
    answer = works.send("post", f"/pipelines/{NAME}/{path}", {"name": "x"})
    assert answer.status_code == 403


def test_every_act_by_rest(rules, bea):
    def act(caller, path, data=None, status=200):
        answer = caller.send("post", f"/pipelines/{NAME}/{path}", data or {})
        assert answer.status_code == status, answer.content
        return json.loads(answer.content or "{}")

    other = Caller(bea.person, "read", "admin")
    assert act(rules, "pause", {"reason": "x"})["paused"] is True
    assert act(rules, "resume")["paused"] is False
    assert rules.send("post", "/pipelines", {"text": LOOSER}).json()["state"] == "waiting"
    act(rules, "versions/2/accept", status=403)
    assert act(other, "versions/2/accept")["state"] == "published"
    assert rules.send("post", "/pipelines", {"text": TIGHTER}).json()["number"] == 3
    assert act(rules, "versions/2/bring-back", status=201)["state"] == "waiting"
    act(other, "versions/4/refuse", status=400)  # without saying why
    assert act(other, "versions/4/refuse", {"reason": "no"})["state"] == "refused"
    assert act(rules, "copy", {"name": "another"}, 201)["pipeline"] == "another"
    act(rules, "remove", status=204)
    assert [row["name"] for row in rules.get("/pipelines").json()["results"]] == ["another"]
