"""The built page as it is served: compressed as it was built for those who can read that, whole for others."""

import brotli
from flask import Flask

from mildladder.api.pages import pages


def served(folder):
    (folder / "assets").mkdir()
    (folder / "assets" / "page-1.js").write_text("let whole")
    (folder / "assets" / "page-1.js.br").write_bytes(brotli.compress(b"let whole"))
    (folder / "assets" / "letters-1.woff2").write_bytes(b"letters")
    app = Flask(__name__)
    app.register_blueprint(pages(folder))
    return app.test_client()


def test_a_script_comes_compressed_to_who_can_read_it(tmp_path):
    client = served(tmp_path)
    answer = client.get("/assets/page-1.js", buffered=True, headers={"Accept-Encoding": "gzip, br"})
    assert (answer.content_encoding, answer.mimetype) == ("br", "text/javascript")
    assert brotli.decompress(answer.data) == b"let whole"
    assert "Accept-Encoding" in answer.headers["Vary"]
    plain = client.get("/assets/page-1.js", buffered=True)
    assert (plain.content_encoding, plain.data) == (None, b"let whole")


def test_what_was_not_compressed_comes_as_it_is(tmp_path):
    answer = served(tmp_path).get("/assets/letters-1.woff2", headers={"Accept-Encoding": "br"}, buffered=True)
    assert (answer.content_encoding, answer.data) == (None, b"letters")
