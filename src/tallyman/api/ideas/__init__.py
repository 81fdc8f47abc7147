"""Ideas: routes and their models."""

from tallyman.api.ideas import beginning, moving
from tallyman.api.ideas.routes import router

router.include_router(moving.router)
router.include_router(beginning.router)

__all__ = ["router"]
