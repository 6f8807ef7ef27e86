"""What belongs to the stash: upkeep, home test, formula guide, swatch sheet, readings off a photo."""
