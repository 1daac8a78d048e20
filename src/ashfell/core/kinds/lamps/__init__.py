"""The kinds of lamps, one module each or a few that are alike."""
