"""What a field accepts, in plain words in place of the decoder's."""

from __future__ import annotations

import re

_TYPE_WORDS = {
    "float": "a number",
    "int": "a whole number",
    "str": "text",
    "array": "a list",
    "object": "an object",
    "bool": "true or false",
}
_WORDS: tuple[tuple[str, str], ...] = (
    (r"text matching regex '[^']*\[0-9\]\{4\}-[^']*'", "a day as 2026-05-04, or nothing"),
    (r"text matching regex '[^']*\(jpg\|png\)[^']*'", "the name of a photo beside the project"),
    (
        r"text matching regex '[^']*\(:\(frame\|axle\|left\|right\)\)[^']*'",
        "a bar and its end, as lower-left:axle, or nothing",
    ),
    (r"text matching regex '[^']*\[:\]\(frame\|axle\)[^']*'", "a bar and its end, as lower-left:axle"),
    (r"text matching regex '[^']*\[:\]frame[^']*'", "a bar and its end at the frame, as lower-left:frame"),
    (r"text matching regex '[^']*\{0,47\}[^']*'", r"a short name of up to 48 of a–z, 0–9, - and _"),
    (r"text matching regex '[^']*\{0,79\}[^']*'", "a short name of up to 80 of a–z, 0–9, - and _"),
    (r"text matching regex '[^']*\{0,119\}[^']*'", "a short name of up to 120 of a–z, 0–9, -, _ and :"),
    (r"text matching regex '[^']*'", "text of another form"),
    (r"text of length >= 1\b", "text that is not empty"),
    (r"text of length <= (\d+)", r"text of at most \1 characters"),
    (r"of length (\d+)", r"of \1"),
    (r"of length >= (\d+)", r"of at least \1"),
    (r"of length <= (\d+)", r"of at most \1"),
    (r" \| null", " or null"),
    (r" >= ", " of at least "),
    (r" <= ", " of at most "),
    (r"(\d)\.0\b", r"\1"),
)


def accepted_plainly(expected: str) -> str:
    """The decoder's words for what it expected, in plain ones.

    >>> accepted_plainly("float >= 0.0"), accepted_plainly("str of length <= 40"), accepted_plainly("int | null")
    ('a number of at least 0', 'text of at most 40 characters', 'a whole number or null')
    """
    for name, words in _TYPE_WORDS.items():
        expected = re.sub(rf"\b{name}\b", words, expected)
    for pattern, words in _WORDS:
        expected = re.sub(pattern, words, expected)
    return expected
