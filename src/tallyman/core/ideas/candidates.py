"""Where do I begin? Typical work that robots take, by kind and by what it touches, each a start for an idea.

The ranges are our own, of what such work mostly amounts to in a company of some hundreds to a few thousand
people. They help somebody find a beginning; an idea counts by its own answers.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

MONTHS = 12
KINDS = {
    "money": "Money and ledger",
    "customers": "Customers",
    "people": "People and payroll",
    "stores": "Stores and purchasing",
    "field": "Work in the field",
    "quality": "Laboratory, quality and reports",
    "documents": "Mail and documents",
    "systems": "Systems and access",
}
TOUCHES = {
    "sheets": "spreadsheets",
    "mail": "shared mail",
    "web": "a web portal",
    "desktop": "a desktop system",
    "paper": "paper or scans",
}


@dataclass(frozen=True)
class Candidate:
    """Typical work: what it is, what it touches, how many a month and how many minutes each (low, high)."""

    key: str
    kind: str
    title: str
    what: str
    touches: tuple[str, ...]
    a_month: tuple[int, int]
    minutes: tuple[int, int]

    @property
    def hours_a_year(self) -> tuple[Fraction, Fraction]:
        """Hours a year that people spend on it: the low ends together, and the high ends."""
        low, high = (Fraction(MONTHS * n * m, 60) for n, m in zip(self.a_month, self.minutes, strict=True))
        return low, high


def _of(kind: str, *rows: tuple[str, str, str, tuple[int, int], tuple[int, int]]) -> list[Candidate]:
    found = []
    for n, (title, what, touches, a_month, minutes) in enumerate(rows, 1):
        found.append(Candidate(f"{kind}-{n}", kind, title, what, tuple(touches.split()), a_month, minutes))
    return found


CANDIDATES: tuple[Candidate, ...] = (
    *_of(
        "money",
        ("Supplier bills into the ledger", "Read each bill, find its order and receipt, and enter it; hand back what does not match.", "mail desktop paper", (300, 4000), (4, 9)),
        ("Payments matched with open items", "Take each payment of the bank statement and find the open items it settles.", "desktop sheets", (400, 6000), (1, 4)),
        ("Payment reminders", "Pick the items overdue by a number of days and send the reminder that fits.", "desktop mail", (100, 2000), (2, 5)),
        ("Travel claims checked", "Compare each claim with its receipts and the rules, and pass on what is in order.", "web paper", (60, 800), (6, 15)),
        ("Accruals at month end", "Gather what was received and not billed, and post it with its reversal.", "sheets desktop", (20, 200), (5, 12)),
        ("Balances of accounts compared", "Compare two books line by line and list what differs.", "sheets desktop", (20, 300), (10, 40)),
        ("Card statements to cost centres", "Split the monthly card statement by holder and cost centre.", "sheets web", (30, 400), (3, 8)),
        ("Master data of suppliers", "Enter new suppliers and changes after checking address, tax number and bank.", "mail desktop web", (20, 250), (10, 25)),
    ),
    *_of(
        "customers",
        ("Change of address", "Take the new address from form or mail into every system that keeps it.", "mail web desktop", (100, 3000), (4, 9)),
        ("Readings that cannot be right", "Compare new readings with last year's use and ask about those that stand out.", "sheets desktop", (200, 5000), (3, 10)),
        ("Claims and allowances", "Check a claim against job and meter, write the letter, post the credit.", "desktop mail", (40, 600), (8, 20)),
        ("Direct debits set up", "Enter a mandate, check it, and confirm it to the customer.", "paper web desktop", (100, 1500), (4, 8)),
        ("Requests sorted and passed on", "Read incoming requests, name what they want, and pass them to the right desk.", "mail web", (500, 8000), (1, 3)),
        ("Moves in and out", "Close one account, open another, ask for the reading, send the final bill.", "web desktop", (100, 2500), (8, 18)),
        ("Refunds", "Check that a credit is due, that nothing is open, and send it back the way it came.", "desktop web", (30, 500), (6, 15)),
        ("Register of customers with special needs kept alike", "Compare two registers and mend the differences.", "sheets desktop", (50, 600), (3, 8)),
    ),
    *_of(
        "people",
        ("A newcomer's first day made ready", "Order place, tools and accesses from the contract, and follow until all is there.", "mail web desktop", (5, 80), (40, 120)),
        ("A leaver's accesses taken away", "List what somebody holds, ask for its end everywhere, and note the answers.", "web desktop", (5, 80), (30, 90)),
        ("Hours from sheets into payroll", "Take the week's hours over, check them against the shift plan, and list gaps.", "sheets desktop paper", (100, 3000), (2, 5)),
        ("Sick notes", "Note begin and end, tell the team, and file the note.", "mail paper desktop", (30, 500), (4, 8)),
        ("Training that runs out", "Find certificates that end within weeks, write to their holders, note the new ones.", "sheets mail", (20, 400), (4, 10)),
        ("Applications received", "Thank each, put the papers into the file, and list them for the hiring desk.", "mail web", (30, 600), (4, 9)),
        ("Certificates of employment", "Fill the form from the file and send it for signature.", "desktop mail", (5, 100), (15, 40)),
        ("Changes of contract", "Enter a change in all books that hold it, from the day it counts.", "web desktop", (10, 150), (15, 30)),
    ),
    *_of(
        "stores",
        ("Orders below the limit", "Turn a checked request into an order and send it to its supplier.", "web mail desktop", (100, 2000), (4, 8)),
        ("Order confirmations compared", "Compare price, amount and date with the order and ask where they differ.", "mail desktop", (100, 2500), (3, 7)),
        ("Stock counted and booked", "Take the counted amounts over and list what differs by more than a share.", "sheets desktop", (50, 800), (3, 6)),
        ("Parts that fall short", "Look at stock and use, and propose what to order this week.", "sheets desktop", (50, 800), (2, 5)),
        ("Delivery notes to orders", "Find the order of each note and book the receipt.", "paper desktop", (100, 2000), (3, 6)),
        ("Prices of a supplier's list", "Take a new list over, and list what rose by more than a share.", "sheets desktop", (2, 40), (60, 300)),
        ("Framework contracts that end", "Find contracts that end within months and remind their owners in time.", "sheets mail", (5, 80), (10, 25)),
    ),
    *_of(
        "field",
        ("Job sheets into the job book", "Type what the crew noted into the job: times, parts, remarks.", "paper desktop", (200, 4000), (4, 9)),
        ("Permits for works in the road", "Fill the request on the portal from the job, and note the answer.", "web desktop", (30, 500), (10, 25)),
        ("Letters before an inspection", "Write to each address of the plan, and put a copy into the job.", "sheets desktop", (50, 1500), (3, 7)),
        ("Notices when supply stops", "Find the addresses on the map, and send them the time it will be back.", "desktop mail", (10, 200), (15, 45)),
        ("Photos to their jobs", "Take photos from the crew's phones and file each with its job.", "mail desktop", (200, 4000), (1, 3)),
        ("Plans of the week", "Gather open jobs by place and crew, and lay the plan before the planner.", "sheets desktop", (20, 120), (15, 45)),
        ("Contractors' bills against jobs", "Compare what is billed with what the job says was done.", "paper desktop", (40, 600), (8, 20)),
        ("Log of vehicles to the ledger", "Copy loads and mileage from the log to the ledger each day.", "sheets desktop", (200, 2000), (2, 4)),
    ),
    *_of(
        "quality",
        ("Laboratory results into the book", "Take each result over, check it against its limits, attach the certificate.", "sheets desktop", (200, 5000), (3, 7)),
        ("Returns to a regulator", "Gather the figures of the month and fill in the return on the portal.", "sheets web", (2, 40), (60, 300)),
        ("Report of the week", "Draw the same figures from the same places and put them into the same sheet.", "sheets desktop", (4, 60), (30, 180)),
        ("Complaints followed", "List what is open beyond its days, and remind whoever has it.", "desktop mail", (50, 600), (3, 6)),
        ("Checks of documents for a rule", "See that each file holds the papers it must, and list what lacks.", "desktop", (50, 1500), (4, 12)),
        ("Sensors that fall silent", "Look at the last signals, and open a job for each that is missing.", "web desktop", (100, 3000), (1, 4)),
        ("Audit samples drawn", "Draw the sample, gather each case's papers into one folder.", "desktop sheets", (10, 150), (20, 60)),
    ),
    *_of(
        "documents",
        ("Incoming post filed", "Name each document, find its customer or job, and file it there.", "paper mail desktop", (500, 9000), (1, 4)),
        ("Attachments of a mailbox saved", "Save attachments by sender and subject where they belong.", "mail", (200, 5000), (1, 2)),
        ("Forms from a web page entered", "Take what was typed on the web page over into the system behind.", "web desktop", (100, 3000), (3, 7)),
        ("Standard letters written", "Fill the letter from the system, and put it out for post or mail.", "desktop", (100, 3000), (2, 6)),
        ("Contracts' main points listed", "Note parties, dates and notice of each contract in one list.", "paper sheets", (10, 200), (15, 40)),
        ("Meeting papers put together", "Gather the papers of each item, and send them out in time.", "mail sheets", (2, 30), (45, 150)),
        ("Signed forms chased", "See which forms are not back, and remind those who have them.", "mail sheets", (30, 500), (3, 6)),
    ),
    *_of(
        "systems",
        ("Accesses asked for", "Check the request against the role, enter the access, tell who asked.", "web desktop mail", (50, 800), (5, 12)),
        ("Accesses looked over", "List who holds what, ask their leads, and take away what nobody wants.", "sheets web", (20, 300), (10, 25)),
        ("Passwords set anew", "Check who asks, set it anew, and send it the safe way.", "mail desktop", (50, 900), (4, 8)),
        ("Two systems kept alike", "Compare two lists each night, and mend what differs.", "sheets desktop", (30, 600), (2, 6)),
        ("Tickets sorted", "Read each ticket, name its service and urgency, and pass it on.", "web mail", (200, 4000), (1, 4)),
        ("Overnight jobs looked at", "See which jobs ended well, start again what may be, and tell whom it concerns.", "desktop mail", (20, 60), (15, 45)),
        ("Devices in the inventory", "Compare what is on the network with what the inventory says.", "sheets desktop", (30, 600), (3, 8)),
    ),
)  # fmt: skip
BY_KEY = {one.key: one for one in CANDIDATES}


def fitting(kind: str | None, touches: str | None) -> list[Candidate]:
    """The candidates of a kind of work that touch something, the most hours at their low end first."""
    found = [
        one
        for one in CANDIDATES
        if (kind is None or one.kind == kind) and (touches is None or touches in one.touches)
    ]
    return sorted(found, key=lambda one: (-one.hours_a_year[0], one.key))
