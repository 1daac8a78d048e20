"""Pictures: settings, sun, path-traced passes, development into an image."""
