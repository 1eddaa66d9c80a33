"""Pictures that travel with a playbook file: beside it, or with it in one archive (ZIP).

Every picture is decoded and encoded anew, so that what the desk shows is a picture and nothing else, and an archive is
measured before it is unpacked.
"""

import hashlib
import io
import lzma
import posixpath
import warnings
import zipfile
import zlib
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path
from threading import Lock

from PIL import Image, UnidentifiedImageError

from mildladder.core.errors import BadInput
from mildladder.core.model import Instruction, Playbook

__all__ = [
    "Picture",
    "beside",
    "clean_picture",
    "is_archive",
    "picture_paths",
    "pictures_in",
    "read_archive",
    "write_archive",
]

MOST_PICTURE_BYTES = 500_000
# Of the whole, and of one side: what is one pixel wide takes many times the memory of its pixels.
_MOST_PIXELS, _MOST_SIDE = 12_500_000, 8_000
_MOST_UNPACKED = 60_000_000
_MOST_ENTRIES = 500
_FORMATS = {"PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp"}
_PLAYBOOK_ENDINGS = (".yaml", ".yml", ".json")


@dataclass(frozen=True)
class Picture:
    """One picture, encoded anew. `digest`: SHA-256 of its bytes, by which it is kept and fetched."""

    media: str
    data: bytes

    @property
    def digest(self) -> str:
        """The name under which it is kept."""
        return hashlib.sha256(self.data).hexdigest()


def picture_paths(playbook: Playbook) -> list[str]:
    """The path of every picture that the document shows, each once."""
    found = [sign.picture for sign in playbook.symptom.signs]
    for step in playbook.steps:
        found += [one.picture for one in _all(step.do)]
    for footing in playbook.footings:
        found += [one.picture for one in (*_all(footing.enter.do), *_all(footing.leave.do))]
    return list(dict.fromkeys(path for path in found if path is not None))


def _all(instructions: tuple[Instruction, ...]) -> Iterator[Instruction]:
    for instruction in instructions:
        yield instruction
        for way in instruction.ways or ():
            yield from _all(way)


def beside(playbook: Playbook, file: Path) -> dict[str, Picture]:
    """The document's pictures from the folder of its file. Raises BadInput for one that is missing or no picture."""
    folder = file.resolve().parent
    found = {}
    for path in picture_paths(playbook):
        place = (folder / path).resolve()
        if not place.is_relative_to(folder):
            raise BadInput(f"the picture '{path}' lies outside the file's folder", source=str(file))
        if place.is_file():
            found[path] = clean_picture(place.read_bytes(), path, str(file))
    return found


def is_archive(raw: bytes) -> bool:
    """Whether the bytes begin as a ZIP archive does."""
    return raw[:4] == b"PK\x03\x04"


def read_archive(raw: bytes, source: str | None = None) -> tuple[bytes, str, Mapping[str, bytes]]:
    """The playbook file in an archive, its name, and every other file by path, each unpacked when it is looked at.

    Raises BadInput for an archive that is damaged, too large when unpacked, whose paths leave it, or that holds no
    playbook file, or several, at its top.
    """
    files = _Files(raw, source)
    tops = [name for name in files if "/" not in name and name.lower().endswith(_PLAYBOOK_ENDINGS)]
    if len(tops) != 1:
        says = "no playbook file" if not tops else f"several playbook files ({', '.join(sorted(tops))})"
        raise BadInput(f"the archive holds {says} at its top; it needs one", source=source)
    return files[tops[0]], tops[0], files.without(tops[0])


# What reading an archive raises for one that is damaged; of the ways to pack, each has its own.
_DAMAGED = (
    zipfile.BadZipFile,
    zlib.error,
    lzma.LZMAError,
    NotImplementedError,
    RuntimeError,
    EOFError,
    OSError,
    ValueError,
)


class _Files(Mapping[str, bytes]):
    """The files of an archive by path, of which one at a time is unpacked."""

    def __init__(self, raw: bytes, source: str | None) -> None:
        self._source = source
        try:
            self._archive = zipfile.ZipFile(io.BytesIO(raw))
            entries = [entry for entry in self._archive.infolist() if not entry.is_dir()]
        except _DAMAGED as error:
            raise self._unread(error) from error
        _check_entries(entries, source)
        self._entries = {entry.filename: entry for entry in entries}

    def __getitem__(self, path: str) -> bytes:
        """Raises BadInput for one that is damaged, or unpacks to more than it says."""
        try:
            return _unpacked(self._archive, self._entries[path], self._source)
        except _DAMAGED as error:
            raise self._unread(error) from error

    def __contains__(self, path: object) -> bool:
        return path in self._entries

    def __iter__(self) -> Iterator[str]:
        return iter(self._entries)

    def __len__(self) -> int:
        return len(self._entries)

    def without(self, path: str) -> "_Files":
        """The same files but for one."""
        del self._entries[path]
        return self

    def _unread(self, error: Exception) -> BadInput:
        return BadInput(f"the archive cannot be read: {error}", source=self._source)


def _check_entries(entries: list[zipfile.ZipInfo], source: str | None) -> None:
    if len(entries) > _MOST_ENTRIES:
        raise BadInput(f"the archive holds {len(entries)} files; at most {_MOST_ENTRIES} are read", source=source)
    if sum(entry.file_size for entry in entries) > _MOST_UNPACKED:
        raise BadInput(f"the archive unpacks to more than {_MOST_UNPACKED:,} bytes", source=source)
    for entry in entries:
        name = entry.filename
        if name.startswith(("/", "..")) or "\\" in name or posixpath.normpath(name) != name:
            raise BadInput(f"the path '{name}' leaves the archive", source=source)


def _unpacked(archive: zipfile.ZipFile, entry: zipfile.ZipInfo, source: str | None) -> bytes:
    """At most what the entry says it holds: an archive may lie about that."""
    with archive.open(entry) as file:
        data = file.read(entry.file_size + 1)
    if len(data) > entry.file_size:
        raise BadInput(f"'{entry.filename}' unpacks to more than it says", source=source)
    return data


def pictures_in(playbook: Playbook, files: Mapping[str, bytes], source: str | None = None) -> dict[str, Picture]:
    """The document's pictures out of an archive's files. Raises BadInput for one that is no picture."""
    return {path: clean_picture(files[path], path, source) for path in picture_paths(playbook) if path in files}


# One picture is decoded at a time: each takes up to a hundred megabytes meanwhile.
_decoding = Lock()


def clean_picture(raw: bytes, path: str, source: str | None = None) -> Picture:
    """Decode, check, and encode anew: nothing but pixels is kept. Raises BadInput for what is none, or too large."""
    with _decoding:
        return _clean(raw, path, source)


def _check_pixels(width: int, height: int, path: str, source: str | None) -> None:
    if width * height > _MOST_PIXELS or max(width, height) > _MOST_SIDE:
        says = f"the picture '{path}' has {width:,} x {height:,} pixels"
        most = f"at most {_MOST_PIXELS:,} are read, and {_MOST_SIDE:,} along a side"
        raise BadInput(f"{says}; {most}: make it smaller", source=source)


def _size_of_webp(raw: bytes) -> tuple[int, int] | None:
    """Width and height of a WebP picture by its head (RFC 9649, section 2), since its decoder makes room for all of it
    as soon as it is opened; None for anything else."""
    if raw[:4] != b"RIFF" or raw[8:12] != b"WEBP" or len(raw) < 30:
        return None
    match raw[12:16]:
        case b"VP8X":
            return 1 + int.from_bytes(raw[24:27], "little"), 1 + int.from_bytes(raw[27:30], "little")
        case b"VP8L":
            bits = int.from_bytes(raw[21:25], "little")
            return 1 + (bits & 0x3FFF), 1 + (bits >> 14 & 0x3FFF)
        case _:
            return int.from_bytes(raw[26:28], "little") & 0x3FFF, int.from_bytes(raw[28:30], "little") & 0x3FFF


def _clean(raw: bytes, path: str, source: str | None) -> Picture:
    if (size := _size_of_webp(raw)) is not None:
        _check_pixels(*size, path, source)
    try:
        with warnings.catch_warnings(), Image.open(io.BytesIO(raw), formats=list(_FORMATS)) as image:
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            kind = image.format or ""
            _check_pixels(image.width, image.height, path, source)
            image.load()
            pixels = image.convert("RGBA" if image.has_transparency_data and kind != "JPEG" else "RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError, Warning) as error:
        raise BadInput(f"'{path}' is no PNG, JPEG or WebP picture", source=source) from error
    out = io.BytesIO()
    pixels.save(out, format=kind, optimize=True)
    if out.tell() > MOST_PICTURE_BYTES:
        says = f"the picture '{path}' has {out.tell():,} bytes; at most {MOST_PICTURE_BYTES:,} are kept"
        raise BadInput(f"{says}: make it smaller", source=source)
    return Picture(_FORMATS[kind], out.getvalue())


def write_archive(name: str, playbook: bytes, pictures: Mapping[str, bytes]) -> bytes:
    """Inverse of read_archive: the playbook file `name` at the top, pictures at their paths. The same every time."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, data in [(name, playbook), *sorted(pictures.items())]:
            archive.writestr(zipfile.ZipInfo(path, (2026, 1, 1, 0, 0, 0)), data)
    return out.getvalue()
