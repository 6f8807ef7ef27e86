"""Files of the stash: items, tables of inks, measurements, palettes, photos, the swatch sheet."""
