"""The wheel in a clean environment, as somebody else installs it."""

import subprocess
import sys
import zipfile

import pytest

from demo import bills
from demo.console import build_console
from demo.drawing import LAYOUTS


@pytest.fixture(scope="module")
def wheel(tmp_path_factory):
    build_console(print)
    out = tmp_path_factory.mktemp("dist")
    subprocess.run(
        [sys.executable, "-m", "build", "--wheel", "--no-isolation", "--outdir", str(out), "."],
        check=True, capture_output=True,
    )  # fmt: skip
    (found,) = out.glob("*.whl")
    return found


@pytest.fixture(scope="module")
def clean(tmp_path_factory):
    """A new environment with nothing in it; the pip that is there fills it."""
    folder = tmp_path_factory.mktemp("clean") / "env"
    subprocess.run([sys.executable, "-m", "venv", "--without-pip", str(folder)], check=True)
    return folder


def install(folder, what):
    subprocess.run(
        [sys.executable, "-m", "pip", "--python", str(folder / "bin/python"), "install", "-q", what,
         "--no-compile", "--disable-pip-version-check"], check=True, capture_output=True,
    )  # fmt: skip
    return folder / "bin"


def test_the_wheel_holds_data_texts_migrations_and_the_console(wheel):
    names = set(zipfile.ZipFile(wheel).namelist())
    for name in ("core/locales/data/labels.de.json", "core/pipeline/texts/posted.txt",
                 "core/pipeline/file/start.pipeline.yaml", "testing/kit.py", "plugins/__init__.py",
                 "service/trail/migrations/0002_append_only.py",
                 "service/console_build/index.html"):  # fmt: skip
        assert f"veridox/{name}" in names


def test_the_base_is_client_and_command_line_and_says_what_more_is_needed(wheel, clean):
    programs = install(clean, str(wheel))
    client = "import veridox.client, sys; sys.exit('django' in sys.modules)"
    subprocess.run([programs / "python", "-c", client], check=True)
    done = subprocess.run([programs / "veridox", "read", __file__], capture_output=True, text=True)
    assert done.returncode == 1
    assert "veridox[read]" in done.stderr


def test_with_the_extra_a_pdf_is_read_without_any_service(wheel, clean, tmp_path):
    programs = install(clean, f"{wheel}[read]")
    path = tmp_path / "krill.pdf"
    path.write_bytes(LAYOUTS["letterhead"](bills.KRILL))
    done = subprocess.run([programs / "veridox", "read", path], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    assert "1220.40 GBP" in done.stdout
    pipeline = tmp_path / "first.pipeline.yaml"
    for arguments in (
        ["new", "first", "--out", pipeline], ["check", pipeline], ["try", pipeline, "--file", path],
    ):  # fmt: skip
        done = subprocess.run(
            [programs / "veridox", "pipeline", *arguments], capture_output=True, text=True
        )
        assert done.returncode == 0, done.stdout + done.stderr
    assert "It would be: at desk" in done.stdout  # nobody is known here
