"""`/metrics` in the Prometheus text format: the figures of the health page, and requests by answer."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from prometheus_client import CollectorRegistry, Counter, Histogram, generate_latest
from prometheus_client.core import GaugeMetricFamily, Metric
from prometheus_client.registry import Collector

from tallyman.services.context import Ctx
from tallyman.services.upkeep import health
from tallyman.services.upkeep.answers import Figures

SECONDS = (0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1.0, 2.5, 10.0)


def _gauge(name: str, words: str, value: float | None) -> Metric:
    return GaugeMetricFamily(f"tallyman_{name}", words, value=0.0 if value is None else value)


def _by(name: str, words: str, label: str, values: Mapping[str, float]) -> Metric:
    family = GaugeMetricFamily(f"tallyman_{name}", words, labels=[label])
    for key, value in values.items():
        family.add_metric([key], value)
    return family


def families(found: Figures) -> Iterator[Metric]:
    """The figures of the health page as gauges."""
    yield _by("runs", "Open runs", "state", found.runs)
    yield _by("runs_ended_last_hour", "Runs that ended in the last hour", "state", found.ended_lately)
    waiting = found.oldest_waiting_seconds
    yield _gauge("oldest_waiting_seconds", "How long the first waiting run is due", waiting)
    for name, rows in (("effects", found.effects), ("mails", found.mails)):
        yield _gauge(f"{name}_open", f"Open {name}", rows.open)
        yield _gauge(f"{name}_failing", f"Open {name} that failed at least once", rows.failing)
        yield _gauge(f"{name}_oldest_seconds", f"Age of the oldest of the {name}", rows.oldest_seconds)
    yield _by("rows_failing", "Rows that failed and were not done since", "work", found.failing)
    yield _by("rows_stuck", "Rows that are not tried by themselves any more", "work", found.stuck)
    yield _gauge("triggers_due", "Triggers that are due", found.triggers.due)
    yield _gauge("triggers_late_seconds", "How late the first due trigger is", found.triggers.oldest_seconds)
    kinds: dict[str, float] = {"web": 0, "engine": 0}
    for process in found.processes:
        kinds[process.kind] += 0 if process.silent else 1
    yield _by("processes", "Processes heard from", "kind", kinds)
    hosts = [host for host in found.hosts if host.connected]
    yield _gauge("hosts_connected", "Connected hosts", len(hosts))
    yield _gauge("hosts_silent", "Connected hosts that are silent", sum(host.silent for host in hosts))
    yield _gauge("seats_used", "Seats in use", sum(host.seats_used for host in hosts))
    yield _gauge("database_connections", "Connections to the database", found.database.connections)
    yield _gauge("database_bytes", "Size of the tables", found.database.bytes)


class _Health(Collector):
    """Reads the figures when it is asked."""

    def __init__(self, ctx: Ctx) -> None:
        self.ctx = ctx

    def collect(self) -> Iterator[Metric]:
        """The gauges of this moment."""
        yield from families(health.figures(self.ctx))


class Requests:
    """Counts the requests of this process."""

    def __init__(self) -> None:
        self.registry = CollectorRegistry()
        self.answers = Counter(
            "tallyman_requests", "Answered requests", ["method", "status"], registry=self.registry
        )
        self.seconds = Histogram(
            "tallyman_request_seconds", "Time to the answer", buckets=SECONDS, registry=self.registry
        )

    def answered(self, method: str, status: int, seconds: float) -> None:
        """Counts one answer and how long it took to begin."""
        self.answers.labels(method, str(status)).inc()
        self.seconds.observe(seconds)

    def text(self, ctx: Ctx) -> bytes:
        """Everything in the text format."""
        registry = CollectorRegistry()
        registry.register(_Health(ctx))
        return generate_latest(self.registry) + generate_latest(registry)
