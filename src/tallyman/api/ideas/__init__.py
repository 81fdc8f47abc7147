"""Ideas: routes and their models."""

from tallyman.api.ideas import moving
from tallyman.api.ideas.routes import router

router.include_router(moving.router)

__all__ = ["router"]
