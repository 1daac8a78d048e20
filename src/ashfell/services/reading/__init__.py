"""Files that others made, read in a process of its own into documents, with what was understood and what was not."""
