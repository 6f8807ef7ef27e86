"""Heavy work: in turns, in processes of its own, stopped when nobody waits for it any more."""
