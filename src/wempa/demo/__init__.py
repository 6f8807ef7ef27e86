"""Sample data: the stash of the Penny Halt Miniature Railway's card table."""
