"""Run every benchmark: ``python -m bench``."""

from bench import files, largest, many_units, pages, people, pictures, scenes, solids

if __name__ == "__main__":
    solids.main()
    scenes.main()
    files.main()
    pages.main()
    largest.main()
    people.main()
    pictures.main()
    many_units.main()
