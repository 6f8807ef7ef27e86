"""Card fronts in several inks: where the bands lie, what they look like, how they are made."""
