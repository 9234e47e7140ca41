"""The usual day in one line: size, copies, edge, paper and folder of what was dropped, and what comes of it."""
