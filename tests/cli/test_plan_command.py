"""``plan``: text, JSON, table, calendar and paper; exit code when the day cannot be met; what a calendar program reads of it."""

from __future__ import annotations

import csv
import datetime
import json
import re
from pathlib import Path

import msgspec
import pytest
from pypdf import PdfReader

from stoutlink.cli.main import main
from stoutlink.core.document.build_plan import BuildPlan, OwnTask, TaskChange
from stoutlink.core.document.project import Project
from stoutlink.core.reports.plan_results import plan_ics
from stoutlink.core.storage.files import write_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

DEMO = str(demo_file("basalt.stoutlink"))
STAMP = datetime.datetime(2026, 3, 1, 12, 0, 0, tzinfo=datetime.UTC)


def unfolded(data: bytes) -> list[str]:
    """Lines of a calendar as RFC 5545, 3.1 puts them together again."""
    text = data.decode()
    assert "\n" not in text.replace("\r\n", "")
    return text.replace("\r\n ", "").split("\r\n")[:-1]


def events(data: bytes) -> list[dict[str, str]]:
    out: list[dict[str, str]] = []
    for line in unfolded(data):
        name, _, value = line.partition(":")
        if line == "BEGIN:VEVENT":
            out.append({})
        elif out and name != "END":
            out[-1][name] = value
    return out


def test_json_is_the_studys_plan(basalt: Project, capsys: pytest.CaptureFixture[str]) -> None:
    code = main(["plan", DEMO, "--json"])
    data = json.loads(capsys.readouterr().out)
    study = Study(basalt)
    study.cycle()
    sheet = study.plan_sheet()
    assert sheet is not None
    assert sheet.end_day is not None
    assert data["drives"] == sheet.end_day.isoformat()
    assert [t["key"] for t in data["tasks"]] == [r.task.key for r in sheet.rows]
    assert data["chain"] == list(sheet.chain)
    assert code == (1 if (sheet.late_days or 0) > 0 else 0)


def test_exit_code_and_words_when_the_day_cannot_be_met(basalt: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:  # fmt: skip
    for wanted, code in (("2027-06-01", 0), (basalt.build.begin, 1)):
        p = msgspec.structs.replace(basalt, build=msgspec.structs.replace(basalt.build, wanted=wanted))
        write_project(p, tmp_path / "x.stoutlink")
        assert main(["plan", str(tmp_path / "x.stoutlink")]) == code
        said = capsys.readouterr().out.splitlines()[0]
        assert ("after the day wanted" in said) == (code == 1)
    assert main(["plan", str(tmp_path / "x.stoutlink"), "--today", "2026-13-01"]) == 2
    assert "F151" in capsys.readouterr().err


def test_without_a_first_day_tasks_are_listed_and_no_file_is_written(basalt: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:  # fmt: skip
    write_project(msgspec.structs.replace(basalt, build=BuildPlan()), tmp_path / "x.stoutlink")
    assert main(["plan", str(tmp_path / "x.stoutlink")]) == 0
    assert "Gears set up" in capsys.readouterr().out
    assert main(["plan", str(tmp_path / "x.stoutlink"), "--ics", str(tmp_path / "p.ics")]) == 2
    assert "F152" in capsys.readouterr().err
    assert not (tmp_path / "p.ics").exists()


def test_the_calendar_is_one_and_its_ids_stay(basalt: Project) -> None:
    """Structure, folding and escapes of RFC 5545 read back by its own rules; the same ids whatever moves."""
    sheet = Study(basalt).plan_sheet()
    assert sheet is not None
    data = plan_ics(sheet, "A, rig; of\\two", STAMP)
    assert all(len(line) <= 75 for line in data.split(b"\r\n"))
    lines = unfolded(data)
    assert lines[0] == "BEGIN:VCALENDAR"
    assert lines[-1] == "END:VCALENDAR"
    assert "X-WR-CALNAME:A\\, rig\\; of\\\\two" in lines
    found = events(data)
    left = [r for r in sheet.rows if r.begin is not None and not r.over]
    assert len(found) == len(left)
    for one, row in zip(found, left, strict=True):
        assert re.fullmatch(r"\d{8}T\d{6}", one["DTSTART"])
        assert one["DTSTART"] <= one["DTEND"]
        assert one["SUMMARY"].replace("\\,", ",").replace("\\;", ";") == row.task.title
    later = msgspec.structs.replace(basalt, build=msgspec.structs.replace(basalt.build, begin="2026-10-05"))
    other = Study(later).plan_sheet()
    assert other is not None
    again = events(plan_ics(other, "A, rig; of\\two", STAMP))
    assert {e["UID"] for e in again} == {e["UID"] for e in found}
    assert {e["DTSTART"] for e in again} != {e["DTSTART"] for e in found}


def test_names_that_would_break_a_calendar_or_a_table_do_not(basalt: Project, tmp_path: Path) -> None:
    own = OwnTask(id="own-9", title='=cmd|x, "a"; END:VEVENT')
    build = msgspec.structs.replace(basalt.build, own=(own,), changes=(TaskChange(id="own-9"),))
    write_project(msgspec.structs.replace(basalt, build=build), tmp_path / "x.stoutlink")
    main(["plan", str(tmp_path / "x.stoutlink"), "--ics", str(tmp_path / "p.ics"), "--csv", str(tmp_path / "p.csv")])
    data = (tmp_path / "p.ics").read_bytes()
    assert data.count(b"BEGIN:VEVENT") == sum(line == "END:VEVENT" for line in unfolded(data))
    rows = list(csv.reader((tmp_path / "p.csv").read_text(encoding="utf-8").splitlines()))
    assert not any(c.startswith("=") for row in rows for c in row)


def test_the_wall_sheet_opens_again(basalt: Project, tmp_path: Path) -> None:
    main(["plan", DEMO, "--pdf", str(tmp_path / "p.pdf"), "--paper", "Letter"])
    reader = PdfReader(tmp_path / "p.pdf")
    words = " ".join(" ".join(page.extract_text().split()) for page in reader.pages)
    sheet = Study(basalt).plan_sheet()
    assert sheet is not None
    for row in sheet.rows:
        if row.begin is not None:
            assert " ".join(row.task.title.split()[:2]) in words


@pytest.mark.parametrize("day", ["9999-12-31", "0001-01-01", "1999-12-31"])
@pytest.mark.parametrize("command", ["plan", "parts-list", "log"])
def test_a_year_nobody_means_is_refused(command: str, day: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main([command, str(demo_file("basalt.stoutlink")), "--today", day]) == 2
    said = capsys.readouterr().err
    assert f"--today {day} cannot be meant." in said
    assert "a year from 2000 to 2200" in said
