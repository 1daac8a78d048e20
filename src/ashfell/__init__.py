"""Ashfell: door and window units with exact spacings, fitted into walls and rendered."""
