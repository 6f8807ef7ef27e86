"""Routes of the stash."""
