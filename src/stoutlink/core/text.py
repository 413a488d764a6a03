"""Text from anywhere made fit to be kept and shown: no half characters, no line ends inside a sentence."""

from __future__ import annotations

import re
from typing import Any

_HALVES = re.compile("[\ud800-\udfff]")
_CONTROLS = re.compile(r"[\x00-\x1f\x7f-\x9f\u2028\u2029\u202a-\u202e\u2066-\u2069]+")
LONGEST_SENTENCE = 300


def whole(text: str) -> str:
    """``text`` with every half of a character (a lone surrogate, which no file can hold) shown as one that is lost.

    >>> whole("a\\ud83db")
    'a\ufffdb'
    """
    return _HALVES.sub("\ufffd", text) if not text.isascii() else text


def whole_values(value: Any) -> Any:
    """Plain data with all its texts :func:`whole`; what needs nothing is handed back as it is."""
    if isinstance(value, str):
        return whole(value)
    if isinstance(value, dict):
        return {whole_values(k): whole_values(v) for k, v in value.items()}
    if isinstance(value, list | tuple):
        return [whole_values(one) for one in value]
    return value


def one_line(text: str, most: int = LONGEST_SENTENCE) -> str:
    """``text`` for a sentence on one line: line ends and controls are spaces, halves are marked, and what is longer
    than ``most`` is cut in its middle.

    >>> one_line("a\\n\\tb"), one_line("x" * 9, 5)
    ('a b', 'xx…xx')
    """
    if len(text) > most:  # both ends tell: what it is about, and what would be accepted
        half = (most - 1) // 2
        text = f"{text[:half]}…{text[len(text) - (most - 1 - half) :]}"
    return whole(_CONTROLS.sub(" ", text))


def begun(words: str) -> str:
    """Words as the beginning of a sentence: the first letter large, the rest as it is.

    >>> begun("mark 3"), begun("“tank”")
    ('Mark 3', '“tank”')
    """
    return words[:1].upper() + words[1:]
