"""Charts and lists on paper."""
