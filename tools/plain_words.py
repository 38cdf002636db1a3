"""Check that docstrings, help and labels begin in plain words: exit 1, and name each that does not.

Looked at are the first sentences of docstrings, of the texts below constants, of descriptions of fields, of command
help, and the labels of the console. core/redact is left out until it is rebuilt.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parent.parent
ODD = re.compile(
    r"^(What(?!.*\?$)|So many|So much|So long|Such as)\b"
    r"|\b(told|tells of|anew|so many|stretch|brings? along|by itself)\b"
    r"|\b(stands?|stood)\b(?!-in)",
    re.IGNORECASE,
)
"""Words of a voice of our own, for which the field has plain ones."""
LABEL = re.compile(r'\b(?:label|title|placeholder|aria-label)="([^"]+)"')
LEFT_OUT = ("core/redact/", "client/models.py", "store/migrations/")
Text = tuple[int, str]


def first_sentence(text: str) -> str:
    """The first sentence of a text, in one line."""
    whole = " ".join(text.split("\n\n", maxsplit=1)[0].split())
    return re.split(r"(?<=[.!?]) ", whole, maxsplit=1)[0]


def texts_of(tree: ast.AST) -> Iterator[Text]:
    """Docstrings, the texts below constants, descriptions and help of a module, with their lines."""
    for node in ast.walk(tree):
        match node:
            case ast.Expr(value=ast.Constant(value=str(text), lineno=line)):
                yield line, text
            case ast.keyword(
                arg="description" | "help", value=ast.Constant(value=str(text), lineno=line)
            ):
                yield line, text


def labels_of(text: str) -> Iterator[Text]:
    """The labels of a component, with their lines."""
    for number, line in enumerate(text.splitlines(), 1):
        yield from ((number, found) for found in LABEL.findall(line))


def odd_ones() -> Iterator[str]:
    """Each text that begins in odd words, with its place."""
    for path in sorted((ROOT / "src").rglob("*.py")):
        place = path.relative_to(ROOT).as_posix()
        if not any(part in place for part in LEFT_OUT):
            for line, text in texts_of(ast.parse(path.read_text("utf-8"))):
                if found := ODD.search(first_sentence(text)):
                    yield f"{place}:{line}: “{found[0]}” in: {first_sentence(text)}"
    for path in sorted((ROOT / "console/src").rglob("*.tsx")):
        for line, text in labels_of(path.read_text("utf-8")):
            if found := ODD.search(first_sentence(text)):
                yield f"{path.relative_to(ROOT).as_posix()}:{line}: “{found[0]}” in: {text}"


if __name__ == "__main__":
    odd = list(odd_ones())
    print("\n".join(odd))
    sys.exit(bool(odd))
