"""Run every benchmark: ``python -m bench``."""

from bench import pages, solids

if __name__ == "__main__":
    solids.main()
    pages.main()
