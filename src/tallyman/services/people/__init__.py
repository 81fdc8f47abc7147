"""People: sign-in, invitations, profiles, the directory, and what each was told."""

from tallyman.services.people.directory import (
    directory,
    divisions,
    history,
    mark_read,
    me,
    notifications,
)
from tallyman.services.people.inviting import Invited, accept, forgot, invite, invite_again, look, reset
from tallyman.services.people.leaving import (
    as_csv,
    before_leaving,
    change_person,
    deactivate,
    listed,
    reactivate,
)
from tallyman.services.people.profile import (
    change_password,
    change_profile,
    end_other_sessions,
    end_session,
    profile,
    set_away,
)
from tallyman.services.people.seeing import refuse_changes, seen_as
from tallyman.services.people.signing_in import (
    IDLE,
    LONGEST,
    actor_of,
    hash_password,
    sign_in,
    sign_out,
    token_digest,
    who_is,
)

__all__ = [
    "IDLE",
    "LONGEST",
    "Invited",
    "accept",
    "actor_of",
    "as_csv",
    "before_leaving",
    "change_password",
    "change_person",
    "change_profile",
    "deactivate",
    "directory",
    "divisions",
    "end_other_sessions",
    "end_session",
    "forgot",
    "hash_password",
    "history",
    "invite",
    "invite_again",
    "listed",
    "look",
    "mark_read",
    "me",
    "notifications",
    "profile",
    "reactivate",
    "refuse_changes",
    "reset",
    "seen_as",
    "set_away",
    "sign_in",
    "sign_out",
    "token_digest",
    "who_is",
]
