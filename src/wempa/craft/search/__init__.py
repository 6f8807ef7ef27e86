"""Among many inks: charts, good company, and matches with a proven bound."""
