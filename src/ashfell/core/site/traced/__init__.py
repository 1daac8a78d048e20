"""Walls traced from the lines of a plan: two parallel faces are a wall, gaps in both of them openings."""
