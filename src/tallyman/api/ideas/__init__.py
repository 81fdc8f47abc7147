"""Ideas: routes and their models."""

from fastapi import APIRouter

from tallyman.api.ideas import beginning, casing, gathering, lists, moving, routes

router = APIRouter()
# Lists come first: their names are no numbers of ideas.
for module in (lists, gathering, routes, casing, moving, beginning):
    router.include_router(module.router)

__all__ = ["router"]
