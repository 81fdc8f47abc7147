"""Ideas: routes and their models."""

from tallyman.api.ideas.routes import router

__all__ = ["router"]
