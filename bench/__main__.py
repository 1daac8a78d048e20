"""Run every benchmark: ``python -m bench``."""

from bench import files, many_units, pages, people, pictures, scenes, solids

if __name__ == "__main__":
    solids.main()
    scenes.main()
    files.main()
    pages.main()
    people.main()
    pictures.main()
    many_units.main()
