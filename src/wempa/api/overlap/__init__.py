"""Routes of the Overlap screen."""
