"""Pictures beside a playbook file and in an archive: encoded anew, and everything that is no picture refused."""

import io
import zipfile
import zlib

import pytest
from PIL import Image

from mildladder.core.errors import BadInput
from mildladder.desk.documents import newest
from mildladder.desk.publishing.files import export_archive, import_playbook
from mildladder.exchange import pictures
from mildladder.exchange.pictures import (
    beside,
    clean_picture,
    is_archive,
    picture_paths,
    pictures_in,
    read_archive,
    write_archive,
)
from mildladder.exchange.playbook_file import read_playbook, write_playbook
from tests.conftest import LEAD_ID
from tests.drafts import replace
from tests.exchange.awkward import zipped
from tests.samples import GATE, NOON, gate

PATHS = ("pictures/lamp.png", "page.jpg", "pictures/key.webp")


def drawn(kind: str, size: tuple[int, int] = (40, 30)) -> bytes:
    out = io.BytesIO()
    Image.effect_noise(size, 40).convert("RGB").save(out, kind)
    return out.getvalue()


RAW = {path: drawn(kind) for path, kind in zip(PATHS, ("PNG", "JPEG", "WEBP"), strict=True)}


def shown(*paths: str):
    """The sample playbook with these pictures in its first instructions and a way."""
    do = [{"text": "Look", "picture": path} for path in paths[:2]]
    do.append({"ways": [[{"text": "One way", **({"picture": paths[2]} if len(paths) > 2 else {})}], [{"text": "Or"}]]})
    steps = [{**step, "do": do} if step["id"] == "clear-hold" else step for step in GATE["steps"]]
    return gate(steps=steps)


def archive(**files: bytes) -> bytes:
    return zipped({"gate.yaml": write_playbook(shown(*PATHS)), **RAW, **files})


def test_an_archive_is_read_and_written_back_the_same():
    playbook, name, files = read_archive(archive(), "gate.zip")
    assert read_playbook(playbook) == shown(*PATHS)
    assert (name, files) == ("gate.yaml", RAW)
    assert read_archive(write_archive(name, playbook, files)) == (playbook, name, files)
    assert write_archive(name, playbook, files) == write_archive(name, playbook, files)


def test_pictures_are_encoded_anew_and_nothing_else_is_kept():
    tail = b"<script>alert(1)</script>"
    found = pictures_in(shown(*PATHS), {path: data + tail for path, data in RAW.items()})
    assert [picture.media for picture in found.values()] == ["image/png", "image/jpeg", "image/webp"]
    for picture in found.values():
        assert tail not in picture.data
        assert Image.open(io.BytesIO(picture.data)).size == (40, 30)


def test_pictures_lie_beside_the_file_and_never_outside_its_folder(tmp_path):
    (tmp_path / "pictures").mkdir()
    for path, data in RAW.items():
        (tmp_path / path).write_bytes(data)
    assert list(beside(shown(*PATHS), tmp_path / "gate.yaml")) == list(PATHS)
    outside = tmp_path / "inner"
    outside.mkdir()
    (outside / "page.jpg").symlink_to(tmp_path / "page.jpg")
    with pytest.raises(BadInput, match="outside"):
        beside(shown("page.jpg"), outside / "gate.yaml")


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"this is no picture", "is no PNG"),
        (drawn("GIF"), "is no PNG"),
        (drawn("PNG")[:200], "is no PNG"),
        (drawn("PNG", (1200, 900)), "make it smaller"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "is no PNG"),
    ],
)
def test_what_is_no_picture_or_too_large_is_refused(data, says):
    with pytest.raises(BadInput, match=says):
        pictures_in(shown(PATHS[0]), {PATHS[0]: data}, "gate.zip")


def bomb() -> bytes:
    return zipped({"gate.yaml": b"x", "zeros.png": b"\0" * 70_000_000})


@pytest.mark.parametrize(
    ("raw", "says"),
    [
        (archive(**{"../out.png": b"x"}), "leaves the archive"),
        (archive(**{"/etc/out.png": b"x"}), "leaves the archive"),
        (archive(**{"a/../../out.png": b"x"}), "leaves the archive"),
        (archive(**{"second.yaml": b"x"}), "several playbook files"),
        (zipped({"deep/gate.yaml": b"x"}), "no playbook file"),
        (zipped({f"{n}.png": b"" for n in range(600)}), "600 files"),
        (bomb(), "unpacks to more"),
        (archive()[:-40], "cannot be read"),
        (archive()[:300] + b"\xff" * 300, "cannot be read"),
    ],
)
def test_a_bad_archive_is_refused(raw, says):
    assert is_archive(raw)
    with pytest.raises(BadInput, match=says):
        read_archive(raw, "gate.zip")


def test_pictures_stay_with_drafts_and_editions_and_go_out_again(desk, app):
    pictures = pictures_in(shown(*PATHS), RAW)
    with desk.writing() as session:
        import_playbook(session, shown(*PATHS), LEAD_ID, NOON, "file", "With pictures", None, pictures)
    with desk.writing() as session:
        playbook, _ = newest(session, "gate-arm-up")
        replace(session, playbook.model_copy(update={"title": "Another title"}))
    with desk.reading() as session:
        for from_draft in (False, True):
            _, _, files = read_archive(export_archive(session, "gate-arm-up", from_draft))
            assert files == {path: picture.data for path, picture in pictures.items()}
    lamp = pictures[PATHS[0]]
    answer = app.test_client().get(f"/api/pictures/{lamp.digest}")
    assert (answer.data, answer.mimetype) == (lamp.data, "image/png")
    assert "immutable" in answer.headers["Cache-Control"]
    assert app.test_client().get(f"/api/pictures/{'0' * 64}").status_code == 404


def test_a_picture_that_is_nowhere_is_refused_and_nothing_is_written(desk):
    with pytest.raises(BadInput, match=r"pictures/lamp.png' is not there"), desk.writing() as session:
        import_playbook(session, shown(PATHS[0]), LEAD_ID, NOON, "file", None)
    with desk.reading() as session:
        assert picture_paths(newest(session, "gate-arm-up")[0]) == []


def test_a_changed_picture_under_the_same_path_can_be_published(desk, client):
    for number, raw in enumerate([RAW, {**RAW, PATHS[0]: drawn("PNG", (50, 30))}], start=2):
        with desk.writing() as session:
            import_playbook(session, shown(*PATHS), LEAD_ID, NOON, "file", None, None, pictures_in(shown(*PATHS), raw))
        now = client.get("/api/playbooks/gate-arm-up/draft/figures")
        assert not now.json["is_published"]
        made = publish(client, now.headers["ETag"])
        assert (made.status_code, made.json["number"]) == (201, number)
    told = client.get("/api/playbooks/gate-arm-up/compare?before=2&after=3").json["sentences"]
    assert [one["says"] for one in told] == ["The picture “pictures/lamp.png” is another one"]
    again = publish(client, now.headers["ETag"])
    assert (again.status_code, "nothing has changed" in again.json["detail"]) == (409, True)


def publish(client, tag: str):
    return client.post("/api/playbooks/gate-arm-up/editions", json={"note": "Pictures"}, headers={"If-Match": tag})


def png_of(width: int, height: int) -> bytes:
    """A picture that is small as a file and says to be that large, its pixels left out."""
    head = width.to_bytes(4, "big") + height.to_bytes(4, "big") + bytes([8, 2, 0, 0, 0])
    chunks = [b"IHDR" + head, b"IDAT" + zlib.compress(b"")]
    parts = [(len(one) - 4).to_bytes(4, "big") + one + zlib.crc32(one).to_bytes(4, "big") for one in chunks]
    return b"\x89PNG\r\n\x1a\n" + b"".join(parts)


def webp_of(kind: bytes, width: int, height: int) -> bytes:
    """The head of a WebP picture of that kind and size."""
    if kind == b"VP8X":
        body = bytes(4) + (width - 1).to_bytes(3, "little") + (height - 1).to_bytes(3, "little")
    elif kind == b"VP8L":
        body = b"\x2f" + ((width - 1) | (height - 1) << 14).to_bytes(4, "little") + bytes(8)
    else:
        body = b"\x30\x01\x00\x9d\x01\x2a" + width.to_bytes(2, "little") + height.to_bytes(2, "little") + bytes(4)
    return b"RIFF" + (12 + len(body)).to_bytes(4, "little") + b"WEBP" + kind + len(body).to_bytes(4, "little") + body


@pytest.mark.parametrize(
    "raw",
    [
        png_of(1, 19_000_000),
        png_of(19_000_000, 1),
        png_of(9_000, 9),
        png_of(4_000, 4_000),
        webp_of(b"VP8X", 16_000, 16_000),
        webp_of(b"VP8L", 16_000, 9_000),
        webp_of(b"VP8 ", 1, 16_000),
    ],
)
def test_pixels_are_bounded_before_any_of_them_is_decoded(raw, monkeypatch):
    monkeypatch.setattr("PIL.Image.Image.load", lambda _: pytest.fail("it was decoded"))
    monkeypatch.setattr("PIL.WebPImagePlugin.WebPImageFile._open", lambda _: pytest.fail("room was made for it"))
    with pytest.raises(BadInput, match="along a side"):
        clean_picture(raw, "lamp.png")


def test_one_picture_is_decoded_at_a_time(monkeypatch):
    """Whoever decodes one holds the lock that each of them takes."""
    raw, load, held = drawn("JPEG"), Image.Image.load, []
    monkeypatch.setattr("PIL.Image.Image.load", lambda image: held.append(pictures._decoding.locked()) or load(image))
    clean_picture(raw, "lamp.jpg")
    assert held
    assert all(held)
    assert not pictures._decoding.locked()


@pytest.mark.parametrize("method", [zipfile.ZIP_DEFLATED, zipfile.ZIP_BZIP2, zipfile.ZIP_LZMA])
def test_an_archive_whose_packed_bytes_are_damaged_is_refused_in_words(method):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", method) as packed:
        packed.writestr("gate.yaml", write_playbook(shown()) * 4)
    whole = out.getvalue()
    told = []
    for place in range(40, 200, 3):
        raw = bytearray(whole)
        raw[place] ^= 0xFF
        try:
            read_archive(bytes(raw), "gate.zip")
        except BadInput as error:
            told.append(str(error))
    assert any("cannot be read" in one for one in told)
