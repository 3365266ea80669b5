"""The routes, place by place."""
