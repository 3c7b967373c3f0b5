"""Time stamps (RFC 3161): what somebody sends a hash of is stamped with when that was."""

from __future__ import annotations

import os
from pathlib import Path

from flask import Flask, Response, request
from quillcore.signing.identity import STAMPS_CERTIFICATE, STAMPS_KEY, kept_identity
from quillcore.signing.sealing import answer_stamp_request

from standins.moods import give_moods

MOST = 10_000
"""Bytes of a request: a hash and a number have some sixty."""


def make_app() -> Flask:
    """Return the service: POST ``/`` takes a request in DER.  Its key and certificate are in the folder that
    ``STAMPS_FOLDER`` names."""
    app = Flask(__name__)
    app.config["MAX_CONTENT_LENGTH"] = MOST
    give_moods(app)
    folder = Path(os.environ["STAMPS_FOLDER"])
    identity = kept_identity(folder, STAMPS_KEY, STAMPS_CERTIFICATE)

    @app.post("/")
    def stamp() -> Response:
        try:
            made = answer_stamp_request(request.get_data(), identity)
        except ValueError:
            return Response("This is no request for a time stamp.", 400, mimetype="text/plain")
        return Response(made, mimetype="application/timestamp-reply")

    return app
