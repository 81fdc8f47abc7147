"""A proxy between runner and server that can cut, drop and hold back what passes."""

from __future__ import annotations

import contextlib
import socket
import threading
from collections.abc import Callable


class Proxy:
    """Listens on a port of its own and passes on to wherever `target` says just now."""

    def __init__(self, target: Callable[[], int]) -> None:
        self.target = target
        self.cut = threading.Event()
        self._ended = threading.Event()
        self._pairs: set[socket.socket] = set()
        self._lock = threading.Lock()
        self._listener = socket.create_server(("127.0.0.1", 0))
        self.port: int = self._listener.getsockname()[1]
        threading.Thread(target=self._accept, daemon=True).start()

    def end(self) -> None:
        """Closes everything."""
        self._ended.set()
        with contextlib.suppress(OSError):
            self._listener.close()
        self.drop()

    def drop(self) -> None:
        """Breaks every connection that is open now."""
        with self._lock:
            pairs, self._pairs = self._pairs, set()
        for one in pairs:
            with contextlib.suppress(OSError):
                one.shutdown(socket.SHUT_RDWR)
            one.close()

    def _accept(self) -> None:
        while not self._ended.is_set():
            try:
                near, _ = self._listener.accept()
            except OSError:
                return
            if self.cut.is_set():
                near.close()
                continue
            try:
                far = socket.create_connection(("127.0.0.1", self.target()), timeout=5)
                far.settimeout(None)
            except OSError:
                near.close()
                continue
            with self._lock:
                self._pairs |= {near, far}
            for one, other in ((near, far), (far, near)):
                threading.Thread(target=self._pump, args=(one, other), daemon=True).start()

    def _pump(self, one: socket.socket, other: socket.socket) -> None:
        with contextlib.suppress(OSError):
            while data := one.recv(65536):
                if self.cut.is_set():
                    break
                other.sendall(data)
        with self._lock:
            self._pairs -= {one, other}
        for end in (one, other):
            with contextlib.suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
            end.close()
