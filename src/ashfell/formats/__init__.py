"""Open formats: one module each, on parts and documents only."""
