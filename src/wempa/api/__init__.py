"""The HTTP service: thin routes over the core and the store."""
