"""A photographed paper: its page found on the table, straightened, and made a sheet of a PDF.

Pictures are strangers' files: everything here runs in a limited child.
"""

from __future__ import annotations

import io
from itertools import pairwise
from typing import Any

import cv2
import numpy as np
import pikepdf
from pikepdf import Array, Dictionary, Name
from PIL import Image, ImageOps, UnidentifiedImageError

from quillcore.sandbox import Refused
from quillcore.values import Fault

KINDS = ("JPEG", "PNG", "WEBP", "TIFF")
_MOST_PIXELS = 80_000_000
"""Of a picture as it comes: telephones take 12 to 50 million."""
_LONG_SIDE = 2_200
"""Pixels of a sheet's long side: 200 to an inch of a letter page, as office scanners have."""
_SMALL = 700
"""Pixels of the long side at which the page's edges are looked for: print is too small to be one there."""
_LEAST_SHARE = 0.2
"""Of the picture that a page takes: smaller ones are something else."""
_LETTER = (612.0, 792.0)
_FORESHORTENED = 0.16
"""By so much of their proportion a page's sides are off when it is photographed from 40 degrees beside."""
_QUALITY = 80

cv2.setNumThreads(1)  # the child's bounds are those of one

Picture = Any
"""Rows of grey pixels."""


def as_pdf(content: bytes) -> bytes:
    """Return a picture as a PDF of one letter page.  Raises ``quillcore.sandbox.Refused``."""
    grey = _read(content)
    corners = page_corners(grey)
    sheet = straightened(grey, corners) if corners is not None else grey
    return _on_sheet(_fitting(sheet))


def _read(content: bytes) -> Picture:
    trouble = Refused(
        Fault("picture", "The picture can’t be read.", "Send it as JPEG or PNG, or print it to a PDF.")
    )
    try:
        with Image.open(io.BytesIO(content), formats=KINDS) as opened:
            if opened.width * opened.height > _MOST_PIXELS:
                raise Refused(
                    Fault("picture", "The picture is far too large.", "Take it at a lower resolution.")
                )
            if min(opened.size) < 50:
                raise Refused(Fault("picture", "The picture is too small to be read.", "Take it again."))
            opened.draft("L", (2 * _LONG_SIDE, 2 * _LONG_SIDE))
            turned = ImageOps.exif_transpose(opened)
            return np.asarray((turned or opened).convert("L"))
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as why:
        raise trouble from why


def page_corners(grey: Picture) -> Picture | None:
    """Return the corners of the page in the picture (upper left, upper right, lower right, lower left), or
    None where there is none with four: the picture is the page then."""
    scale = min(1.0, _SMALL / max(grey.shape))
    small = cv2.resize(grey, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    soft = cv2.GaussianBlur(small, (7, 7), 0)
    _, bright = cv2.threshold(soft, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    closed = cv2.morphologyEx(bright, cv2.MORPH_CLOSE, np.ones((15, 15), np.uint8))
    outlines, _ = cv2.findContours(closed, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    if not outlines:
        return None
    largest = max(outlines, key=cv2.contourArea)
    share = cv2.contourArea(largest) / (small.shape[0] * small.shape[1])
    if not _LEAST_SHARE <= share <= 0.98:
        return None
    around = cv2.convexHull(largest)
    four = cv2.approxPolyDP(around, 0.03 * cv2.arcLength(around, True), True).reshape(-1, 2)
    return _in_order(four / scale) if len(four) == 4 else None


def _in_order(four: Picture) -> Picture:
    sums, differences = four.sum(axis=1), four[:, 0] - four[:, 1]
    places = [sums.argmin(), differences.argmax(), sums.argmax(), differences.argmin()]
    return np.asarray([four[n] for n in places], dtype=np.float32)


def straightened(grey: Picture, corners: Picture) -> Picture:
    """Return the page as if seen from above."""
    sides = [float(np.linalg.norm(a - b)) for a, b in pairwise([*corners, corners[0]])]
    wide, high = _as_letter(max(sides[0], sides[2]), max(sides[1], sides[3]))
    scale = min(1.0, _LONG_SIDE / max(wide, high))
    width, height = max(1, round(wide * scale)), max(1, round(high * scale))
    onto = np.asarray([[0, 0], [width, 0], [width, height], [0, height]], dtype=np.float32)
    turn = cv2.getPerspectiveTransform(corners, onto)
    return cv2.warpPerspective(grey, turn, (width, height), flags=cv2.INTER_AREA, borderValue=255)


def _as_letter(wide: float, high: float) -> tuple[float, float]:
    """Return the sides of a letter page, where they are near enough to be one's."""
    for one, other in (_LETTER, _LETTER[::-1]):
        if abs(wide / high / (one / other) - 1) < _FORESHORTENED:
            return high * one / other, high
    return wide, high


def _fitting(sheet: Picture) -> Picture:
    """Return a picture that isn't larger than a sheet needs, with white paper where a shadow lay on it."""
    scale = min(1.0, _LONG_SIDE / max(sheet.shape))
    small = cv2.resize(sheet, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    paper = cv2.GaussianBlur(cv2.dilate(small, np.ones((21, 21), np.uint8)), (0, 0), 21)
    return cv2.divide(small, np.maximum(paper, 1), scale=245)


def _on_sheet(sheet: Picture) -> bytes:
    """Return a PDF of one letter page, upright or lying as the picture is, with the picture as large as it
    goes."""
    _, packed = cv2.imencode(".jpg", sheet, [cv2.IMWRITE_JPEG_QUALITY, _QUALITY])
    high, wide = sheet.shape
    page = _LETTER if high >= wide else _LETTER[::-1]
    scale = min(page[0] / wide, page[1] / high)
    left, bottom = (page[0] - wide * scale) / 2, (page[1] - high * scale) / 2
    out = pikepdf.new()
    out.add_blank_page(page_size=page)
    drawn = pikepdf.Stream(
        out,
        packed.tobytes(),
        Type=Name.XObject,
        Subtype=Name.Image,
        Width=wide,
        Height=high,
        ColorSpace=Name.DeviceGray,
        BitsPerComponent=8,
        Filter=Name.DCTDecode,
    )
    only = out.pages[0].obj
    only.Resources = Dictionary(XObject=Dictionary(P=out.make_indirect(drawn)))
    matrix = f"{wide * scale:.3f} 0 0 {high * scale:.3f} {left:.3f} {bottom:.3f}"
    only.Contents = out.make_stream(f"q {matrix} cm /P Do Q".encode())
    only.MediaBox = Array([0, 0, *page])
    buffer = io.BytesIO()
    out.save(buffer, deterministic_id=True)
    return buffer.getvalue()
