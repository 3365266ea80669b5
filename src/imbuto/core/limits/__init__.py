"""Whether a plan fits: each limit with its rule."""
