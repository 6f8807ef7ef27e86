"""The work at the table: an evening's panels, overlaps and squares as steps of one pair of hands."""
