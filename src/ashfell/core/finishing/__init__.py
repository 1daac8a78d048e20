"""Finishes as somebody works with them: said in sentences, changed entry by entry, found where they are used."""
