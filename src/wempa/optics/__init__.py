"""Light and colour: spectra, cardstock, films, inks and stacks.

NumPy in, NumPy out. Nothing here knows of words such as *foam* or *juicy*, of
files, SQL, HTTP or screens; it sees K, S, shares, effective doses, coverage and
floors only.
"""
