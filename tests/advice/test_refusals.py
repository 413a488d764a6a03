"""Every refusal by its smallest input: the code it comes with, and that it is one sentence that shows what was wrong."""

from __future__ import annotations

import contextlib
import copy
import io
import json
import math
import os
from collections.abc import Callable
from pathlib import Path
from typing import Any

import msgspec
import numpy as np
import pytest

from stoutlink.cli.main import main
from stoutlink.core.analysis.cycle.steer_holes import best_holes
from stoutlink.core.analysis.linkage.hole_map import hole_map
from stoutlink.core.analysis.linkage.many_layouts import Setting
from stoutlink.core.analysis.search.question import ask
from stoutlink.core.codes import codes
from stoutlink.core.document.bracket import Bracket
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.search import PivotBox, Search, Want
from stoutlink.core.document.steering import Holes
from stoutlink.core.editing.edits import MovePivot, SetChoice, SetNumber, SetSource
from stoutlink.core.editing.layout_edits import CopyLayout, FitHoles, LockLength, UseLayout
from stoutlink.core.editing.spring_edits import TakeOffer
from stoutlink.core.editing.steering_edits import FitSteeringHoles
from stoutlink.core.errors import StoutError
from stoutlink.core.instruments.port import Port
from stoutlink.core.instruments.protocol import line_of, parse_line
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.quantity.date_text import parse_date
from stoutlink.core.quantity.duration_text import parse_duration
from stoutlink.core.quantity.length_text import parse_length
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.donor_table import read_donor_file, read_donors
from stoutlink.core.storage.dxf_outline import read_outlines
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.core.storage.recovery import Recovery
from stoutlink.core.storage.spring_table import read_springs
from stoutlink.core.storage.survey_table import read_survey, read_survey_file
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

RAW: dict[str, Any] = json.loads(demo_file("basalt.stoutlink").read_bytes())
Act = Callable[[Project, Path], object]


def raw(change: Callable[[dict[str, Any]], object]) -> Act:
    """Opening the demo with something changed in its file."""

    def act(project: Project, folder: Path) -> object:
        data = copy.deepcopy(RAW)
        change(data)
        return decode_project(json.dumps(data).encode())

    return act


def put(path: str, value: Any) -> Act:
    """Opening the demo with another value at a path (lists by number)."""

    def change(data: dict[str, Any]) -> None:
        here: Any = data
        *way, last = path.split(".")
        for part in way:
            here = here[int(part)] if part.isdigit() else here[part]
        here[int(last) if last.isdigit() else last] = value

    return raw(change)


def text(data: bytes) -> Act:
    return lambda project, folder: decode_project(data)


def cli(*words: str) -> Act:
    """A command that refuses; its sentence is raised again, to be looked at like the others."""

    def act(project: Project, folder: Path) -> object:
        args = [w.replace("DEMO", str(demo_file("basalt.stoutlink"))).replace("FOLDER", str(folder)) for w in words]
        with contextlib.redirect_stderr(io.StringIO()) as stream, contextlib.redirect_stdout(io.StringIO()):
            assert main(args) == 2
        said = stream.getvalue()
        code, _, sentence = said.removeprefix("stout-link: ").partition(" ")
        raise StoutError(code, sentence.strip())

    return act


def file_of(name: str, data: bytes, read: Callable[[Path], object]) -> Act:
    def act(project: Project, folder: Path) -> object:
        (folder / name).write_bytes(data)
        return read(folder / name)

    return act


def edit(make: Callable[[Project], Any]) -> Act:
    return lambda project, folder: make(project).apply(project)


def search(*boxes: PivotBox, wants: tuple[Want, ...] = (Want(id="drive", low=80.0, high=120.0),)) -> Act:
    def act(project: Project, folder: Path) -> object:
        layout = project.layout("rear")
        assert layout is not None
        setting = Setting.of(project, Study(project).true.rig, layout)
        return ask(setting, Search(id="rear", boxes=boxes, wants=wants))

    return act


def box(name: str, low: float = 0.0, high: float = 1.0) -> PivotBox:
    return PivotBox(id=name, low_m=(low, 0.1, 0.3), high_m=(high, 0.6, 0.9))


def _merge(name: str | None) -> Act:
    def act(project: Project, folder: Path) -> object:
        first, second = project.tape.surveys[0], project.tape.surveys[1]
        points = tuple(msgspec.structs.replace(p, name="" if name is None else name) for p in second.points)
        if name is not None:
            named = tuple(msgspec.structs.replace(p, name=name) for p in first.points)
            first = msgspec.structs.replace(first, points=named)
        changed = with_parts(project, surveys=(first, msgspec.structs.replace(second, points=points)))
        return Study(changed).merged(second.id)

    return act


def _too_far(project: Project, folder: Path) -> object:
    kept = LockLength("rear-a", "lower_left", True).apply(project)
    x, y, _ = next(k for k in RAW["layouts"][0]["links"] if k["id"] == "lower_left")["frame_pivot_m"]
    return MovePivot("rear-a", "lower_left", "frame", (x, y, 3.5), texts=("", "", "137 3/4")).apply(kept)


def _holes(count: int) -> Act:
    """The hole map of a layout with this many rows of twelve holes."""

    def act(project: Project, folder: Path) -> object:
        layout = project.layout("rear")
        assert layout is not None
        rows = [Bracket(id=f"b{n}", name=f"Row {n}", link="lower_left", end="frame", holes=12) for n in range(count)]
        layout = msgspec.structs.replace(layout, brackets=tuple(rows))
        return hole_map(Study(project).true.rig, layout, project.linkage.joints, project.settings)

    return act


def _steering_holes(project: Project, folder: Path) -> object:
    """12 × 12 holes in the arms, and 12 × 12 in the panhard's brackets: 20,736."""
    layout = project.layout("front")
    assert layout is not None
    assert layout.steering is not None
    row = Holes(holes=12, hole=1)
    bar = next(link.id for link in layout.links if link.role == "panhard")
    brackets = tuple(Bracket(id=end, name=end, link=bar, end=end, holes=12) for end in ("frame", "axle"))
    steering = msgspec.structs.replace(layout.steering, pitman_holes=row, knuckle_holes=row)
    layout = msgspec.structs.replace(layout, steering=steering, brackets=brackets)
    return best_holes(Study(project).true.rig, layout, project.linkage.joints, 0.1, 0.1)


def _large(path: Path) -> Path:
    path.touch()
    os.truncate(path, 64 * 1024 * 1024 + 1)
    return path


def _linked(folder: Path) -> Path:
    (folder / "link").symlink_to(folder)
    return folder / "link"


def _keep_in(folder: Path, project: Project) -> None:
    Recovery(folder).keep(project, None)


def _no_donors(project: Project, folder: Path) -> object:
    bare = with_parts(project, donors=(), front_donor=None, rear_donor=None)
    write_project(bare, folder / "bare.stoutlink")
    return cli("rank", "FOLDER/bare.stoutlink")(project, folder)


def _wrong_angle(project: Project, folder: Path) -> object:
    table = read_survey("name,station_in,angle_deg\nhump,12,inf rad\n")
    raise StoutError("Q105", table.problems[0])


L0, K0 = "layouts.0", "layouts.0.links.0"
BARS = (np.zeros(3), np.array([[1.0, 0.3, 0.5], [1.0, -0.3, 0.5]]), np.array([[0.0, 0.3, 0.5], [0.0, -0.3, 0.5]]))
DXF = b"0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n%d\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF\n"


def _donor_head() -> str:
    return demo_file("donors.csv").read_text(encoding="utf-8").splitlines()[0]


def _read_survey(path: Path) -> object:
    return read_survey_file(path, "in", "s")


CASES: dict[str, Act] = {
    "C101": lambda p, f: read_donors("name,end\nA,rear\n"),
    "C102": lambda p, f: read_donors(_donor_head() + ",colour\n"),
    "C103": lambda p, f: read_donors(_donor_head() + '\n"a"b\n'),
    "C104": lambda p, f: read_donor_file(f / "none.csv"),
    "C105": file_of("a.csv", b"\xff\xfe\x00", _read_survey),
    "C110": lambda p, f: read_survey("# survey,x\n"),
    "C111": lambda p, f: read_survey('name,station_in\n"a"b,1\n'),
    "C112": lambda p, f: read_survey("# zero_x_m,900\nname,station_in\n"),
    "C113": lambda p, f: read_survey("name,station_in,colour\n"),
    "C114": lambda p, f: read_survey("name,station_in,station_mm\n"),
    "C115": lambda p, f: read_survey("name,height_in\n"),
    "C301": lambda p, f: read_springs("name,free_in\nA,14\n"),
    "C302": lambda p, f: read_springs("name,rate_lb_per_in,free_in,colour\nA,150,14,red\n"),
    "C303": lambda p, f: read_springs('name,rate_lb_per_in,free_in\n"a"b,150,14\n'),
    "D101": put("rear_donor", "nobody"),
    "D102": raw(lambda d: d.update(rear_donor=d["front_donor"])),
    "D103": put("rig.cg_ahead_of_rear_m", 7.0),
    "D104": raw(lambda d: (d["rig"]["front"].update(unsprung_mass_kg=2999.0), d["rig"]["rear"].update(unsprung_mass_kg=2999.0))),
    "D105": raw(
        lambda d: (
            d["rig"].update(cg_height_m=0.3),
            d["rig"]["front"].update(unsprung_mass_kg=700.0),
            d["rig"]["rear"].update(unsprung_mass_kg=700.0),
        )
    ),
    "D106": put("rig.front.loaded_radius_m", 0.16),
    "D107": put("joints.0.thread_pitch_m", None),
    "D108": raw(lambda d: d["joints"][0].update(shank_m=0.01, neck_m=0.02)),
    "D109": put(f"{K0}.tube_wall_m", 0.09),
    "D110": put(f"{K0}.frame_end.joint", "nothing"),
    "D111": raw(lambda d: d["layouts"][0]["links"][0].update(axle_pivot_m=d["layouts"][0]["links"][0]["frame_pivot_m"])),
    "D112": raw(lambda d: d["joints"].append(d["joints"][0])),
    "D113": raw(lambda d: d["layouts"][0]["links"][1].update({k: d["layouts"][0]["links"][0][k] for k in ("frame_pivot_m", "axle_pivot_m")})),
    "D114": raw(lambda d: d["rig"]["front"].update(tyre_free_radius_m=None, tyre_text="big ones")),
    "D115": put("rig.uses", {"rock": 0.0, "trail": 0.0, "road": 0.0, "tow": 0.0}),
    "D116": put("rig.drivetrain.torque_curve", [{"rpm": 2000.0, "torque_nm": 300.0}, {"rpm": 1000.0, "torque_nm": 200.0}]),
    "D117": raw(lambda d: _solid(d, "box").update(high_m=_solid(d, "box")["low_m"])),
    "D118": raw(lambda d: _solid(d, "tube").update(path_m=[[0.0, 0.0, 0.5]] * 2)),
    "D119": raw(lambda d: d["solids"].append({"shape": "outline", "id": "flat", "name": "Flat", "kind": "other", "view": "side", "outline_m": [[0, 0], [1, 0], [0, 1]], "low_m": 0.1, "high_m": 0.1})),
    "D120": edit(lambda p: SetNumber("rig.wheelbase_m", 99.0)),
    "D121": edit(lambda p: SetNumber("rig.wheelbase_m", None)),
    "D122": edit(lambda p: SetChoice("settings.units", "furlong", "units")),
    "D123": edit(lambda p: UseLayout("gone", None)),
    "D124": edit(lambda p: LockLength("rear-a", "gone", True)),
    "D187": edit(lambda p: SetChoice("layouts.gone.name", "x")),
    "D125": edit(lambda p: SetSource("rig.wheelbase_m", "measured", -1.0)),
    "D128": raw(lambda d: d["donors"][0].update(tube_od_m=0.07, tube_wall_m=0.04)),
    "D129": edit(lambda p: SetNumber("donors.gs-30f.spline_teeth", 30.5)),
    "D130": put("targets", [{"id": "rear-drive", "low": 90.0, "high": 80.0}]),
    "D131": raw(lambda d: d["layouts"][0].update(links=[], brackets=[])),
    "D132": put(f"{L0}.kind", "leaf"),
    "D133": raw(lambda d: d["layouts"][0].update(steering=d["layouts"][1]["steering"])),
    "D134": put(f"{L0}.brackets.0.link", "gone"),
    "D135": put(f"{L0}.brackets.0.hole", 9),
    "D136": raw(lambda d: d["layouts"][0]["brackets"][0].update(pattern="fan", radius_m=None, holes=5, hole=1)),
    "D137": raw(lambda d: d["layouts"][0]["brackets"].append({**d["layouts"][0]["brackets"][0], "id": "second"})),
    "D138": _too_far,
    "D139": edit(lambda p: FitHoles("rear-a", (("gone", 1),))),
    "D140": raw(lambda d: d["layouts"][0]["driveshaft"].update(tube_od_m=0.03, tube_wall_m=0.02)),
    "D141": raw(lambda d: d["layouts"][0]["shock"].update(extended_m=0.2, collapsed_m=0.3)),
    "D142": put(f"{L0}.shock", None),
    "D143": raw(lambda d: d["layouts"][0]["spring"].update(kind="coil")),
    "D144": put(f"{L0}.air", {"frame_m": [0, 0.4, 0.9], "axle_m": [0, 0.4, 0.5], "diameter_m": 0.12, "volume_m3": 0.004}),
    "D145": put(f"{L0}.anti_roll_bar", {"od_m": 0.02, "bore_m": 0.02, "length_m": 0.8, "arm_m": 0.3, "spread_m": 0.8}),
    "D146": put("layouts.1.steering.kingpin_m", [2.66, 0.01, 0.47]),
    "D147": raw(lambda d: d["layouts"][1]["steering"]["tie_rod"].update(end_m=[2.86, 0.67, 0.44])),
    "D148": raw(lambda d: d["layouts"][1]["steering"].update(drag_on="tie_rod", tie_rod=None)),
    "D149": raw(lambda d: d["layouts"][1]["steering"]["knuckle_holes"].update(hole=7)),
    "D150": edit(lambda p: TakeOffer("rear-a", "gone")),
    "D151": raw(lambda d: d["layouts"][1]["steering"].update(knuckle_m=d["layouts"][1]["steering"]["pitman_m"])),
    "D152": raw(lambda d: d["layouts"][1]["steering"].update(sector_m=d["layouts"][1]["steering"]["pitman_m"])),
    "D153": raw(lambda d: d["layouts"][1]["steering"].update(knuckle_m=d["layouts"][1]["steering"]["kingpin_m"])),
    "D154": lambda p, f: FitSteeringHoles("front-a", 1, 1).apply(SetChoice("layouts.front-a.steering", None).apply(p)),
    "F101": lambda p, f: read_project(_large(f / "big")),
    "F102": text(b"  \n"),
    "F103": text(b"\xff\xfe\x00"),
    "F104": text(b'{"format": "stout-link-pro'),
    "F105": text(b'{"format": "a", "format": "b"}'),
    "F106": text(b"[" * 100_000),
    "F107": text(b"[1, 2]"),
    "F108": text(b'{"format": "stout-link-project", "version": 5, "name": NaN}'),
    "F109": put("format", "something else"),
    "F110": put("version", "two"),
    "F111": lambda p, f: encode_project(msgspec.structs.replace(p, rig=msgspec.structs.replace(p.rig, wheelbase_m=math.nan))),
    "F112": put("version", 99),
    "F113": raw(lambda d: d["rig"].pop("wheelbase_m")),
    "F114": put("rig.colour", "red"),
    "F115": put("rig.wheelbase_m", 99.0),
    "F120": lambda p, f: read_project(f),
    "F121": lambda p, f: read_project(f / "none.stoutlink"),
    "F122": lambda p, f: write_project(p, f / "no such folder" / "a.stoutlink"),
    "F123": lambda p, f: write_project(msgspec.structs.replace(p, name=""), f / "a.stoutlink"),
    "F124": lambda p, f: _keep_in(_linked(f), p),
    "F130": cli("analyze", "DEMO", "--pose", "5000", "0"),
    "F131": cli("export", "DEMO"),
    "F132": cli("export", "DEMO", "--survey", "gone", "FOLDER/a.csv"),
    "F133": _no_donors,
    "F136": cli("import", "DEMO"),
    "F137": cli("new", "DEMO"),
    "F138": cli("new", "FOLDER/n.stoutlink", "--name", ""),
    "F139": cli("export", "DEMO", "--drawing", "middle", "side", "FOLDER/a.pdf"),
    "F145": cli("export", "DEMO", "--drawing", "rear", "below", "FOLDER/a.pdf"),
    "F141": file_of("a.dxf", b"no drawing", read_outlines),
    "F142": file_of("a.dxf", DXF % 20, read_outlines),
    "F143": file_of("a.dxf", DXF % 4, read_outlines),
    "G100": lambda p, f: Bars.of(BARS[0], BARS[1], BARS[2][:, :2]),
    "G101": lambda p, f: Bars.of(BARS[0], BARS[1] * np.nan, BARS[2]),
    "G102": lambda p, f: Bars.of(BARS[0], BARS[1], BARS[1]),
    "I101": lambda p, f: parse_line(b"R FL 512.400 kg S*00\n"),
    "I102": lambda p, f: parse_line(line_of("W what")),
    "I110": lambda p, f: Port(str(f / "none")),
    "L201": _holes(0),
    "L202": _holes(6),
    "L203": _steering_holes,
    "L211": search(box("gone:frame")),
    "L212": search(box("upper_left:frame"), box("upper_right:frame")),
    "L213": search(box("upper_left:frame", 1.0, 0.0)),
    "L214": search(box("upper_left:frame"), wants=(Want(id="drive", low=120.0, high=80.0),)),
    "L215": search(box("upper_left:frame"), wants=()),
    "L216": search(),
    "Q100": lambda p, f: parse_length(" ", "in"),
    "Q101": lambda p, f: parse_length("34,5,6", "in"),
    "Q102": lambda p, f: parse_length("4 5/4", "in"),
    "Q103": lambda p, f: parse_length("1/0", "in"),
    "Q104": lambda p, f: parse_length("1" * 61, "in"),
    "Q105": _wrong_angle,
    "Q110": lambda p, f: parse_duration("soon"),
    "Q111": lambda p, f: parse_date("30.2.2026"),
    "Q112": lambda p, f: parse_date("3/4/2026"),
    "S140": _merge(None),
    "S141": _merge("everywhere"),
}  # fmt: skip


def _solid(data: dict[str, Any], shape: str) -> dict[str, Any]:
    found: dict[str, Any] = next(s for s in data["solids"] if s["shape"] == shape)
    return found


@pytest.mark.parametrize("code", sorted(CASES))
def test_a_refusal_comes_with_its_code_in_one_sentence(code: str, basalt: Project, tmp_path: Path) -> None:
    with pytest.raises(StoutError) as caught:
        CASES[code](basalt, tmp_path)
    why = caught.value
    assert why.code == code, why
    assert why.sentence.strip().endswith((".", "?")), why.sentence
    assert "\n" not in why.sentence
    assert len(why.sentence) < 400
    assert "Traceback" not in why.sentence
    assert code in codes()


def test_no_layout_to_copy_twice(basalt: Project) -> None:
    copied = CopyLayout("rear-a", "rear-b", "Again").apply(basalt)
    with pytest.raises(StoutError, match="holds “rear-b” twice"):
        CopyLayout("rear-a", "rear-b", "Again").apply(copied)
