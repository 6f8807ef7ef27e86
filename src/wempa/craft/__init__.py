"""The rules of the job: words to numbers, predictions, margins, verdicts, fixes.

Imports `wempa.optics` only; knows nothing of files, SQL, HTTP or screens.
"""
