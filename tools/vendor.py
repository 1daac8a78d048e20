"""The front-end files that ship: checked against their list, or fetched and built anew from their packages.

``--check`` compares every vendored file with its checksum; without it the packages are installed with npm into a
folder that is thrown away, three.js is bundled into one module, and the files and the list are written.
"""

from __future__ import annotations

import argparse
import hashlib
import json
import re
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
STUDIO = ROOT / "src/ashfell/studio/static/vendor"
TESTS = ROOT / "tests/vendor"
LIST = STUDIO / "vendored.json"
LICENCES = STUDIO / "licences.txt"

PACKAGES = {
    "three": "0.187.0",
    "htmx.org": "2.0.11",
    "idiomorph": "0.8.0",
    "bootstrap": "5.3.9",
    "@fontsource/barlow": "5.3.0",
    "@fontsource/barlow-semi-condensed": "5.3.0",
    "gltf-validator": "2.0.0-dev.3.10",
    "axe-core": "4.14.1",
    "esbuild": "0.28.2",
}
THREE = """export * from 'three';
export { OrbitControls } from 'three/addons/controls/OrbitControls.js';
export { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
"""
TYPES = STUDIO / "three.d.ts"
TYPED = f"// The types of what three.js holds here, where the scripts of the pages import it from.\n{THREE}"
WEIGHTS = (400, 500, 600)
COPIES = {
    STUDIO / "htmx.js": "htmx.org/dist/htmx.min.js",
    STUDIO / "idiomorph.js": "idiomorph/dist/idiomorph-ext.min.js",
    STUDIO / "bootstrap.css": "bootstrap/dist/css/bootstrap.min.css",
    TESTS / "gltf_validator.dart.js": "gltf-validator/gltf_validator.dart.js",
    TESTS / "axe.js": "axe-core/axe.min.js",
    **{
        STUDIO / "fonts" / name: f"@fontsource/{family}/files/{name}"
        for family in ("barlow", "barlow-semi-condensed")
        for weight in WEIGHTS
        for name in [f"{family}-latin-{weight}-normal.woff2"]
    },
}


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--check", action="store_true")
    return check() if parser.parse_args().check else fetch()


def check() -> int:
    listed = {row["file"]: row["sha256"] for row in json.loads(LIST.read_text())}
    wrong = [name for name, digest in listed.items() if _digest(ROOT / name) != digest]
    present = {
        str(path.relative_to(ROOT))
        for folder in (STUDIO, TESTS)
        for path in folder.rglob("*.*")
        if path not in (LIST, LICENCES, TYPES)
    }
    wrong += sorted(present - listed.keys())
    wrong += [str(TYPES.relative_to(ROOT))] if not TYPES.exists() or TYPES.read_text() != TYPED else []
    for name in wrong:
        print(f"{name}: not as listed in {LIST.relative_to(ROOT)}", file=sys.stderr)
    return bool(wrong)


def fetch() -> int:
    with tempfile.TemporaryDirectory() as folder:
        wanted = [f"{name}@{version}" for name, version in PACKAGES.items()]
        subprocess.run(["npm", "install", "--no-audit", "--no-fund", "--prefix", folder, *wanted], check=True)
        modules = Path(folder) / "node_modules"
        rows = [
            _row(target, _package(source), modules)
            for target, source in COPIES.items()
            if _copy(modules / source, target)
        ]
        entry = Path(folder) / "three.js"
        entry.write_text(THREE)
        bundle = ["--bundle", "--minify", "--format=esm", "--legal-comments=none", f"--outfile={STUDIO / 'three.js'}"]
        subprocess.run([modules / ".bin/esbuild", entry, *bundle], check=True)
        rows.append(_row(STUDIO / "three.js", "three", modules))
        TYPES.write_text(TYPED)
        _write_licences(modules, sorted({row["name"] for row in rows}))
        LIST.write_text(json.dumps(sorted(rows, key=lambda row: row["file"]), indent=1) + "\n")
    return 0


def _write_licences(modules: Path, names: list[str]) -> None:
    """The licence texts that must go with the files."""
    texts = []
    for name in names:
        found = sorted(path for path in (modules / name).glob("*") if path.stem.lower() in ("license", "licence"))
        texts += [f"{name}\n{'=' * len(name)}\n\n{path.read_text().strip()}\n" for path in found]
    LICENCES.write_text("\n\n".join(texts))


def _copy(source: Path, target: Path) -> bool:
    target.parent.mkdir(parents=True, exist_ok=True)
    shutil.copyfile(source, target)
    if target.suffix == ".css":
        target.write_text(re.sub(r"/\*# sourceMappingURL=.*?\*/", "", target.read_text()).rstrip() + "\n")
    return True


def _package(source: str) -> str:
    parts = source.split("/")
    return "/".join(parts[:2]) if source.startswith("@") else parts[0]


def _row(target: Path, package: str, modules: Path) -> dict[str, str]:
    about = json.loads((modules / package / "package.json").read_text())
    return {
        "file": str(target.relative_to(ROOT)),
        "name": package,
        "version": about["version"],
        "licence": str(about.get("license", "")),
        "sha256": _digest(target),
    }


def _digest(path: Path) -> str:
    return hashlib.sha256(path.read_bytes()).hexdigest() if path.exists() else ""


if __name__ == "__main__":
    sys.exit(main())
