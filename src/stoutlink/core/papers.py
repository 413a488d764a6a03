"""The papers that ship with the program: what it computes, its files and tables, its commands and codes."""

from __future__ import annotations

from importlib.resources import files

PAPERS: dict[str, str] = {
    "method": "What is computed",
    "findings": "Findings and refusals",
    "command-line": "Command line",
    "project-file": "The project file",
    "donor-catalogue": "Donor catalogue (CSV)",
    "survey-table": "The survey table",
    "spring-list": "Springs on offer",
    "instruments": "Instruments",
}
"""Name of the file in ``docs`` → title."""


def paper(name: str) -> str:
    """The text of a paper, Markdown; raises ``KeyError`` for one that is not shipped.

    >>> paper("instruments").splitlines()[0]
    '# Instruments'
    """
    if name not in PAPERS:
        raise KeyError(name)
    return (files("stoutlink") / "docs" / f"{name}.md").read_text(encoding="utf-8")


FONTS = {"Inter": "Inter-LICENSE.txt", "DejaVu Sans": "DejaVu-LICENSE.txt"}


def font_licences() -> dict[str, str]:
    """The name of the licence of each font that ships with the program, as its own file says.

    >>> sorted(font_licences())
    ['DejaVu Sans', 'Inter']
    """
    out = {}
    for font, name in FONTS.items():
        text = (files("stoutlink") / "fonts" / name).read_text(encoding="utf-8")
        said = [line.partition(":")[2].strip() for line in text.splitlines() if line.startswith("License:")]
        out[font] = said[0] if said else name  # what follows is of its packaging
    return out
