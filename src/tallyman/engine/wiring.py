"""What the engine carries out for each subject: effects, long work, and what it tidies away."""

from __future__ import annotations

from functools import partial

from tallyman.services import alerts, people, robots, runs, tally
from tallyman.services.cases import exports, fact_keeping, other_factors
from tallyman.services.ideas import factors, sheet_coming
from tallyman.services.people import tidying as people_tidying
from tallyman.services.rates import rates
from tallyman.services.starts import called
from tallyman.services.upkeep import tidying
from tallyman.services.upkeep.effects import Carrier
from tallyman.services.upkeep.errands import Handler

EFFECTS = {
    alerts.TELL: Carrier("telling people", alerts.carry),
    rates.FROM_BEFORE: Carrier("posting anew at a rate from before", tally.carry_rate),
    tally.counts.COUNTED: Carrier("posting what was counted by hand", tally.counts.carry),
    tally.POST: Carrier("posting to the tally", tally.carry),
    people.FORGOTTEN: Carrier("a link for a new password", people.carry),
}
ERRANDS: dict[str, Handler] = {
    sheet_coming.ERRAND: partial(sheet_coming.carry_on, keep_facts=fact_keeping.keep_from_outside),
    factors.ERRAND: factors.carry_on,
    exports.ERRAND: exports.carry_on,
    other_factors.ERRAND: other_factors.carry_on,
    people.lists.ERRAND: people.lists.carry_on,
}
TIDIED = {**tidying.TIDIED, **people_tidying.TIDIED, **robots.readings.TIDIED, **runs.TIDIED, **called.TIDIED}
