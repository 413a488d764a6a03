"""The JSON Schema of the project file, generated from the value types: ``python -m stoutlink.core.storage.schema
[--check] FILE``.
"""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any

import msgspec

from stoutlink.core.document.project import GROUPS, PARTS, VERSION, Project


def project_schema() -> dict[str, Any]:
    """JSON Schema (draft 2020-12) of a project file of this version."""
    schema = msgspec.json.schema(Project)
    known = schema["$defs"]
    parts = known["Project"]["properties"]
    for group, kind in GROUPS.items():  # a file does not name them
        parts.pop(group)
        parts.update(known.pop(kind.__name__)["properties"])
    known["Project"]["properties"] = {name: parts[name] for name in PARTS}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": f"Stout Link project, version {VERSION}",
        **schema,
    }


def main() -> int:
    """Write the schema, or compare it with a file."""
    parser = argparse.ArgumentParser(description="JSON Schema of the project file")
    parser.add_argument("file", type=Path)
    parser.add_argument("--check", action="store_true")
    args = parser.parse_args()
    text = json.dumps(project_schema(), indent=1, ensure_ascii=False) + "\n"
    if not args.check:
        args.file.write_text(text, encoding="utf-8")
        return 0
    same = args.file.exists() and args.file.read_text(encoding="utf-8") == text
    if not same:
        print(f"{args.file} is stale: run python -m stoutlink.core.storage.schema {args.file}", file=sys.stderr)
    return 0 if same else 1


if __name__ == "__main__":
    sys.exit(main())
