"""Run every benchmark: ``python -m bench``."""

from bench import pages, scenes, solids

if __name__ == "__main__":
    solids.main()
    scenes.main()
    pages.main()
