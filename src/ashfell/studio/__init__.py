"""The web application: loads a document, calls the core, shows what it says."""
