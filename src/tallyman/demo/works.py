"""A hundred pieces of work of Merrowdale Water, as its people hand them in: all of it made up."""

from __future__ import annotations

from dataclasses import dataclass

# Who hands them in, by division; all proposers.
PROPOSERS = {
    "N": ("Ilse Marten", "Rafa Quint", "Dora Helm", "Pia Strand", "Goran Vell", "Tilda Ashe"),
    "T": ("Emil Varn", "Sanna Pryce", "Oskar Lind", "Mina Toll", "Rosa Keel"),
    "C": ("Jana Birk", "Felix Orme", "Nadia Sund", "Theo Marsh", "Lotte Grey", "Amos Reed"),
    "F": ("Ruben Holt", "Asta Fenn", "Viktor Dale", "Ines Calder"),
    "O": ("Mara Finch", "Leon Bray", "Uma Stroud", "Piet Halden", "Clara Nye"),
}
DIVISION_OF = {
    "N": "Networks",
    "T": "Treatment & Laboratory",
    "C": "Customers & Metering",
    "F": "Fleet & Stores",
    "O": "Corporate",
}
OWNER_OF = {
    "N": "Corin Dahl",
    "T": "Lena Brook",
    "C": "Owen Tarr",
    "F": "Hanne Vik",
    "O": "Ruth Abernathy",
}
SYSTEMS_OF = {
    "N": ("Fettlebook", "Culvertline", "Kerbgate"),
    "T": ("Assayroom", "Fettlebook"),
    "C": ("Dialhouse", "shared mail"),
    "F": ("Fettlebook", "Sumhall"),
    "O": ("Sumhall", "shared spreadsheets"),
}


@dataclass(frozen=True)
class Work:
    """A piece of work: division, title, what happens, volume and rhythm, minutes, of ten judged and off the
    way, what it arrives as, how many days ago it was handed in, and where it stands by now."""

    division: str
    title: str
    what: str
    volume: str
    rhythm: str
    minutes: str
    judge: int
    off: int
    arrives: str
    days: int
    stage: str


# division | title | what | volume rhythm | minutes | judge off | arrives | days ago | stage
ROWS = """
N|Valve status onto the map|Copy each closed or opened valve from the job book onto the map and tell the night desk.|30 working day|6|1 1|screen 2, mail 1|690|screened
N|Pressure complaints by street|Sort the complaints about low pressure by street and pumping zone and send the list to the shift lead.|45 week|8|2 2|mail 1, free text 1|610|withdrawn
N|Dig notices to the bus company|Tell the bus company which stops a dig will close, a week before and once more the day before.|18 week|12|1 2|screen 1, mail 1|540|declined
N|Reinstatement photo check|Look at each photo of a closed trench, see that the surface is whole, and file it with the job.|110 week|4|5 2|image 3, screen 1|470|parked
N|Night-flow exceptions|Read the night flows of all zones, find those that rose, and open a survey job for each.|210 working day|2|1 1|data feed 1|450|building
N|Contractor day sheets|Type the hours and materials from the contractors' day sheets into the job book.|60 working day|9|1 3|scan 2, handwriting 1|420|stuck
N|Road-opening fee check|Compare the fee the council asks for each opening with the days the trench was open.|70 week|11|2 2|fixed-layout PDF 1, screen 1|400|in service
N|Leak survey routes|Put the streets to be surveyed next week into an order and send it to the crews.|5 week|55|4 3|database 1, screen 1|380|declined
N|Standpipe hire returns|Note the meter of each returned standpipe, work out the bill and write it.|34 month|18|1 2|fixed form 1|350|sized
N|Mains flushing letters|Write to the homes in the streets to be flushed, with the day and the hours.|900 month|2|0 1|spreadsheet 1|330|building
N|Fire-flow test results|Take the results of flow tests from the form into the map and tell the fire service.|28 month|14|1 1|fixed form 2, mail 1|310|backed
N|Asset tags from site photos|Read the tag in each photo and add the photo to the asset.|240 week|3|2 3|image 1|290|parked
N|Crossing agreements with the railway|Find what crosses the railway, fill in the yearly list and send it with the plans.|120 year|50|3 2|database 1, fixed form 1|270|screened
N|Pump station visit reports|Take the visit report from the mail, check it against the visit plan and file it.|85 week|7|1 1|fixed-layout PDF 2, mail 1|240|sized
N|Traffic order requests|Fill in the request for a closed road from the job and attach the plan.|26 week|25|2 2|screen 1, fixed form 1|215|sized
N|Burst cost claims|Gather hours, materials and damage of a burst by a third party and write the claim.|14 month|120|4 4|screen 1, mail 1, scan 1|200|screened
N|Service pipe records|Type the sketches of new service pipes into the map.|95 week|10|2 3|handwriting 1, scan 2|180|screened
N|Chamber cover defects|Sort the defects that crews mail, find the chamber on the map, and open a job.|75 week|6|1 2|mail 2, image 1|160|screened
N|Valve notes onto the map|Take each valve that was opened or closed over from the job book onto the map.|25 working day|6|1 1|screen 1|150|same:Valve status onto the map
N|Dig permits close to trees|Find out which digs lie close to a listed tree and ask the council.|22 week|15|3 2|database 1, screen 1|120|noted
N|Zone meter swap list|Each month list the zone meters that are due, and order them.|40 month|9|0 1|database 1|95|screened
N|Crew certificates that run out|Look for certificates of crew members that run out in the quarter and book the course.|70 quarter|12|1 1|spreadsheet 1|60|noted
N|Street-works penalties by cause|Read each penalty letter, find its cause, and book it to the contractor.|35 month|22|3 2|fixed-layout PDF 1, scan 1|48|screened
N|Trench depth records|Note the depth of each trench from the site form.|160 week|2|0 2|handwriting 2, fixed form 1|31|noted
N|Leak repair thank-you notes|Write to whoever reported a leak that was repaired.|130 week|4|0 1|screen 1|12|noted
T|Sample round labels|Print labels for tomorrow's round from the plan, in the order of the route.|55 working day|5|0 1|spreadsheet 1|680|in service
T|Turbidity alarms into the log|Copy each alarm with its time, value and cause into the works log.|40 working day|4|2 1|data feed 1|640|declined
T|Chlorine dose sheet|Add up the doses of the day for each works and compare them with the stock.|9 working day|20|1 1|spreadsheet 1|590|building
T|Certificate reminders to laboratories|Remind outside laboratories of certificates that are late.|60 week|5|0 1|mail 1, database 1|555|building
T|Sludge tonnage return|Gather the tonnage of each load and fill in the quarterly return.|480 quarter|6|0 1|scan 1, spreadsheet 2|500|backed
T|Out-of-limit samples|When a sample is out of limits, open the case, find the zone and tell those on duty.|12 week|35|5 3|data feed 1|480|declined
T|Instrument calibration due|List the instruments that are due, plan the visit, and file the sheet.|38 week|11|1 1|database 1|430|sized
T|Reagent stock orders|Order what falls below its limit from the supplier's form.|24 week|10|1 1|spreadsheet 1, fixed form 1|395|sized
T|Works visit passes|Ask for a pass for each visitor, and take it back at the end.|33 week|6|0 1|mail 1, fixed form 1|360|declined
T|Lead pipe sampling letters|Write to the homes that were drawn, note who answers, and send the bottle.|210 month|7|1 2|spreadsheet 1, mail 1|325|in service
T|Data for the drinking-water register|Once a month put all results into the form of the register.|1400 month|1.5|0 1|database 1|300|backed
T|Energy readings of pumps|Read the meters of pumps from photos that the shift sends.|300 week|2|1 2|image 1|255|parked
T|Filter wash counts|Count the washes of each filter from the log and find those out of line.|64 week|5|2 1|data feed 1|225|screened
T|Discharge consent checks|Compare each day's discharge with the consent and note what is above.|16 working day|8|2 1|database 1|205|screened
T|Reminders for late certificates|Remind the laboratories outside of certificates that did not come in time.|55 week|5|0 1|mail 1|190|same:Certificate reminders to laboratories
T|Odour diary|Put the entries of the odour diary of three works into one list.|90 week|4|1 2|handwriting 1|140|declined
T|Tank inspection films|Name and file the films of tank inspections.|20 month|25|1 1|image 1|110|noted
T|Rain gauge corrections|Compare each gauge with its neighbours and mend what cannot be right.|44 week|9|3 2|data feed 1|80|noted
T|Contract laboratory bills|Compare the bill with the samples that were sent.|6 month|95|1 2|fixed-layout PDF 1, database 1|52|screened
T|Bathing water notices|Put a notice on the page and on the boards when a sample is poor.|10 month|40|4 2|database 1|20|noted
C|Moving-in forms|Take name, day and meter reading from the form into the meter store and send the welcome letter.|520 week|6|1 2|fixed form 3, mail 1|670|building
C|Direct debit changes|Note a changed bank account after checking it, and confirm it to the customer.|310 week|4|0 1|fixed form 2, mail 2|655|in service
C|Refunds below thirty|Check the credit, see that nothing else is owed, and pay it back.|140 week|5|1 1|database 1, screen 1|600|stuck
C|Meter photos from customers|Read the number in the photo, compare it with the last reading, and book it.|680 week|2|1 2|image 3, mail 1|575|parked
C|Returned letters|Find the new address of letters that came back, or mark the account.|160 week|8|3 3|scan 1, screen 1|520|declined
C|Payment plans that broke|Find the plans with a missed payment, write the letter, and set a day to look again.|230 week|5|1 1|database 1|495|in service
C|Meter exchange bookings|Offer three dates, note the answer, and book the fitter.|190 week|9|1 3|mail 2, talk 1|460|sized
C|Tenancy changes from landlords|Read the landlord's list and change the accounts.|45 week|30|2 3|spreadsheet 2, mail 1|440|backed
C|Estimated bills that were disputed|Look at past readings, estimate anew, and answer.|85 week|18|4 3|mail 1, screen 1|410|declined
C|Large-user readings|Take the monthly readings of large users from their mails.|140 month|6|1 1|mail 1, spreadsheet 1|370|sized
C|Priority-care renewals|Ask once a year whether the special need still holds, and note the answer.|4200 year|5|1 2|fixed form 1, mail 1|340|screened
C|Complaints to the right desk|Read each complaint and send it to the desk that answers for it.|420 week|3|3 2|mail 1, free text 1|320|screened
C|Meter not found reports|Compare the fitter's report with the map and write to the customer.|38 week|14|2 2|screen 1, mail 1|285|sized
C|Leaflets with the yearly bill|Choose the leaflet for each home by its zone and tariff.|410000 year|0.05|0 1|database 1|265|declined
C|Water-hardness certificates|Answer the ask for a certificate with the one of the zone.|95 week|4|0 1|mail 1, database 1|235|building
C|Change of address by mail|Take the new address from the mail and change the account.|280 week|4|1 2|mail 1|220|screened
C|Smart meter silence|List the meters that were silent for a week and sort them by what the last signal said.|150 week|3|1 1|data feed 1|195|sized
C|Tariff checks for charities|See whether the charity is still on the register and keep the tariff.|600 year|12|1 1|database 1|175|screened
C|Debt letters to the dead|Find accounts whose holder died before a letter goes out.|25 week|20|5 4|database 1, free text 1|155|declined
C|Moving in, by the web form|Take what the web form says into the meter store, and send the welcome letter.|180 week|5|1 1|fixed form 1|135|same:Moving-in forms
C|Voice notes of the night line|Write down what callers left on the night line.|60 week|7|3 2|talk 1|115|noted
C|Bill copies on request|Find the bill and send it.|230 week|3|0 1|mail 1|90|noted
C|Readings by postcard|Type the readings from postcards.|75 week|2|0 1|handwriting 1|75|declined
C|Refund checks above three hundred|Gather what is needed for the second signature.|22 week|25|3 2|screen 1|55|screened
C|Leak alarms from smart meters|Write to homes whose meter never stands still, and look again after two weeks.|130 week|6|1 1|data feed 1|37|noted
C|Welcome calls to large users|List new large users for a call.|12 month|15|2 1|database 1|15|noted
F|Fuel card receipts|Match each receipt with the card and the vehicle.|420 month|3|1 1|scan 1, spreadsheet 2|665|in service
F|Vehicle inspection dates|List vehicles that are due, book the workshop, and tell the driver.|36 week|8|1 1|database 1|630|building
F|Tyre orders by depot|Order tyres from the frame contract when the stock falls.|9 week|14|1 1|spreadsheet 1|580|declined
F|Delivery notes to orders|Match the delivery note with the order and book the goods in.|65 working day|5|1 2|scan 2, fixed-layout PDF 1|545|sized
F|Tool loans that are late|Remind whoever has a tool longer than agreed.|80 week|3|0 1|spreadsheet 1|510|withdrawn
F|Driver licence checks|Ask the register twice a year for each driver.|620 year|6|0 1|fixed form 1, screen 1|465|building
F|Speed camera letters|Find who drove, answer the letter, and tell them.|14 month|30|2 2|scan 1|425|declined
F|Stock count sheets|Type the counts of the depots into the ledger and find what does not fit.|5 month|240|1 2|handwriting 1, spreadsheet 1|385|sized
F|Skip hire bills|Compare each bill with the skips that were ordered.|55 month|9|1 1|fixed-layout PDF 1|345|screened
F|Returned parts|Book returned parts in and write the credit.|28 week|11|1 2|fixed form 1|305|screened
F|Depot key log|Note who has which key.|150 week|1|0 1|handwriting 1|260|withdrawn
F|Fuel receipts that lack a vehicle|Find the vehicle for receipts without one.|40 month|7|2 2|scan 1|210|same:Fuel card receipts
F|Hire vehicle extensions|Ask whether a hire goes on before it ends, and extend it.|17 week|12|2 1|mail 1|145|screened
F|Winter salt orders|Order salt for the depots by the forecast.|60 year|35|4 2|data feed 1|85|noted
F|Accident report forms|Put the form into the insurer's format.|11 month|45|2 2|fixed form 1, image 1|42|noted
O|Supplier bank changes|Check a changed account by calling back, and note it.|24 week|15|3 2|mail 1, fixed form 1|675|declined
O|Purchase bills without an order|Find the order or the person who bought, and ask.|190 week|9|2 3|fixed-layout PDF 2, scan 1|620|stuck
O|Month-end stock postings|Post the movements of the stores into the ledger.|2100 month|0.8|0 1|database 1|565|backed
O|New starters' accounts|Ask for the accounts and keys of a new colleague and tick them off.|30 month|40|1 1|fixed form 1|530|sized
O|Leave cards of contractors|Type the leave of contractors into the list.|90 month|3|0 1|mail 1|490|declined
O|Travel claims|Check a claim against the rules and book it.|260 month|7|1 2|fixed form 1, scan 1|455|in service
O|Board papers bundle|Gather the papers of nine departments into one file with numbers.|12 year|300|2 2|fixed-layout PDF 1|405|declined
O|Insurance list of assets|Once a year compare the asset list with the policy.|2600 year|1|1 1|spreadsheet 1|355|screened
O|Supplier statements|Compare each statement with the ledger and ask about what is open.|130 month|12|1 2|fixed-layout PDF 1|315|sized
O|Training list by team|Send each team lead the list of trainings that run out.|55 month|6|0 1|spreadsheet 1|275|screened
O|Log of asks for records|Note each ask, its day, and who answers.|28 month|14|3 2|mail 1|245|noted
O|Statements of suppliers|Compare the statements that suppliers send with our ledger.|110 month|11|1 2|fixed-layout PDF 1|170|same:Supplier statements
O|Grant claims|Gather the hours and bills for each grant and fill in the form.|16 quarter|160|3 2|spreadsheet 1, fixed form 1|130|screened
O|Meeting room signs|Print the plan of the day for each room.|12 working day|2|0 1|spreadsheet 1|70|declined
O|Retention of old files|List what may go, ask the owner, and note the answer.|300 quarter|6|2 1|spreadsheet 1|45|noted
O|Petty cash of the depots|Check the sheets and book them.|40 month|9|1 1|scan 1, handwriting 1|25|noted
"""


def _work(line: str) -> Work:
    division, title, what, volume, minutes, counts, arrives, days, stage = line.split("|")
    amount, _, rhythm = volume.partition(" ")
    judge, off = (int(part) for part in counts.split())
    return Work(division, title, what, amount, rhythm, minutes, judge, off, arrives, int(days), stage)


WORKS = tuple(_work(line) for line in ROWS.strip().splitlines())
DECLINED = (
    ("too little volume", "There are too few of them for what it would cost to build."),
    ("about to change or end", "The form and its system are replaced within the year; we look again then."),
    ("needs too much judgement", "Most of them are decided case by case, which is what you are good at."),
    ("better mended another way", "A rule at the sender's end does away with most of them."),
)
STUCK = (
    "The test system is away until the provider has moved it.",
    "The screen changed with the last update; its owner has to say which fields stay.",
    "Nobody answers for the mailbox since the move of the desk.",
)
PARKED = "The new reader for pictures is tried first"
TALK = (
    "How many of these come in the first week of a month?",
    "We could ask the sender for a data feed instead.",
    "I can show it on a Tuesday, when they come in.",
    "Is the second look really needed for all of them?",
)
ASKED = "What happens when something is missing?"
# Registered by the team: built years ago on a desk, with no run here.
RUNNING = "A small program on a desk of the department, written by a colleague who left"
# A list that a depot kept, brought and not yet taken in: with what such lists have.
LIST_NAME = "depot list.csv"
LIST = """Ideas of the mill depot;;;;;;
;;;;;;
Ref.;Name of the work;What happens;How many;Time each (min);Dept.;Process owner (mail)
MD-1;Gate log of the depot;Who comes and goes is written down and typed over.;1.200 per month;1,5;Fleet & Stores;hanne.vik@merrowdale.example
MD-2;Pallet labels;Labels are written by hand.;45/day;0,5;Fleet & Stores;
MD-3;Return of empty drums;The supplier's form is filled in.;30 a month;12;Fleet & Stoers;Hanne Vik
MD-4;Fuel tank dips;The dips are compared with what was drawn.;daily 4;10 min;Fleet & Stores;Hanne Vik
MD-5;Tool marking;;lots;5;Fleet & Stores;
MD-6;;The weighbridge slips are sorted.;90 per week;1,2;Fleet & Stores;
MD-7;Scrap weights;Weights go from the slip into the ledger.;22 per week;0:06;?;Hanne Vik
MD-2;Labels for pallets;The same as above;45/day;0,5;Fleet & Stores;
MD-8;=Lost keys;A list of keys that are not where they should be.;3 a month;30;Corporate;nobody.here@merrowdale.example
"""
