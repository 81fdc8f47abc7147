"""People: sign-in, invitations, profiles, the directory, and what each was told."""

from __future__ import annotations

from tallyman.services.people import erasure, first_run, guesses, links, lists, second_factor, single_sign_on
from tallyman.services.people.as_another import refuse_changes, refuse_without_factor, seen_as
from tallyman.services.people.directory import (
    directory,
    divisions,
    history,
    me,
)
from tallyman.services.people.invitations import (
    FORGOTTEN,
    Invited,
    accept,
    carry,
    forgot,
    invite,
    invite_again,
    look,
    reset,
)
from tallyman.services.people.profile import (
    change_password,
    change_profile,
    end_other_sessions,
    end_session,
    profile,
    set_away,
)
from tallyman.services.people.register import (
    as_csv,
    before_leaving,
    change_person,
    deactivate,
    listed,
    person_row,
    reactivate,
)
from tallyman.services.people.sessions import (
    IDLE,
    LONGEST,
    actor_of,
    hash_password,
    sign_in,
    sign_in_second,
    sign_out,
    token_digest,
    who_is,
)

__all__ = [
    "FORGOTTEN",
    "IDLE",
    "LONGEST",
    "Invited",
    "accept",
    "actor_of",
    "as_csv",
    "before_leaving",
    "carry",
    "change_password",
    "change_person",
    "change_profile",
    "deactivate",
    "directory",
    "divisions",
    "end_other_sessions",
    "end_session",
    "erasure",
    "first_run",
    "forgot",
    "guesses",
    "hash_password",
    "history",
    "invite",
    "invite_again",
    "links",
    "listed",
    "lists",
    "look",
    "me",
    "person_row",
    "profile",
    "reactivate",
    "refuse_changes",
    "refuse_without_factor",
    "reset",
    "second_factor",
    "seen_as",
    "set_away",
    "sign_in",
    "sign_in_second",
    "sign_out",
    "single_sign_on",
    "token_digest",
    "who_is",
]
