"""The swatch log: what was really got, and what is learned from it."""
