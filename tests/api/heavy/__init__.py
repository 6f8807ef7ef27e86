"""Tests of the turns and workers of heavy work."""
