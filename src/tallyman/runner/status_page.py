"""The runner's own page on its host: read-only, on loopback, without secrets."""

from __future__ import annotations

import json
import threading
from html import escape
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

from tallyman.runner.status import Status, lines

PORT = 8421
# The next ones are tried where another runner of this computer has it.
PORTS = 10
LOOPBACK = "127.0.0.1"
OWN_NAMES = (LOOPBACK, "localhost", "[::1]")
HEADS = {
    "Cache-Control": "no-store",
    "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
    "X-Frame-Options": "DENY",
}
STYLE = """
body{font:16px/1.5 system-ui,sans-serif;color:#1d2433;background:#fffef8}
main{max-width:44rem;margin:2rem auto;padding:0 1rem}
h1{font:600 1.5rem Georgia,serif}.state{font-weight:600}.bad{color:#8c2a16}.good{color:#1d6a50}
@media(prefers-color-scheme:dark){body{color:#e8e6dc;background:#171c27}.bad{color:#f0a58f}.good{color:#8fd0b4}}
"""


def page(status: Status) -> str:
    """The page as HTML; it loads itself again every five seconds."""
    told = status.told()
    first, *rest = [escape(line) for line in lines(told)]
    sign, tone = ("✓", "good") if told["connected"] and told["trouble"] is None else ("!", "bad")
    return (
        '<!doctype html><html lang="en"><head><meta charset="utf-8"><meta http-equiv="refresh" content="5">'
        '<meta name="viewport" content="width=device-width"><title>Tallyman runner</title>'
        f"<style>{STYLE}</style></head><body><main><h1>The runner of this computer</h1>"
        f'<p class="state {tone}"><span aria-hidden="true">{sign}</span> {first}</p>'
        + "".join(f"<p>{line}</p>" for line in rest)
        + "</main></body></html>"
    )


class StatusPage:
    """Serves the page until it is closed; `address` is empty where no port was free."""

    def __init__(self, status: Status, port: int = PORT) -> None:
        self.address = ""
        self._server: ThreadingHTTPServer | None = None
        for one in range(port, port + PORTS):
            try:
                self._server = ThreadingHTTPServer((LOOPBACK, one), _handler(status))
            except OSError:
                continue
            self._server.daemon_threads = True
            self.address = f"http://{LOOPBACK}:{self._server.server_port}/"
            threading.Thread(target=self._server.serve_forever, name="status page", daemon=True).start()
            return

    def close(self) -> None:
        """Ends it."""
        if self._server is not None:
            self._server.shutdown()
            self._server.server_close()


def _handler(status: Status) -> type[BaseHTTPRequestHandler]:
    class Handler(BaseHTTPRequestHandler):
        """Answers what is read; nothing can be changed here."""

        server_version, sys_version = "Tallyman-runner", ""

        def do_GET(self) -> None:
            """The page, or the same as JSON."""
            # A page of elsewhere that a browser was led to here by a name of its own is told nothing.
            if self.headers.get("Host", "").rpartition(":")[0] not in OWN_NAMES:
                return self._say(403, "text/plain", "Only for this computer.")
            if self.path == "/":
                return self._say(200, "text/html", page(status))
            if self.path == "/status.json":
                return self._say(200, "application/json", json.dumps(status.told()))
            return self._say(404, "text/plain", "There is no such page.")

        def _say(self, code: int, kind: str, text: str) -> None:
            data = text.encode()
            self.send_response(code)
            for name, value in HEADS.items():
                self.send_header(name, value)
            self.send_header("Content-Type", f"{kind}; charset=utf-8")
            self.send_header("Content-Length", str(len(data)))
            self.end_headers()
            self.wfile.write(data)

        def log_message(self, *_: object) -> None:
            """Nothing is logged of who looks."""

    return Handler
