"""Use cases: permission, transaction, rules, audit, events."""
