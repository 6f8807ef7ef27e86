"""What a stack of inks on a card looks like, whether it is mud, and how far to trust it."""
