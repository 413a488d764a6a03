"""Numbers at the ends of their ranges, alone and many together: every answer is a number or none, nothing fails, and no number that
says nothing stands as a fact.
"""

from __future__ import annotations

import json
import random
import re
import traceback
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from stoutlink.core.document.headline import HEADLINES
from stoutlink.core.document.paths import field_info
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import SetNumber
from stoutlink.core.errors import StoutError
from stoutlink.core.reports.analysis_text import analysis_text
from stoutlink.core.reports.results import results
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file
from tests.walking import number_paths

MOST = 1e11
"""No result in SI is larger: twenty times what the strongest steel bears, in pascals."""
MANY_DIGITS = re.compile(r"\d{9,}|e\+\d\d|\b(?:nan|inf)\b", re.IGNORECASE)


@dataclass
class Tried:
    """What came of it."""

    projects: int = 0
    numbers: int = 0
    refused: int = 0
    faults: list[str] = field(default_factory=list)


def twisted(project: Project, rng: random.Random, out: Tried) -> tuple[Project, list[str]]:
    """A project with some numbers at or between the ends of their ranges, as far as each is taken."""
    paths = list(number_paths(project, empty=True))
    rng.shuffle(paths)
    wanted = rng.choice((1, 3, 8, 30))
    done: list[str] = []
    for path in paths:
        if len(done) >= wanted:
            break
        try:
            info = field_info(project, path)
        except KeyError:
            continue
        value = rng.choice((info.low, info.high, rng.uniform(info.low, info.high)))
        try:
            project = SetNumber(path, float(round(value) if info.whole else value)).apply(project)
        except StoutError:
            out.refused += 1
            continue
        done.append(f"{path} {value:g}")
    return project, done


def _numbers(value: Any, path: str = "") -> Iterator[tuple[str, float]]:
    if isinstance(value, dict):
        for key, one in value.items():
            yield from _numbers(one, f"{path}.{key}")
    elif isinstance(value, list | tuple):
        for one in value:
            yield from _numbers(one, f"{path}[]")
    elif isinstance(value, float):
        yield path, value


def _look(project: Project, out: Tried) -> list[str]:
    """What is wrong with the answers to a project."""
    study = Study(decode_project(encode_project(project)))
    data = results(study)
    json.dumps(data, allow_nan=False)
    wrong = []
    for path, value in _numbers(data):
        out.numbers += 1
        if abs(value) > MOST:
            wrong.append(f"{path} is {value:g}")
    found = MANY_DIGITS.search(analysis_text(study, data))
    if found:
        wrong.append(f"the text says {found[0]}")
    for axle in study.axles.values():
        for gauge in axle.gauges:
            if not HEADLINES[gauge.id].tells(gauge.value, gauge.sigma) and re.search(r"\d", gauge.text):
                wrong.append(f"{gauge.title}: {gauge.text} {gauge.sure}")
    return wrong


def try_absurd(seed: int, count: int) -> Tried:
    """So many twisted projects."""
    out = Tried()
    for n in range(count):
        rng = random.Random(f"absurd {seed} {n}")
        project, done = twisted(read_project(demo_file(f"{rng.choice(('basalt', 'tamarack'))}.stoutlink")), rng, out)
        try:
            wrong = _look(project, out)
        except Exception:
            wrong = [traceback.format_exc(limit=-5)]
        out.projects += 1
        out.faults += [f"seed {seed}, project {n} ({'; '.join(done[:4])}): {one}" for one in wrong]
    return out
