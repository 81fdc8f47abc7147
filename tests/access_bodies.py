"""For each route that takes one: a body that fits, with $names of what is there in tests/access_world.py."""

from __future__ import annotations

import json
from typing import Any

from tallyman.core.ideas import factors
from tallyman.core.ideas.interviews import STANDARD, as_content
from tallyman.signed import make_key
from tests.world import package

INTERVIEW = json.dumps({**as_content(STANDARD["short"]), "note": "shorter"})
FACTORS = json.dumps({"content": factors.as_content(factors.STANDARD), "note": "as they were"})
ROWS = '{"text": "rows\\n1"}'
SEEN_BY_AREA = '{"seen_by": "area", "area_id": $area}'
GIVEN_ROUTINE = (
    '{"name": "New", "area_id": $area, "release_id": $release, "inputs": {}, "tags": [], "priority": 3,'
    ' "run_limit": 1, "lease_minutes": 15, "limit_minutes": 60, "again_after_lost": false}'
)
MAIL = '{"host": "127.0.0.1", "port": 9, "security": "none", "sender": "t@merrowdale.example"}'
PAGE = '{"title": "Count", "does": "Counts.", "asks": ["rows"], "keeper_id": $asker}'
TRIGGER = '{"form": {"expr": "0 6 * * *"}, "zone": "UTC"}'
ROLE = '{"name": "Another", "permissions": ["run.see"]}'
ZIP = {"files": {"file": ("p.zip", package("3.0.0"), "application/zip")}, "data": {"note": "third"}}
VARIANT = '{"name": "Fewer", "changes": {"handling_minutes": "9"}, "version": 1}'
SYSTEMS = '{"text": "system,access\\nOther,web\\n"}'
ICAL = (
    "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//x//EN\r\nBEGIN:VEVENT\r\nUID:1\r\n"
    "DTSTAMP:20260101T000000Z\r\nDTSTART;VALUE=DATE:20270104\r\nSUMMARY:Off\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
)
BODIES: dict[tuple[str, str], tuple[Any, dict[str, Any]]] = {
    ("post", "/access/groups"): ('{"name": "Other"}', {}),
    ("put", "/access/groups/{number}"): ('{"name": "Other"}', {}),
    ("post", "/access/holders"): ('{"role": $role, "person": $invited, "area": $area}', {}),
    ("post", "/access/requests"): ('{"words": "please"}', {}),
    ("post", "/access/requests/{number}/decide"): ('{"role": $role, "area": $area}', {}),
    ("post", "/access/roles"): (ROLE, {}),
    ("put", "/access/roles/{number}"): (ROLE, {}),
    ("get", "/access/why"): (None, {"query": "?person=$asker&permission=run.see"}),
    ("post", "/ideas/{number}/sizing/requests"): ('{"person": $asker, "words": "please"}', {}),
    ("post", "/ideas/{number}/preview"): ('{"values": {"steps": "3"}}', {}),
    ("post", "/ideas/{number}/sizing/points/{point}"): ('{"words": "as it is"}', {}),
    ("put", "/asked-sizings/{token}/facts"): ('{"values": {"steps": "3"}}', {}),
    ("post", "/asked-sizings/{token}/done"): ('{"remark": ""}', {}),
    ("post", "/ideas/{number}/variants"): (VARIANT, {}),
    ("put", "/ideas/{number}/variants/{variant}"): (VARIANT, {}),
    ("post", "/ideas/{number}/promise"): ('{"reason": "more came", "seen": 1}', {}),
    ("put", "/ideas/{number}/spent"): ('{"phase": "Build", "person_days": "3"}', {}),
    ("put", "/ideas/{number}/demand"): ('{"month": "2026-01", "items": "3"}', {}),
    ("post", "/systems"): ('{"name": "Other", "access": "web"}', {}),
    ("put", "/systems/{number}"): ('{"name": "Other", "access": "web"}', {}),
    ("post", "/systems/{number}/retire"): ('{"retired": true}', {}),
    ("post", "/systems/list"): (SYSTEMS, {}),
    ("post", "/systems/list/look"): (SYSTEMS, {}),
    ("get", "/calendars/{year}"): (None, {"query": "?area=$area"}),
    ("get", "/calendars/ical"): (None, {"query": "?area=$area"}),
    ("get", "/calendars/holidays"): (None, {"query": "?country=PT&year=2027"}),
    ("post", "/calendars/ical/look"): (json.dumps({"text": ICAL}), {}),
    ("post", "/calendars/closed-days"): (
        '{"area": $area, "days": [{"day": "2030-01-01", "name": "Off"}]}',
        {},
    ),
    ("post", "/areas"): ('{"name": "Lower", "parent_id": $area}', {}),
    ("post", "/areas/closed-days"): ('{"area": $area, "day": "2030-01-01", "name": "Off"}', {}),
    ("delete", "/areas/closed-days/{day}"): (None, {"query": "?area=$area"}),
    ("get", "/areas/{number}/move"): (None, {"query": "?parent=$far"}),
    ("post", "/areas/{number}/move"): ('{"parent": $far}', {}),
    ("put", "/areas/{number}/name"): ('{"name": "Renamed"}', {}),
    ("put", "/areas/{number}/screens"): ('{"on": true}', {}),
    ("put", "/areas/{number}/approving"): ('{"on": true}', {}),
    ("post", "/clock/preview"): (TRIGGER, {}),
    ("post", "/forgotten"): ('{"email": "x@merrowdale.example"}', {}),
    ("post", "/health/hitches/{number}/aside"): ('{"why": "not needed"}', {}),
    ("post", "/hosts"): ('{"name": "Penstock", "seats": 1}', {}),
    ("put", "/hosts/{number}/hours"): ('{"start": "08:00", "end": "18:00", "zone": "UTC"}', {}),
    ("put", "/rules/applications"): (
        '{"applications": [], "note": "none"}',
        {"headers": {"If-Match": '"0"'}},
    ),
    ("put", "/hosts/{number}/accounts/{account}/password"): ('{"value": "reed-and-rush"}', {}),
    ("post", "/areas/{number}/here"): ('{"what": "routine", "id": $routine}', {}),
    ("put", "/secrets/{number}/own"): (
        '{"whose": "host", "id": $host, "value": "reed-and-rush-8"}',
        {},
    ),
    ("post", "/my-computer"): ('{"name": "Desk"}', {}),
    ("post", "/my-computer/runs/{number}/answer"): ('{"answer": "now"}', {}),
    ("post", "/releases/{number}/withdraw"): ('{"why": "it was released in error"}', {}),
    ("post", "/routines/takers"): ('{"area_id": $area, "release_id": $release}', {}),
    ("put", "/hosts/{number}/maintenance"): ('{"why": "new memory"}', {}),
    ("put", "/hosts/{number}/name"): ('{"name": "Penstock 2"}', {}),
    ("post", "/robots/list"): ('{"text": "robot,host\\nOther,Weir\\n"}', {}),
    ("post", "/robots/list/look"): ('{"text": "robot,host\\nOther,Weir\\n"}', {}),
    ("post", "/seats/lots"): ('{"kind": "builder", "number": 2, "first_on": "2026-01-01"}', {}),
    ("put", "/seats/lots/{number}"): ('{"kind": "builder", "number": 2, "first_on": "2026-01-01"}', {}),
    ("put", "/seats/given"): ('{"kind": "builder", "whom": "person", "holder_id": $asker, "number": 1}', {}),
    ("put", "/hosts/{number}/seats"): ('{"seats": 2}', {}),
    ("post", "/entries"): (
        '{"answers": {"title": "Straight in", "what": "It is done"}, "why": "agreed in the round"}',
        {},
    ),
    ("put", "/ideas/{number}/amends"): ('{"amends": $idea}', {}),
    ("put", "/ideas/{number}/interview"): ('{"interview": "short"}', {}),
    ("put", "/ideas/{number}/files/{file_id}"): ('{"kind": "drawing", "title": "The way"}', {}),
    ("post", "/ideas/many"): ('{"ids": [$open], "act": "follow"}', {}),
    ("post", "/pictures/{ending}"): ('{"title": "Net", "columns": ["n"], "rows": [["1"], [2], [null]]}', {}),
    ("put", "/profile/thanks"): ('{"hidden": true}', {}),
    ("put", "/rules/interviews/{kind}"): (INTERVIEW, {"headers": {"If-Match": '"0"'}}),
    ("post", "/rules/factors/preview"): (json.dumps({"content": json.loads(FACTORS)["content"]}), {}),
    ("post", "/rules/factors/preview/sizings"): (
        json.dumps({"content": json.loads(FACTORS)["content"]}),
        {},
    ),
    ("put", "/rules/rates"): (
        '{"from_before": "refused", "note": "audit"}',
        {"headers": {"If-Match": '"0"'}},
    ),
    ("put", "/rules/cases"): ('{"seats": "share", "note": "fair"}', {"headers": {"If-Match": '"0"'}}),
    ("put", "/rules/factors"): (FACTORS, {"headers": {"If-Match": '"0"'}}),
    ("put", "/rules/stages"): (
        '{"stages": {"noted": {"days": 4}}, "note": "sooner"}',
        {"headers": {"If-Match": '"0"'}},
    ),
    ("put", "/rules/browsing"): (
        '{"reach": "own", "note": "as they asked"}',
        {"headers": {"If-Match": '"1"'}},
    ),
    ("put", "/rules/helped"): (
        '{"weights": {"screened": "2"}, "note": "twice"}',
        {"headers": {"If-Match": '"0"'}},
    ),
    ("put", "/rules/thanks"): ('{"kinds": ["screened"], "note": "fewer"}', {}),
    ("post", "/sheets"): (None, {"files": {"file": ("l.csv", b"title,what\nTwo,It is done\n", "text/csv")}}),
    ("put", "/sheets/{number}/match"): ('{"columns": {"title": 0}}', {}),
    ("post", "/ideas/{number}/counts"): (
        '{"first": "2026-01-05", "last": "2026-01-09", "units": "4", "evidence": "the book"}',
        {},
    ),
    ("post", "/ideas/{number}/counts/list"): ('{"text": "month,units\\n2026-01,4\\n"}', {}),
    ("post", "/ideas/{number}/counts/list/look"): ('{"text": "month,units\\n2026-01,4\\n"}', {}),
    ("put", "/counts/{number}"): ('{"units": "5", "evidence": "the book", "why": "one more"}', {}),
    ("post", "/counts/{number}/take-back"): ('{"why": "it was none"}', {}),
    ("post", "/ideas/{number}/measures"): (
        '{"phase": "before", "minutes": "4", "day": "2026-01-05", "evidence": "a look"}',
        {},
    ),
    ("post", "/ideas/{number}/measures/promise/look"): (
        '{"volume_per_year": "9", "minutes_before": "4", "minutes_after": "1", "go_live": "2026-01-05"}',
        {},
    ),
    ("put", "/ideas/{number}/measures/promise"): (
        '{"volume_per_year": "9", "minutes_before": "4", "minutes_after": "1", "go_live": "2026-01-05"}',
        {},
    ),
    ("put", "/sheets/{number}/head"): ('{"row": 0}', {"headers": {"If-Match": '"2"'}}),
    ("put", "/sheets/{number}/words"): (
        '{"of": "kind", "theirs": "Paper", "ours": "scan"}',
        {"headers": {"If-Match": '"2"'}},
    ),
    ("put", "/sheets/{number}/lines/{line}"): (
        '{"cells": {"1": "It is done twice"}}',
        {"headers": {"If-Match": '"2"'}},
    ),
    ("put", "/sheets/{number}/lines/{line}/choice"): ('{"choice": "same"}', {"headers": {"If-Match": '"2"'}}),
    ("post", "/views"): ('{"name": "New", "query": "late=1"}', {}),
    ("put", "/views/{number}"): ('{"name": "New", "query": "late=1"}', {}),
    ("get", "/hosts/{number}/seats"): (None, {"query": "?seats=1"}),
    ("get", "/ideas/similar"): (None, {"query": "?title=leak"}),
    ("put", "/ideas/{number}/answers/{question}"): ('{"value": "Another title"}', {}),
    ("put", "/ideas/{number}/answers/{question}/judgement"): ('{"accepted": true, "note": ""}', {}),
    ("put", "/ideas/{number}/area"): ('{"area": $far}', {}),
    ("post", "/ideas/{number}/back"): ('{"words": "worth it"}', {}),
    ("post", "/ideas/{number}/decline"): ('{"reason": "too little volume", "words": "for now"}', {}),
    ("put", "/ideas/{number}/facts"): ('{"values": {"steps": "3"}, "source": "talk"}', {}),
    ("post", "/ideas/{number}/files"): (
        None,
        {"files": {"file": ("a.md", b"text", "text/markdown")}, "data": {"kind": "how-to"}},
    ),
    ("post", "/ideas/{number}/helpers"): ('{"person": $asker, "task": "look"}', {}),
    ("post", "/ideas/{number}/park"): ('{"until": "$soon", "why": "waits"}', {}),
    ("post", "/ideas/{number}/reopen"): ('{"why": "again"}', {}),
    ("post", "/ideas/{number}/retire"): ('{"why": "it ends"}', {}),
    ("post", "/ideas/{number}/merge"): ('{"into": $idea}', {}),
    ("post", "/ideas/{number}/route"): (
        '{"route": "training", "measure": "teach it", "owner": $asker, "due": "$soon"}',
        {},
    ),
    ("put", "/ideas/{number}/stuck"): ('{"why": "no test system"}', {}),
    ("post", "/ideas/{number}/measure-done"): ('{"words": "done"}', {}),
    ("post", "/ideas/{number}/withdraw"): ('{"why": "not needed"}', {}),
    ("post", "/ideas/{number}/comments"): ('{"text": "Hello"}', {}),
    ("put", "/ideas/{number}/comments/{comment}"): ('{"text": "Hello"}', {}),
    ("put", "/ideas/{number}/voice"): ('{"note": "good"}', {}),
    ("put", "/ideas/{number}/follow"): ('{"on": true}', {}),
    ("put", "/ideas/{number}/matches/{other}"): ('{"verdict": "other"}', {}),
    ("post", "/ideas/{number}/not-mine"): ('{"person": null, "why": "not our work"}', {}),
    ("post", "/ideas/{number}/screen"): ('{"expert_id": null}', {}),
    ("post", "/ideas/{number}/sizing/settle"): ('{"agreed": false, "note": "once more"}', {}),
    ("post", "/links/invitation/{token}"): (
        '{"name": "A", "password": "six-otters-swim", "zone": "UTC"}',
        {},
    ),
    ("post", "/links/password/{token}"): ('{"password": "six-otters-swim"}', {}),
    ("post", "/notifications/read"): (None, {"query": "?upto=1"}),
    ("post", "/people/invitations"): ('{"email": "new@merrowdale.example", "name": "New"}', {}),
    ("put", "/people/{number}"): ('{"name": "Renamed"}', {}),
    ("post", "/people/{number}/leaving"): ('{"to": null}', {}),
    ("put", "/profile"): ('{"name": "Me", "zone": "UTC", "locale": "en-GB"}', {}),
    ("put", "/profile/away"): ('{"end": null}', {}),
    ("put", "/profile/password"): ('{"old": "meadow-and-weir-9", "new": "six-otters-swim"}', {}),
    ("post", "/rates"): (
        '{"kind": "minutes_by_hand", "value": "3", "since": "2030-01-01", "source": "x", "idea_id": $idea}',
        {},
    ),
    ("post", "/rates/{number}/settle"): ('{"approved": true}', {}),
    ("post", "/releases"): (None, ZIP),
    ("post", "/releases/look"): (None, {"files": ZIP["files"]}),
    ("get", "/releases/{number}/differences/file"): (None, {"query": "?other=$release&name=main.py"}),
    ("post", "/releases/{number}/approve"): ("{}", {}),
    ("post", "/releases/{number}/move"): (SEEN_BY_AREA, {}),
    ("post", "/releases/{number}/move/look"): (SEEN_BY_AREA, {}),
    ("post", "/releases/{number}/tryouts"): ('{"area_id": $area}', {}),
    ("post", "/releases/{number}/tryouts/look"): ("{}", {}),
    ("post", "/releases/{number}/rollouts"): (
        '{"routines": [{"routine_id": $routine}], "why": "to see"}',
        {},
    ),
    ("post", "/releases/{number}/rollouts/look"): ("{}", {}),
    ("post", "/routines/{number}/service-page"): (PAGE, {}),
    ("put", "/service-pages/{number}"): (PAGE, {}),
    ("put", "/service-pages/{number}/state"): ('{"state": "paused", "why": "for a day"}', {}),
    ("put", "/self-service/{number}/favourite"): ('{"on": true}', {}),
    ("post", "/self-service/{number}/runs"): ('{"inputs": {"rows": 2}}', {}),
    ("post", "/self-service/{number}/input-files"): (None, {"files": {"file": ("a.csv", b"a,b\n1,2\n")}}),
    ("put", "/self-service/{number}/marks"): ('{"marks": 4}', {}),
    ("post", "/self-service/{number}/wishes"): ('{"text": "it did more"}', {}),
    ("post", "/routines/{number}/address"): ("{}", {}),
    ("put", "/routines/{number}/address"): ("{}", {}),
    ("post", "/routines/{number}/address/renew"): ("{}", {}),
    ("post", "/routines/{number}/starts"): ("{}", {}),
    ("post", "/routines/{number}/starts/look"): ("{}", {}),
    ("post", "/routines/{number}/starts/rows"): (ROWS, {}),
    ("post", "/routines/{number}/starts/rows/look"): (ROWS, {}),
    ("post", "/robots"): ('{"name": "Otter", "host_id": $host, "tags": [], "area_ids": [$area]}', {}),
    ("put", "/robots/{number}"): ('{"name": "Otter", "host_id": $host, "tags": [], "area_ids": [$area]}', {}),
    ("post", "/routines"): (GIVEN_ROUTINE, {}),
    ("put", "/routines/{number}"): (GIVEN_ROUTINE, {}),
    ("post", "/runs/{number}/late"): ('{"counts": true}', {}),
    ("put", "/value/counts"): ('{"unusual": "held"}', {}),
    ("post", "/routines/input-files"): (None, {"files": {"file": ("a.csv", b"1", "text/csv")}}),
    ("post", "/routines/{number}/triggers"): (TRIGGER, {}),
    ("put", "/routines/{number}/triggers/{trigger}"): (TRIGGER, {}),
    ("post", "/session/second"): ('{"step": "x", "code": "123456"}', {}),
    ("post", "/secrets"): (
        '{"name": "another-login", "kind": "package", "value": "value-9", "area": $area}',
        {},
    ),
    ("put", "/secrets/{number}"): ('{"value": "value-8", "area": $area}', {}),
    ("get", "/secrets/{number}/moving"): (None, {"query": "?area=$area"}),
    ("post", "/divisions"): ('{"name": "Depots"}', {}),
    ("post", "/divisions/{number}/move"): ("{}", {}),
    ("post", "/divisions/{number}/merge"): ('{"into": $other_division}', {}),
    ("put", "/divisions/{number}"): ('{"name": "Mains"}', {}),
    ("put", "/house/company"): (
        '{"name": "Merrowdale", "zone": "UTC", "currency": "EUR", "seen": "Merrowdale Water"}',
        {},
    ),
    ("put", "/house/mail"): (MAIL, {}),
    ("post", "/house/mail/test"): (MAIL, {}),
    ("put", "/house/sign-in"): (
        '{"on": false, "name": "One", "issuer": "http://127.0.0.1:9", "client_id": "tallyman"}',
        {},
    ),
    ("post", "/first"): (
        '{"code": "x", "name": "A", "email": "a@b.example", "password": "x", "zone": "UTC",'
        ' "company": "C", "currency": "EUR"}',
        {},
    ),
    ("post", "/profile/keys"): (json.dumps({"name": "Other desk", "public": make_key()[1]}), {}),
    ("post", "/profile/tokens"): ('{"name": "New", "scope": ["idea.make"], "ends_on": "$soon"}', {}),
    ("post", "/profile/second-factor/confirm"): ('{"code": "123456"}', {}),
    ("post", "/profile/second-factor/codes"): ('{"code": "123456"}', {}),
    ("post", "/profile/second-factor/off"): ('{"code": "123456"}', {}),
    ("post", "/people/list"): ('{"text": "name,mail address\\nAny,any@merrowdale.example"}', {}),
    ("post", "/people/list/look"): ('{"text": "name,mail address\\nAny,any@merrowdale.example"}', {}),
    ("post", "/session"): ('{"email": "x@merrowdale.example", "password": "x"}', {}),
    ("post", "/value/runs/{number}/correct"): (
        '{"units": "1", "handed_back": "0", "why": "counted twice"}',
        {},
    ),
    ("post", "/wheels"): (None, {"files": {"file": ("a-1-py3-none-any.whl", b"PK", "application/zip")}}),
}
