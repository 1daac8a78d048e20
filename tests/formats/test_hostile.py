"""Drawings and images that are made to do harm: each is read, or refused with a sentence, within its limits, in a
process of its own. What it uses of the processor is counted, not how long it takes: others want the machine, too."""

import io
import resource
import struct
import subprocess
import threading
import time
import zipfile
import zlib
from pathlib import Path

import ezdxf
import numpy as np
import openpyxl
import pytest
from PIL import Image

from ashfell.core.base.refusal import Refusal
from ashfell.formats import paths
from ashfell.services import bounded
from ashfell.services.images import brought
from ashfell.services.reading import drawing, table
from ashfell.services.reading.readers import READERS, reader_of

HEAD = b'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="9mm" height="9mm">'


def dxf(add):
    made = ezdxf.new(units=4)
    add(made.modelspace())
    held = io.StringIO()
    made.write(held)
    return held.getvalue().encode()


def nested_use():
    levels = b"".join(b'<g id="l%d">%s</g>' % (n, b'<use xlink:href="#l%d"/>' % (n - 1) * 10) for n in range(1, 12))
    return HEAD + b'<defs><path id="l0" d="M0 0h1v1z"/>' + levels + b'</defs><use xlink:href="#l11"/></svg>'


def chunk(kind, content):
    return struct.pack(">I", len(content)) + kind + content + struct.pack(">I", zlib.crc32(kind + content))


def png(width, height, *more):
    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    pixels = zlib.compress(bytes(width * 3 + 1) * min(height, 50))
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + b"".join(more) + chunk(b"IDAT", pixels) + chunk(b"IEND", b"")


DRAWINGS = {
    "nested.svg": nested_use,
    "curves.svg": lambda: HEAD + b'<path d="M0 0' + b"C1 1 2 2 3 0" * 300_000 + b'z"/></svg>',
    "elements.svg": lambda: HEAD + b'<path d="M0 0h1v1z"/>' * 100_000 + b"</svg>",
    "numbers.svg": lambda: HEAD + b'<path d="M0 0h1e308v1e308h-1e308z"/></svg>',
    "deep.svg": lambda: HEAD + b"<g>" * 50_000,
    "ellipse.dxf": lambda: dxf(lambda space: space.add_ellipse((0, 0), (1e12, 0), 0.5)),
    "spline.dxf": lambda: dxf(lambda space: space.add_spline([(0, 0), (1e9, 1e9), (2e9, 0), (0, 0)])),
    "nan.dxf": lambda: dxf(lambda space: space.add_line((0, 0), (1, 1))).replace(b"\n1.0\n", b"\nnan\n"),
}


class Watched(subprocess.Popen):
    """A process whose memory is looked at until it ends; what the system adds up of ended ones counts what its parent
    had when it was started."""

    most = 0

    def __init__(self, *given, **named):
        super().__init__(*given, **named)
        threading.Thread(target=self.watch, daemon=True).start()

    def watch(self):
        proc = Path("/proc", str(self.pid))
        try:
            while self.returncode is None:
                command, status = (proc / "cmdline").read_bytes(), (proc / "status").read_text()
                if b"ashfell.services.reading" in command and "VmHWM:" in status:  # it is itself, and not its parent
                    Watched.most = max(Watched.most, int(status.partition("VmHWM:")[2].split()[0]))
                time.sleep(0.005)
        except OSError:
            return


def worked():
    """Seconds that the processes which have ended used of the processor."""
    used = resource.getrusage(resource.RUSAGE_CHILDREN)
    return used.ru_utime + used.ru_stime


@pytest.mark.parametrize("name", DRAWINGS)
def test_hostile_drawings_are_read_or_refused_in_time_and_memory(name, monkeypatch):
    monkeypatch.setattr(bounded.subprocess, "Popen", Watched)
    monkeypatch.setattr(Watched, "most", 0)
    seconds = 1 if name in ("curves.svg", "elements.svg") else bounded.SECONDS  # these take whatever they are given
    monkeypatch.setitem(bounded.run.__kwdefaults__, "seconds", seconds)
    content, begun = DRAWINGS[name](), worked()
    read = drawing.lines if name in ("numbers.svg", "nan.dxf", "ellipse.dxf") else drawing.outlines
    try:
        read(content, name)
    except Refusal as refusal:
        assert refusal.message
        assert refusal.remedy
    assert worked() - begun < bounded.START + seconds + 1
    assert 10 * 1024 < Watched.most < 500 * 1024


def zipped(**files):
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            archive.writestr(name.replace("_json", ".json"), content)
    return held.getvalue()


IFC = b"ISO-10303-21;\nHEADER;\nFILE_SCHEMA(('IFC4'));\nENDSEC;\nDATA;\n"
BUILDINGS = {
    "round.ifc": lambda: (
        IFC + b"".join(b"#%d=IFCLOCALPLACEMENT(#%d,$);\n" % (n, n % 20_000 + 1) for n in range(1, 20_001))
    ),
    "open.ifc": lambda: IFC + b"#1=IFCWALL(" * 100_000,
    "deep.ifc": lambda: IFC + b"#1=IFCCARTESIANPOINT(" + b"(" * 200_000,
    "zeros.zip": lambda: zipped(project_json=bytes(100 * 2**20)),
    "deep.zip": lambda: zipped(project_json=b"[" * 5_000_000),
    "lines.dxf": lambda: dxf(lambda space: [space.add_line((n, 0), (n, 1e7)) for n in range(6_000)]),
    "strip.obj": lambda: b"v 0 0 0\n" * 200_000 + b"f 1 2 3\n" * 200_000,
    "nan.obj": lambda: b"v nan inf 1e308\n" * 1000 + b"f 1 2 3\n" * 1000,
}


def test_a_hostile_workbook_is_refused_in_time_and_memory(monkeypatch):
    """300 MB of nothing in a sheet."""
    held = io.BytesIO()
    book = openpyxl.Workbook()
    book.active.append(["mark"])
    book.save(held)
    with zipfile.ZipFile(held) as archive:
        files = {name: archive.read(name) for name in archive.namelist()}
    row = b'<row r="2"><c r="A2" t="inlineStr"><is><t>'
    sheet = files["xl/worksheets/sheet1.xml"].replace(b"</sheetData>", row + b"0" * (300 * 2**20))
    files["xl/worksheets/sheet1.xml"] = sheet
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    monkeypatch.setattr(bounded.subprocess, "Popen", Watched)
    monkeypatch.setattr(Watched, "most", 0)
    begun = worked()
    with pytest.raises(Refusal) as told:
        table.rows(packed.getvalue())
    assert told.value.remedy
    assert worked() - begun < bounded.START + bounded.SECONDS + 1
    assert 10 * 1024 < Watched.most < 500 * 1024


@pytest.mark.parametrize("name", BUILDINGS)
def test_hostile_buildings_are_read_or_refused_in_time_and_memory(name, monkeypatch):
    monkeypatch.setattr(bounded.subprocess, "Popen", Watched)
    monkeypatch.setattr(Watched, "most", 0)
    content = BUILDINGS[name]()
    reader = reader_of(name, content[:64], len(content))
    allowed = reader.limits(len(content))
    begun = worked()
    try:
        reader.understood(content, {})
    except Refusal as refusal:
        assert refusal.message
        assert refusal.remedy
    assert worked() - begun < bounded.START + allowed["seconds"] + 1
    assert 10 * 1024 < Watched.most < 500 * 1024


def test_a_large_file_may_take_more_and_never_more_than_the_most():
    for reader in READERS.values():
        small, large = reader.limits(10_000), reader.limits(reader.largest)
        assert small["seconds"] <= bounded.SECONDS + 1
        assert small["memory"] < reader.least + 5 * 2**20
        assert large["seconds"] == reader.seconds
        assert small["memory"] < large["memory"] <= reader.memory


IMAGES = {
    "many pixels": lambda: png(10_000, 6_000),
    "a text that unpacks to 200 MB": lambda: png(9, 9, chunk(b"zTXt", b"a\0\0" + zlib.compress(bytes(200_000_000)))),
    "cut off": lambda: png(50, 50)[:-40],
    "a TIFF called PNG": lambda: _saved("TIFF"),
    "a GIF called PNG": lambda: _saved("GIF"),
    "nothing": lambda: b"",
}


def _saved(kind):
    held = io.BytesIO()
    Image.new("RGB", (8, 8)).save(held, kind)
    return held.getvalue()


@pytest.mark.parametrize("name", IMAGES)
def test_hostile_images_are_refused(name):
    content = IMAGES[name]()
    try:
        made = brought(io.BytesIO(content), len(content))
    except Refusal as refusal:
        assert refusal.message
        assert refusal.remedy
    else:
        assert name == "a text that unpacks to 200 MB"  # it holds an image all the same, which is read without the text
        assert len(made) < 10_000


def test_what_is_clear_in_an_image_stays_so_where_it_is_laid_under():
    held = io.BytesIO()
    Image.new("RGBA", (8, 8), (200, 10, 10, 40)).save(held, "PNG")
    for clear, mode in ((True, "RGBA"), (False, "RGB")):
        with Image.open(io.BytesIO(brought(io.BytesIO(held.getvalue()), 99, clear))) as image:
            assert image.mode == mode


# --- loose lines


def shuffled(count):
    """A closed outline of so many loose lines, in any order and either way round; DXF."""
    turns = np.linspace(0, 2 * np.pi, count + 1)
    points = np.stack([1000 * np.cos(turns), 1000 * np.sin(turns)], axis=1)
    points[-1] = points[0]
    order = np.random.default_rng(3).permutation(count)
    ends = [(points[k], points[k + 1]) if k % 2 else (points[k + 1], points[k]) for k in order]
    return [[(*one.tolist(), 0.0), (*other.tolist(), 0.0)] for one, other in ends]


def test_loose_lines_are_joined_to_one_outline():
    (chain,) = paths._joined(shuffled(300))
    assert len(chain) == 301
    nodes = np.array(chain)[:, :2]
    area = 0.5 * abs(np.sum(nodes[:-1, 0] * nodes[1:, 1] - nodes[1:, 0] * nodes[:-1, 1]))
    assert area == pytest.approx(300 / 2 * 1e6 * np.sin(2 * np.pi / 300))


def test_ten_thousand_loose_lines_are_joined():
    assert [len(chain) for chain in paths._joined(shuffled(10_000))] == [10_001]


def test_arcs_keep_their_bulge_when_they_are_turned():
    half = [[(0.0, 0.0, 1.0), (2.0, 0.0, 0.0)], [(0.0, 0.0, 0.0), (2.0, 0.0, 0.0)]]
    (chain,) = paths._joined(half)
    assert sorted(abs(node[2]) for node in chain) == [0, 0, 1]
