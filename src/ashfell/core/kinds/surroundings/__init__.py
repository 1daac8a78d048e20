"""The kinds of what stands round a building, a module for each."""
