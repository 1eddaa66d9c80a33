"""Print every text that people read, of page and server, with its file: `make words`, to be read in one go."""

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parent.parent
# A text has at least two words that are words.
_TEXT = re.compile(r"[A-Za-z’']{2,}[ ,.:;“]+(?:[^A-Za-z]{0,4})[A-Za-z’']{2,}")
_CODE = re.compile(r"^[\w./:\[\]()%*>~|&!#-]+(?: [\w./:\[\]()%*>~|&!#,-]+)*$")
_STRINGS = re.compile(r'"((?:[^"\\\n]|\\.)*)"|`((?:[^`\\]|\\.)*)`')
_BETWEEN_TAGS = re.compile(r">([^<>{}=;]*[A-Za-z][^<>{}=;]*)[<{]")
_STYLES = re.compile(r"(?:className|class)=(?:\"[^\"]*\"|\{`[^`]*`\})")
_COMMENTS = re.compile(r"/\*.*?\*/|(?<![:\"'])//[^\n]*", re.DOTALL)


def main() -> None:
    """Print them all, page first."""
    for path in sorted((ROOT / "frontend" / "src").rglob("*.ts*")):
        if ".test." not in path.name and "generated" not in path.name:
            _print(path, _of_page(path.read_text(encoding="utf-8")))
    for path in sorted((ROOT / "src" / "mildladder").rglob("*.py")):
        if "migrations" not in path.parts:
            _print(path, _of_server(path.read_text(encoding="utf-8")))


def _print(path: Path, texts: Iterator[str]) -> None:
    found = list(dict.fromkeys(" ".join(text.split()) for text in texts))
    if found:
        sys.stdout.write(f"\n{path.relative_to(ROOT)}\n" + "".join(f"  {text}\n" for text in found))


def _of_page(source: str) -> Iterator[str]:
    plain = _STYLES.sub("", _COMMENTS.sub("", source))
    for match in _STRINGS.finditer(plain):
        text = match[1] or match[2] or ""
        if _TEXT.search(text) and not (_CODE.match(text) and re.search(r"[a-z]-\w|\[", text)):
            yield text
    for match in _BETWEEN_TAGS.finditer(plain):
        if _TEXT.search(match[1]):
            yield match[1]


def _of_server(source: str) -> Iterator[str]:
    tree = ast.parse(source)
    docs = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef)
        and node.body
        and isinstance(node.body[0], ast.Expr)
    }
    inner = {id(part) for node in ast.walk(tree) if isinstance(node, ast.JoinedStr) for part in ast.walk(node)}
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            text = ast.unparse(node)[2:-1]
        elif isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in inner | docs:
            text = node.value
        else:
            continue
        if _TEXT.search(text) and not re.search(r"SELECT |INSERT |UPDATE |DELETE |FROM |PRAGMA|\\b", text):
            yield text


if __name__ == "__main__":
    main()
