"""Heavy work: it waits its turn, runs in processes of its own, and stops when nobody waits for the answer."""
