"""Colours as people see and name them: the painter's circle, families, what looks alike."""
