"""Routes of the Panel screen."""
