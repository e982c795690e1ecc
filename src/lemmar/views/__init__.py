"""What each command shows of its result: the table for machines, and the drawing for people. Nothing here parses a command or computes an answer."""
