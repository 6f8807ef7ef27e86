"""The swatch log in and out."""
