"""How fast the console is, measured in Chromium: for `bin/bench console` and its test."""

import gzip
import statistics
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

import psycopg
from playwright.sync_api import Page

from demo.console import BUILD
from demo.stack import Stack

PLACES = (
    "/", "/desk", "/documents", "/mail", "/pipelines", "/vendors", "/orders", "/trail",
    "/connections", "/people",
)  # fmt: skip
MANY = 10_000
# A row of a document that ended long ago, with a number that sorts before all others.
FILL = """
insert into documents_document (
    file_id, position, pipeline_version_id, version, state, queue, reasons, findings,
    end_reason, failed_at_state, hold_reason, touched, kind, number, number_key, issue_date,
    seller_name, currency, net_total, gross_total, received_at, state_at, ended_at,
    number_bare, chosen, letter_out, delivery_note, period, preceding_key, credits, evidence,
    coding, by_hand)
select f.id, 1000 + n, f.pipeline_version_id, 1, 'discarded', '', '[]', '[]',
    'made up to measure lists', '', '', true, 'invoice', 'MANY-' || n, 'MANY-' || n,
    date '2020-01-01' + mod(n, 300), 'Many Documents Ltd', 'GBP', n, n * 1.2,
    now() - interval '1000 days', now() - interval '1000 days', now() - interval '1000 days',
    'MANY' || n, '{}', false, '', '', '', '', '{}', '[]', '{}'
from (select id, pipeline_version_id from documents_file order by id limit 1) f,
    generate_series(1, %s) n
"""
OBSERVE_SHIFTS = """
window.shifted = 0;
new PerformanceObserver((list) => {
  for (const entry of list.getEntries()) if (!entry.hadRecentInput) window.shifted += entry.value;
}).observe({type: "layout-shift", buffered: true});
"""
# From the click on a row until the page's picture is there and drawn.
CLICK_TO_PICTURE = """(href) => new Promise((done, fail) => {
  const began = performance.now();
  const look = () => {
    const picture = document.querySelector("[data-page-picture]");
    if (location.pathname === href && picture?.complete && picture.naturalWidth > 0) {
      requestAnimationFrame(() => done(performance.now() - began));
    } else if (performance.now() - began > 10_000) {
      const why = !picture ? "none asked for" : picture.complete ? "an empty one" : "on its way";
      const said = document.body.innerText.slice(0, 400);
      fail(`no picture at ${href} after 10 s (${why}); the page says: ${said}`);
    } else requestAnimationFrame(look);
  };
  document.querySelector(`a[href="${href}"]`).click();
  look();
})"""
# Scrolls by whole rows, frame by frame, and notes how long each frame took.
SCROLL = """(frames) => new Promise((done) => {
  const box = document.querySelector("[role=table][aria-label=Documents]");
  const times = [];
  let last = performance.now();
  const step = () => {
    const now = performance.now();
    times.push(now - last);
    last = now;
    box.scrollTop += 400;
    if (times.length < frames) requestAnimationFrame(step);
    else done({times: times.slice(1), rows: document.querySelectorAll("[role=row]").length,
               blank: !box.querySelector("[data-at]")});
  };
  requestAnimationFrame(step);
})"""


@dataclass(frozen=True, kw_only=True)
class Scrolled:
    """Frames while a long list is scrolled.

    Attributes:
        median, worst: milliseconds of a frame.
        slow: share of frames of more than 50 ms.
        rows: drawn at the end, of all that are in the list.
        reached: rows scrolled past.
    """

    median: float
    worst: float
    slow: float
    rows: int
    reached: int


@contextmanager
def many_documents(stack: Stack, count: int = MANY) -> Iterator[None]:
    """Made-up documents that ended long ago, taken out again afterwards."""
    with psycopg.connect(stack.postgres.url("veridox"), autocommit=True) as database:
        database.execute(FILL, [count])
        try:
            yield
        finally:
            database.execute("delete from documents_document where number like 'MANY-%'")


def first_view(page: Page, url: str) -> float:
    """Seconds until Today shows its numbers, nothing being in the browser's store."""
    began = time.perf_counter()
    page.goto(url, wait_until="commit")
    page.get_by_role("heading", name="Came in").wait_for()
    return time.perf_counter() - began


def desk_pictures(page: Page, url: str, most: int = 50) -> list[float]:
    """Seconds from a click in the desk's list to the first page's picture, for `most` documents."""
    page.goto(f"{url}/desk")
    page.get_by_role("table").wait_for()
    links = "[...document.querySelectorAll('[data-at] a')].map((a) => a.getAttribute('href'))"
    seconds = []
    for href in page.evaluate(links)[:most]:
        page.goto(f"{url}/desk")
        page.locator(f'a[href="{href}"]').wait_for()
        pages = page.evaluate(
            f"fetch('/api/v1/documents/{href.split('/')[-1]}')"
            ".then((answer) => answer.json()).then((found) => found.pages.length)"
        )
        if pages:
            page.wait_for_timeout(500)  # nobody clicks in the frame in which a list appears
            seconds.append(page.evaluate(CLICK_TO_PICTURE, href) / 1000)
    return seconds


def first_load(page: Page, url: str) -> dict[str, int]:
    """Bytes of scripts and styles that the first view needs, compressed, by name."""
    page.goto(url)
    page.get_by_role("heading", name="Came in").wait_for()
    names = page.evaluate("performance.getEntriesByType('resource').map((entry) => entry.name)")
    sizes = {}
    for name in names:
        path = BUILD / name.partition("/static/console/")[2]
        if path.suffix in (".js", ".css") and path.is_file():
            sizes[path.name] = len(gzip.compress(path.read_bytes()))
    return sizes


def shifts(page: Page, url: str) -> dict[str, float]:
    """Cumulative layout shift of each place, and of the work screen."""
    found = {}
    page.goto(f"{url}/desk")
    page.wait_for_load_state("networkidle")
    work = page.locator("[data-at] a").first
    places = [*PLACES, work.get_attribute("href")] if work.count() else list(PLACES)
    page.add_init_script(OBSERVE_SHIFTS)
    for place in places:
        page.goto(f"{url}{place}")
        page.wait_for_load_state("networkidle")
        page.wait_for_timeout(200)
        found[str(place)] = float(page.evaluate("window.shifted"))
    return found


def scrolled(page: Page, url: str) -> Scrolled:
    """Scroll through the list of all documents for 200 frames, pages being fetched on the way."""
    page.goto(f"{url}/documents")
    page.get_by_role("table").wait_for()
    seen = page.evaluate(SCROLL, 200)
    times = seen["times"]
    return Scrolled(
        median=statistics.median(times),
        worst=max(times),
        slow=sum(1 for each in times if each > 50) / len(times),
        rows=seen["rows"],
        reached=int(page.evaluate("document.querySelector('[role=table]').scrollTop / 40")),
    )
