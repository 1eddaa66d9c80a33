"""Some two hundred and fifty files that nobody should send: each must be refused soon, in few words, at little cost."""

import io
import json
import zipfile
from collections.abc import Callable, Iterator

from mildladder.core.errors import BadInput
from mildladder.core.model import RefusedLine
from mildladder.exchange.case_lines import lines_of, read_each
from mildladder.exchange.pictures import read_archive
from mildladder.exchange.playbook_file import read_playbook
from tests.samples import GATE

MANY = 100_000
SOUND = json.dumps(GATE).encode()
CASE = {
    "case": "C-1",
    "opened": "2026-03-01T08:00:00Z",
    "closed": "2026-03-01T08:10:00Z",
    "symptom": "gate-arm-up",
    "attempts": [{"step": "clear-hold", "outcome": "fixed"}],
    "end": "resolved",
    "resolved_by": "clear-hold",
}
NUMBERS = (
    "0x" + 1_000_000 * "f",
    "0o" + 1_000_000 * "7",
    1_000_000 * "9",
    "1e" + 1_000_000 * "9",
    "1e400",
    "-1e400",
    ".inf",
    "-.inf",
    ".nan",
    "0x",
    "1_000",
    "1e",
    "--1",
    "0b11",
    "１２",
    "1:30:00",
    "½",
    "+",
    "1" + 50 * "0",
)
KEYS = ("format", "id", "title", "symptom", "facts", "causes", "steps", "ladder", "hand_offs", "footings")
WRONG = ("[]", "{}", "null", "7", "true", "[[[]]]", '{"a": {"b": {"c": []}}}', json.dumps("x" * 100_000), '[""]')
MAY_BE = {("footings", "[]"), ("hand_offs", "[]"), ("ladder", "[]"), ("facts", "{}")}
BROKEN = (
    "",
    " ",
    "\n",
    "---",
    "--- \n---\n",
    "...",
    "a",
    "[",
    "{",
    "]",
    "a: b: c",
    "a: 'x",
    'a: "x',
    "a: |\n b\nc",
    "\ta: 1",
    "a:\n\t- b",
    "? a",
    "- a\nb: c",
    "a: *b",
    "a: &a [*a]",
    "<<: {a: 1}",
    "a: !!python/object:os.system x",
    "!x",
    "%YAML 9.9\n---\na: 1",
    "%TAG ! x\n---\na: 1",
    "a: !!binary ////",
    "a: 1\na: 2",
    "? [a]\n: b",
    "{[a]: b}",
    "@",
    "`",
    "%",
    "a: >\n" + 2000 * " " + "x",
    "&" + 5000 * "a",
    "# " + 900_000 * "x",
    "\u2028",
    "a: \u0000",
)
DEEP = (
    MANY * "[",
    MANY * "{",
    MANY * "- ",
    MANY * "? ",
    MANY * "[" + MANY * "]",
    MANY * "{a: ",
    MANY * '{"a":',
    MANY * "[{a: ",
    "".join(n * " " + "a:\n" for n in range(500)),
    "".join(n * " " + "-\n" for n in range(700)),
    "a: " + 900 * "[" + 900 * "]",
    "a: &a [" + 30 * "*a," + "]",
    "\n".join(f"a{n}: &a{n} [*a{n - 1}, *a{n - 1}]" for n in range(1, 40)),
)
LARGE = (
    "a: " + 1_100_000 * "x",
    "\n".join(f"k{n}: {n}" for n in range(60_000)),
    "a: [" + 300_000 * "1," + "]",
    "k" * 900_000 + ": 1",
    "a: '" + 400_000 * "''" + "'",
    '"' + 200_000 * "\\u0041" + '": 1',
    500_000 * "\n" + "a",
    "a: " + 4_000_000 * "y",
    60_000 * "a: 1\n",
    "\n".join("- {id: s, title: t}" for _ in range(40_000)),
)
BYTES = (
    b"\xff\xfea\x00",
    "a: 1".encode("utf-16"),
    "a: ä".encode("latin-1"),
    b"\x00",
    b"a: \x00",
    b"\xc3",
    b"\xed\xa0\x80",
    b"PK",
    b"\x1f\x8b\x08",
    b"%PDF-1.4",
    bytes(range(256)),
    b"\xef\xbb\xbf\xef\xbb\xbfa: 1",
    b'{"a": "\\ud800"}',
    b'{"\\u0000": 1}',
    900_000 * b"\xc3",
    b"\x85" * 100,
    b"\xe2\x80\xae: 1",
)


def playbooks() -> Iterator[bytes]:
    """Files that are no playbook."""
    sound = SOUND.decode()
    for number in NUMBERS:
        yield sound.replace('"weight": ', f'"weight": {number}, "_": ', 1).encode()
        yield f"format: mild-ladder/playbook/1\nid: a\ntitle: A\ncauses: [{{id: c, title: C, weight: {number}}}]".encode()
    for key in KEYS:
        for wrong in WRONG:
            if (key, wrong) in MAY_BE:
                continue
            data = {**GATE, key: "PLACE"}
            yield json.dumps(data).replace('"PLACE"', wrong).encode()
    for text in (*BROKEN, *DEEP, *LARGE):
        yield text.encode()
    yield from BYTES


def cases() -> Iterator[bytes]:
    """Lines that are no case."""
    for wrong in WRONG:
        for key in ("case", "opened", "attempts", "facts"):
            if (key, wrong) in MAY_BE:
                continue
            yield json.dumps({**CASE, key: "PLACE"}).replace('"PLACE"', wrong).encode()
    for moment in ("0001-01-01T00:00:00Z", "9999-12-31T23:59:59Z", "2026-03-01", "now", "2026-02-30T00:00:00Z", "1e99"):
        yield json.dumps({**CASE, "opened": moment}).encode()
    for text in (
        "[",
        "{",
        "{}",
        "7",
        "null",
        MANY * "[",
        MANY * '{"a":',
        '{"case": ' + 1_000_000 * "9" + "}",
        2_000_000 * "x",
    ):
        yield text.encode()
    yield from (raw for raw in BYTES if raw.strip())


def archives() -> Iterator[bytes]:
    """Archives that hold no playbook, or too much."""
    yield b"PK\x03\x04"
    yield zipped({"a.yaml": SOUND})[:-30]
    for names in (
        ["../a.yaml"],
        ["/a.yaml"],
        ["a.yaml", "b.yaml"],
        ["x/a.yaml"],
        ["a.txt"],
        ["a\x00.yaml"],
        ["..\\a.yaml"],
    ):
        yield zipped(dict.fromkeys(names, SOUND))
    yield zipped({f"{n}.png": b"" for n in range(3_000)})
    yield zipped({"a.yaml": SOUND, "bomb.png": bytes(80_000_000)})
    yield zipped({"a.yaml": bytes(50_000_000)})
    yield zipped({"a.yaml": zipped({"a.yaml": SOUND})})


def zipped(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


def refused_playbook(raw: bytes) -> str:
    """What the reader of playbooks says."""
    return _refused(lambda: read_playbook(raw, "awkward.yaml"))


def refused_archive(raw: bytes) -> str:
    """What the reader of archives says."""

    def _read() -> None:
        playbook, name, _ = read_archive(raw, "awkward.zip")
        read_playbook(playbook, name)

    return _refused(_read)


def refused_case(raw: bytes) -> str:
    """What the reader of cases says of the first line."""
    line = next(read_each(lines_of(io.BytesIO(raw))))
    assert isinstance(line, RefusedLine)
    assert len(line.text) <= 2_000
    return f"{line.path}: {line.says}"


def _refused(read: Callable[[], object]) -> str:
    try:
        read()
    except BadInput as error:
        return str(error)
    raise AssertionError("was read")


ALL = [(refused_playbook, playbooks), (refused_case, cases), (refused_archive, archives)]
