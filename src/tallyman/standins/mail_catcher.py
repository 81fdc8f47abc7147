"""A mail server that keeps what it gets and shows it on a page; for demo and tests."""

from __future__ import annotations

import html
import json
import signal
import threading
from collections import deque
from email import message_from_bytes, policy
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP as Server
from aiosmtpd.smtp import Envelope, Session

MOST = 500


class Caught:
    """The mails caught so far, the newest first."""

    def __init__(self) -> None:
        self.mails: deque[dict[str, Any]] = deque(maxlen=MOST)

    async def handle_DATA(self, server: Server, session: Session, envelope: Envelope) -> str:
        """Takes one mail."""
        message = message_from_bytes(envelope.original_content or b"", policy=policy.default)
        body = message.get_body(("plain",))
        self.mails.appendleft(
            {
                "to": list(envelope.rcpt_tos),
                "subject": str(message["Subject"]),
                "body": body.get_content() if body else "",
            }
        )
        return "250 taken"

    def page(self) -> str:
        """All mails as one page."""
        rows = "".join(
            f"<article><h2>{html.escape(mail['subject'])}</h2>"
            f"<p>to {html.escape(', '.join(mail['to']))}</p><pre>{html.escape(mail['body'])}</pre></article>"
            for mail in self.mails
        )
        return (
            "<!doctype html><meta charset=utf-8><title>Mails caught</title>"
            "<style>body{font:14px/1.5 sans-serif;max-width:50rem;margin:2rem auto}"
            "h2{font-size:16px;margin:1.5rem 0 0}p{color:#5a6675;margin:0}pre{white-space:pre-wrap}</style>"
            f"<h1>{len(self.mails)} mails caught</h1>{rows or '<p>None yet.</p>'}"
        )


def serve(smtp_port: int, page_port: int) -> int:
    """Catches mails and shows them, until a signal."""
    caught = Caught()
    controller = Controller(caught, hostname="127.0.0.1", port=smtp_port)
    controller.start()

    class Page(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            plain = self.path.startswith("/mails.json")
            text = json.dumps(list(caught.mails)) if plain else caught.page()
            self.send_response(200)
            kind = "application/json" if plain else "text/html; charset=utf-8"
            self.send_header("Content-Type", kind)
            self.end_headers()
            self.wfile.write(text.encode())

        def log_message(self, format: str, *args: Any) -> None:
            """Says nothing."""

    pages = ThreadingHTTPServer(("127.0.0.1", page_port), Page)
    threading.Thread(target=pages.serve_forever, daemon=True).start()
    ended = threading.Event()
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: ended.set())
    ended.wait()
    pages.shutdown()
    controller.stop()
    return 0
