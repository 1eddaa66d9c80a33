"""Long work: asked for, watched, cancelled, and as whoever carries it out sees it."""
