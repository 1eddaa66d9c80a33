"""Pictures that travel with a playbook file: beside it, or with it in one archive (ZIP).

Every picture is decoded and encoded anew, so that what the desk shows is a picture and nothing else, and an archive is
measured before it is unpacked.
"""

import hashlib
import io
import posixpath
import warnings
import zipfile
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path

from PIL import Image, UnidentifiedImageError

from mildladder.core.errors import BadInput
from mildladder.core.model import Instruction, Playbook

__all__ = [
    "Picture", "beside", "clean_picture", "is_archive", "picture_paths", "pictures_in", "read_archive", "write_archive",
]  # fmt: skip

MOST_PICTURE_BYTES = 500_000
_MOST_PIXELS = 20_000_000
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


def read_archive(raw: bytes, source: str | None = None) -> tuple[bytes, str, dict[str, bytes]]:
    """The playbook file in an archive, its name, and every other file by path.

    Raises BadInput for an archive that is damaged, too large when unpacked, whose paths leave it, or that holds no
    playbook file, or several, at its top.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            entries = [entry for entry in archive.infolist() if not entry.is_dir()]
            _check_entries(entries, source)
            files = {entry.filename: _unpacked(archive, entry, source) for entry in entries}
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, OSError, ValueError) as error:
        raise BadInput(f"the archive cannot be read: {error}", source=source) from error
    tops = [name for name in files if "/" not in name and name.lower().endswith(_PLAYBOOK_ENDINGS)]
    if len(tops) != 1:
        says = "no playbook file" if not tops else f"several playbook files ({', '.join(sorted(tops))})"
        raise BadInput(f"the archive holds {says} at its top; it needs one", source=source)
    return files.pop(tops[0]), tops[0], files


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


def clean_picture(raw: bytes, path: str, source: str | None = None) -> Picture:
    """Decode, check, and encode anew: nothing but pixels is kept. Raises BadInput for what is none, or too large."""
    try:
        with warnings.catch_warnings(), Image.open(io.BytesIO(raw), formats=list(_FORMATS)) as image:
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            kind = image.format or ""
            if image.width * image.height > _MOST_PIXELS:
                raise BadInput(f"the picture '{path}' has over {_MOST_PIXELS:,} pixels", source=source)
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
