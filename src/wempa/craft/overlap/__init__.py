"""One overlap: crossing swatches, the card cut through, fixes, nudges, other ways of showing it."""
