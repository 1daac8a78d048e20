"""One module for each kind of file."""
