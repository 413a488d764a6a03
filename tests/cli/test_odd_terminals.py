"""The command line where its words cannot go: a full device, a closed pipe, a terminal without the signs."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import msgspec
import pytest

from stoutlink.cli import main as cli
from stoutlink.core.storage.files import read_project, read_stamped, write_project
from stoutlink.demo import demo_file

DEMO = str(demo_file("basalt.stoutlink"))
COMMAND = [sys.executable, "-m", "stoutlink.cli.main"]


@pytest.mark.parametrize("words", [["analyze"], ["analyze", "--json"], ["rank"], ["find", "--json"]])
def test_a_full_device(words: list[str]) -> None:
    with Path("/dev/full").open("w") as full:
        done = subprocess.run(
            [*COMMAND, words[0], DEMO, *words[1:]], stdout=full, stderr=subprocess.PIPE, text=True, check=False
        )
    assert done.returncode == 2
    assert done.stderr == "stout-link: The answer cannot be written: no space left on device.\n"


def test_a_reader_that_goes_away() -> None:
    with subprocess.Popen(
        [*COMMAND, "analyze", DEMO, "--json"], stdout=subprocess.PIPE, stderr=subprocess.PIPE
    ) as process:
        assert process.stdout is not None
        assert process.stderr is not None
        process.stdout.read(10)
        process.stdout.close()
        assert process.stderr.read() == b""
        assert process.wait() == 0


def test_a_terminal_without_the_signs(tmp_path: Path) -> None:
    """Degrees, primes and ± in the nearest ASCII has; any other sign is a question mark, never a traceback."""
    project = read_project(demo_file("basalt.stoutlink"))

    path = tmp_path / "odd.stoutlink"
    write_project(msgspec.structs.replace(project, name="Kröte 🛻"), path)
    env = {**os.environ, "PYTHONIOENCODING": "ascii", "LC_ALL": "C", "PYTHONUTF8": "0"}
    for words in (
        ["analyze", str(path)],
        ["check", str(path)],
        ["travel", str(path)],
        ["analyze", str(tmp_path / "ö")],
    ):
        done = subprocess.run([*COMMAND, *words], env=env, capture_output=True, check=False)
        assert b"Traceback" not in done.stderr
        done.stdout.decode("ascii")
        done.stderr.decode("ascii")
    done = subprocess.run([*COMMAND, "analyze", str(path)], env=env, capture_output=True, check=False)
    text = done.stdout.decode("ascii")
    assert text.startswith("Kr?te ?: Basalt\n")
    assert "+/- 93 lb" in text
    assert '34.2" +/- 3.1"' in text


def test_given_up_by_hand(tmp_path: Path) -> None:
    """Ctrl+C during a search: one sentence, the usual exit code, the file as it was."""
    path = tmp_path / "rig.stoutlink"
    write_project(read_project(demo_file("basalt.stoutlink")), path)
    before = path.read_bytes()
    code = (
        "import os, signal, sys, threading\n"
        "from stoutlink.cli import main as cli\n"
        "signal.signal(signal.SIGINT, signal.default_int_handler)\n"  # ignored where the tests run in the background
        "for after in (0.2, 1.2, 2.3, 3.4):\n"  # again where the first fell into a moment that lets none through
        "    one = threading.Timer(after, lambda: os.kill(os.getpid(), signal.SIGINT)); one.daemon = True; one.start()\n"
        "sys.exit(cli.main(sys.argv[1:]))\n"
    )
    words = [sys.executable, "-c", code, "find", str(path), "--take"]
    done = subprocess.run(words, capture_output=True, text=True, check=False)
    assert done.returncode == 130
    assert done.stderr == "stout-link: given up; nothing was written.\n"
    assert path.read_bytes() == before


@pytest.mark.parametrize("words", [["find", "FILE", "--take"], ["import", "FILE", "--donors", "DONORS"]])
def test_what_somebody_wrote_meanwhile_is_left_alone(
    tmp_path: Path, words: list[str], monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    """F126: a window saves while the command is at work."""
    path = tmp_path / "rig.stoutlink"
    project = read_project(demo_file("basalt.stoutlink"))
    write_project(project, path)
    theirs = msgspec.structs.replace(project, name="Saved meanwhile")

    def read(file: Path) -> object:
        found = read_stamped(file)
        write_project(theirs, path)
        return found

    monkeypatch.setattr("stoutlink.cli.main.read_stamped", read)
    args = [w.replace("FILE", str(path)).replace("DONORS", str(demo_file("donors.csv"))) for w in words]
    assert cli.main(args) == 2
    assert "was changed by somebody else meanwhile; nothing was written." in capsys.readouterr().err
    assert read_project(path) == theirs
