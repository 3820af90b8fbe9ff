"""When a pipeline runs, and what is said then."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_pipeline_files import TEXT, problems
from veridox.core.money import Money
from veridox.core.pipeline import examine, load
from veridox.core.pipeline.compare import differences
from veridox.core.pipeline.parameters import Parameter, ParameterError, texts_of, values_of_texts
from veridox.core.pipeline.schedule import (
    Schedule,
    ScheduleError,
    interval_of,
    moment_of,
    next_after,
)


def at(text):
    return datetime.fromisoformat(text).replace(tzinfo=UTC)


@pytest.mark.parametrize(("moments", "zone", "after", "following"), [
    (["weekdays 07:30"], "UTC", "2026-11-27T07:30", "2026-11-30T07:30"),  # Friday to Monday
    (["weekdays 07:30"], "UTC", "2026-11-27T07:29", "2026-11-27T07:30"),
    (["monday 06:00", "friday 18:00"], "UTC", "2026-11-24T00:00", "2026-11-27T18:00"),
    (["daily 12:00"], "Europe/Berlin", "2026-07-01T00:00", "2026-07-01T10:00"),
    (["daily 12:00"], "Europe/Berlin", "2026-12-01T00:00", "2026-12-01T11:00"),
    (["last day 18:00"], "UTC", "2026-02-28T18:00", "2026-03-31T18:00"),
    (["last day 18:00"], "UTC", "2028-02-01T00:00", "2028-02-29T18:00"),
    (["day 31 08:00"], "UTC", "2026-11-02T00:00", "2026-11-30T08:00"),
    (["day 15 08:00"], "UTC", "2026-11-15T08:00", "2026-12-15T08:00"),
    # Clocks go forward at 02:00 on 2026-03-29 in Berlin: 02:30 is not there; back on 10-25.
    (["daily 02:30"], "Europe/Berlin", "2026-03-28T12:00", "2026-03-29T01:30"),
    (["daily 02:30"], "Europe/Berlin", "2026-10-24T12:00", "2026-10-25T00:30"),
])  # fmt: skip
def test_the_next_moment(moments, zone, after, following):
    schedule = Schedule(at=tuple(map(moment_of, moments)), zone=zone)
    assert next_after(schedule, at(after)) == at(following)


@given(st.datetimes(at("2020-01-01").replace(tzinfo=None), at("2040-01-01").replace(tzinfo=None)),
       st.sampled_from(["weekdays 07:30", "sunday 00:00", "last day 23:59", "day 30 02:30"]),
       st.sampled_from(["UTC", "Europe/Berlin", "America/St_Johns", "Pacific/Apia"]))  # fmt: skip
def test_the_next_moment_is_always_later_and_never_far(after, moment, zone):
    schedule = Schedule(at=(moment_of(moment),), zone=zone)
    begun = after.replace(tzinfo=UTC)
    found = next_after(schedule, begun)
    assert begun < found < begun + timedelta(days=70)
    assert next_after(schedule, found) > found


@pytest.mark.parametrize(("text", "found"), [
    ("15 minutes", timedelta(minutes=15)), ("1 hour", timedelta(hours=1)),
    ("2 days", timedelta(days=2)),
])  # fmt: skip
def test_intervals(text, found):
    assert interval_of(text) == found
    assert next_after(Schedule(every=found), at("2026-01-01")) == at("2026-01-01") + found


@pytest.mark.parametrize("text", ["0 minutes", "5", "40 days", "5 seconds", "-1 hour", "hourly"])
def test_what_is_no_interval(text):
    with pytest.raises(ScheduleError):
        interval_of(text)


@pytest.mark.parametrize("text", [
    "07:30", "weekdays", "weekdays 7:30", "funday 07:30", "day 0 08:00", "day 32 08:00",
    "monday 25:00", "0 7 * * *", "last 08:00",
])  # fmt: skip
def test_what_is_no_moment(text):
    with pytest.raises(ScheduleError):
        moment_of(text)


RUN = TEXT.replace("collect:\n", """run:
  at: [weekdays 07:30, last day 18:00]
  zone: Europe/London
  at_once: 2
  parameters:
    period: {type: text, default: "2026-11", help: the month that is closed}
    limit: {type: money, default: 500 GBP}
collect:
""", 1)  # fmt: skip


def test_a_schedule_and_parameters_in_a_file():
    definition = load(RUN.replace("risk > 10 %", "gross_total > run.limit or risk > 10 %"))
    assert definition.run.schedule.zone == "Europe/London"
    assert [each.day for each in definition.run.schedule.at] == [0, 31]
    assert definition.run.at_once == 2
    assert values_of_texts(definition.run.parameters, {"limit": "9 GBP"}) == {
        "run.limit": Money.of("9", "GBP"),
    }  # fmt: skip


@pytest.mark.parametrize(("old", "new", "said"), [
    ("weekdays 07:30", "weekdays 7:30", "is no moment"),
    ("Europe/London", "Europe/Lundon", "is no time zone"),
    ("at_once: 2", "at_once: 0", "from 1 to 100"),
    ("  zone:", "  every: 5 minutes\n  zone:", "not both"),
    ("  zone:", "  ends: day\n  zone:", "by the clock ends when"),
    ("type: money, default: 500 GBP", "type: money, default: 500", "is no money"),
    ("type: money, default: 500 GBP", "type: money", "limit needs a default"),
    ("type: money, default: 500 GBP", "type: choice, default: a", "a choice needs it"),
    ("period: {", "number: {", "a name that every run has"),
    ("period: {", "Period: {", "small letters"),
    ("risk > 10 %", "run.limt > 5 GBP", "unknown name 'run.limt'"),
    ("risk > 10 %", "run.posted > 5", "no value yet"),
])  # fmt: skip
def test_slips_are_told(old, new, said):
    assert old in RUN
    assert any(said in each.message for each in problems(RUN.replace(old, new, 1)))


SUMMARY = RUN.replace("tell:\n", """tell:
  - on: end of run
    when: run.failed > 0 or run.with_people > 3
    mail: {to: =run.period, template: run-summary}
  - on: end of run
    chat: {channel: ap, text: "{{ pipeline }} {{ run.period }}: {{ run.posted }}"}
""")  # fmt: skip


def test_at_the_end_of_a_run_its_counts_are_known():
    assert [tell.on for tell in load(SUMMARY).tell] == ["end of run", "end of run", "posted"]
    (problem,) = problems(SUMMARY.replace("{{ run.posted }}", "{{ number }}"))
    assert "'number' has no value yet" in problem.message
    (problem,) = problems(SUMMARY.replace("template: run-summary", "template: posted"))
    assert "speaks of what is not known yet" in problem.message


def test_what_changes_when_it_runs_is_told_by_meaning():
    found = [str(each) for each in differences(load(TEXT), load(RUN))]
    assert found[0] == (
        "run: all the time, a run ends with day -> 1, 2, 3, 4, 5 07:30, day 31 18:00 Europe/London"
    )
    assert "run.parameters.limit: nothing -> money, default 500 GBP" in found


PARAMETERS = (
    Parameter(name="period", type="text"), Parameter(name="size", type="number", default="3"),
    Parameter(name="kind", type="choice", choices=("a", "b"), default="a"),
    Parameter(name="day", type="date", default="2026-03-31"),
)  # fmt: skip


@pytest.mark.parametrize(("said", "wrong"), [
    ({}, "say period"), ({"period": "x", "knd": "a"}, "did you mean kind"),
    ({"period": "x", "kind": "c"}, "one of a, b"), ({"period": "x", "size": "big"}, "no number"),
    ({"period": "x", "day": "31.3."}, "no date"), ({"period": "x\ny"}, "one line"),
    ({"period": "x", "size": "gross_total"}, "no number"), ({"period": ""}, "one line"),
])  # fmt: skip
def test_what_cannot_be_said_is_told(said, wrong):
    with pytest.raises(ParameterError, match=wrong):
        texts_of(PARAMETERS, said)


def test_what_is_said_and_defaults_hold():
    assert texts_of(PARAMETERS, {"period": "2026-11", "size": "4"}) == {
        "period": "2026-11", "size": "4", "kind": "a", "day": "2026-03-31",
    }  # fmt: skip


def test_a_pipeline_that_says_nothing_runs_all_the_time():
    run = examine(TEXT).definition.run
    assert (run.schedule, run.ends, run.at_once, run.parameters) == (None, "day", 0, ())
