"""The mail stand-in: takes whatever comes by SMTP, keeps it as .eml files, and shows it on a page.

``refused@…`` is an address that nobody has; the mood "down" doesn't let anybody in, "slow" takes its time,
"nonsense" asks to come again later.
"""

from __future__ import annotations

import email
import email.policy
import html
import os
import re
import time
import uuid
from email.message import EmailMessage
from functools import lru_cache
from pathlib import Path
from typing import Any

from aiosmtpd.controller import Controller
from flask import Flask, Response, abort

from standins.moods import give_moods

MOST = 10_000_000
SHOWN = 200
_LINK = re.compile(r"https?://[^\s<>\"]+")
_NAME = re.compile(r"[0-9]{20}-[0-9a-f]{32}")


class Taking:
    """The mail server's answers to whoever brings mail."""

    def __init__(self, folder: Path, mood: dict[str, Any]) -> None:
        self.folder, self.mood = folder, mood

    async def handle_RCPT(  # named by aiosmtpd
        self, server: Any, session: Any, envelope: Any, address: str, options: list[str]
    ) -> str:
        """Return whether somebody of that address is known here."""
        if self.mood["mood"] == "nonsense":
            return "451 Come again in a while"
        if address.startswith("refused@"):
            return "550 There is nobody of that name"
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(self, server: Any, session: Any, envelope: Any) -> str:
        """Keep it, whole, before saying yes."""
        if self.mood["mood"] == "down":
            return "421 Closed for now"
        if self.mood["mood"] == "slow":
            time.sleep(self.mood["seconds"])
        name = f"{time.time_ns():020d}-{uuid.uuid4().hex}"
        part = self.folder / f"{name}.part"
        part.write_bytes(envelope.content)
        part.rename(self.folder / f"{name}.eml")
        return "250 Kept"


def make_app() -> Flask:
    """Return the page.  Mail is taken on the port of ``MAIL_SMTP_PORT`` and kept in ``MAIL_FOLDER``."""
    folder = Path(os.environ.get("MAIL_FOLDER", "mail"))
    folder.mkdir(parents=True, exist_ok=True)
    app = Flask(__name__)
    mood = give_moods(app)
    port = int(os.environ["MAIL_SMTP_PORT"])
    Controller(
        Taking(folder, mood), hostname="127.0.0.1", port=port, data_size_limit=MOST, ready_timeout=10
    ).start()

    @app.get("/")
    def page() -> str:
        letters = [_read(path) for path in sorted(folder.glob("*.eml"), reverse=True)[:SHOWN]]
        rows = "".join(_shown(name, letter) for name, letter in letters)
        return _PAGE.replace("@letters@", rows or "<p>No mail yet. What Good Quill sends stands here.</p>")

    @app.get("/letters.json")
    def listed() -> dict[str, Any]:
        letters = [_read(path) for path in sorted(folder.glob("*.eml"))[-SHOWN:]]
        return {"letters": [{"name": name, **_said(letter)} for name, letter in letters]}

    @app.get("/<name>.eml")
    def file(name: str) -> Response:
        path = folder / f"{name}.eml"
        if not _NAME.fullmatch(name) or not path.is_file():
            abort(404)
        return Response(path.read_bytes(), content_type="message/rfc822")

    return app


@lru_cache(maxsize=2_000)  # a letter that has come stays as it is
def _read(path: Path) -> tuple[str, EmailMessage]:
    message = email.message_from_bytes(path.read_bytes(), policy=email.policy.default)
    assert isinstance(message, EmailMessage)
    return path.stem, message


def _said(letter: EmailMessage) -> dict[str, str]:
    body = letter.get_body(preferencelist=("plain",))
    return {
        "to": str(letter["To"] or ""),
        "subject": str(letter["Subject"] or ""),
        "message_id": str(letter["Message-ID"] or ""),
        "date": str(letter["Date"] or ""),
        "text": str(body.get_content()) if body is not None else "",
    }


def _shown(name: str, letter: EmailMessage) -> str:
    said = {key: html.escape(text) for key, text in _said(letter).items()}
    text = _LINK.sub(lambda found: f'<a href="{found[0]}">{found[0]}</a>', said["text"])
    return (
        f"<details><summary><b>{said['subject']}</b><span>{said['to']}</span><time>{said['date']}</time>"
        f'</summary><pre>{text}</pre><p><a href="/{name}.eml">The letter as a file</a></p></details>'
    )


_PAGE = """<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport"
content="width=device-width"><title>Mail</title><style>
body { font: 15px/1.45 system-ui, sans-serif; color: #18202f; background: #eceff0; margin: 0 auto;
  max-width: 860px; padding: 24px 16px; }
h1 { font-size: 22px; margin: 0 0 4px; } p { color: #465162; }
details { background: #fff; border: 1px solid #c3cec7; margin-top: -1px; padding: 8px 14px; }
summary { cursor: pointer; display: flex; flex-wrap: wrap; gap: 2px 14px; }
summary b { flex: 1 1 300px; } summary span, time { color: #465162; font-size: 13px; }
pre { white-space: pre-wrap; font: inherit; overflow-wrap: anywhere; }
</style><h1>Mail</h1><p>A stand-in: whatever Good Quill sends, to whomever, is kept here and goes nowhere.</p>
@letters@"""
