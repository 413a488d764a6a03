"""How many generated layout problems are solved, and how fast: ``python -m benchmarks.find [PROBLEMS]``."""

from __future__ import annotations

import sys
import time
from concurrent.futures import ProcessPoolExecutor

import numpy as np
from benchmarks.problems import problem

from stoutlink.core.analysis.search.find import find_layouts


def one(seed: int) -> tuple[int, float, float]:
    """Answers, seconds to the first, seconds in all."""
    setting, search = problem(seed)
    began = time.perf_counter()
    found = find_layouts(setting, search)
    return len(found.answers), found.first_after or float("nan"), time.perf_counter() - began


def main(count: int = 200) -> None:
    """Print shares and times."""
    with ProcessPoolExecutor(2) as pool:
        done = list(pool.map(one, range(count)))
    answers, first, whole = (np.array(v) for v in zip(*done, strict=True))
    solved = answers > 0
    print(f"find a layout            {solved.sum():6d} of {count} problems solved, {solved.mean():.1%}   (wanted 95 %)")
    print(
        f"  first answer           {np.nanmedian(first):6.2f} s median, {np.nanmax(first):.2f} s longest   (wanted 2)"
    )
    print(
        f"  all answers            {np.median(whole):6.2f} s median, {whole.max():.2f} s longest, {answers.mean():.1f} answers   (wanted 10)"
    )


if __name__ == "__main__":
    main(*(int(v) for v in sys.argv[1:2]))
