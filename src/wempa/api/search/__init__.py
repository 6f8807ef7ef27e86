"""Routes of the Chart and Match screens."""
