"""A PDF written as a stream: pictures wait on disk, and no complete copy is held in memory."""

from __future__ import annotations

import tempfile
from typing import Any, BinaryIO

from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfdoc
from reportlab.pdfgen.canvas import Canvas


class Spool:
    """A temporary file for bytes, deleted with the object."""

    def __init__(self) -> None:
        self._file = tempfile.TemporaryFile()  # noqa: SIM115  it lives as long as the spool
        self._end = 0

    def put(self, data: bytes) -> tuple[int, int]:
        """Append bytes; returns their position and length."""
        self._file.seek(self._end)
        self._file.write(data)
        at = (self._end, len(data))
        self._end += len(data)
        return at

    def get(self, at: tuple[int, int]) -> bytes:
        self._file.seek(at[0])
        return self._file.read(at[1])


class SpooledImage(pdfdoc.PDFImageXObject):  # type: ignore[misc]
    """A picture whose stream stays in the spool until it is written."""

    _spool: Spool
    _at = (0, 0)

    def __init__(self, name: str, source: ImageReader, spool: Spool) -> None:
        self._spool = spool
        super().__init__(name, source, mask="auto")
        clear = getattr(self, "_smask", None)
        if clear is not None:
            stream = clear.__dict__.pop("streamContent")
            clear.__class__ = SpooledImage
            clear._spool = spool
            clear.streamContent = stream

    @property
    def streamContent(self) -> bytes:  # noqa: N802  the library's name
        return self._spool.get(self._at)

    @streamContent.setter
    def streamContent(self, data: bytes | str) -> None:  # noqa: N802
        if isinstance(data, bytes):
            self._at = self._spool.put(data)


def add_image(canvas: Canvas, name: str, source: ImageReader, spool: Spool) -> tuple[int, int]:
    """Add a picture to a document as the form `name` in a box of 1 x 1; returns its width and height in pixels."""
    document = canvas._doc
    image = SpooledImage(name, source, spool)
    canvas._setXObjects(image)
    document.Reference(image, document.getXObjectName(name))
    document.addForm(name, image)
    clear = getattr(image, "_smask", None)
    if clear is not None:
        canvas._setXObjects(clear)
        image.smask = document.Reference(clear, document.getXObjectName(clear.name))
        del image._smask
    return image.width, image.height


class StreamedDocument(pdfdoc.PDFDocument):  # type: ignore[misc]
    """Writes object by object; otherwise like the library's document."""

    def SaveToFile(self, filename: BinaryIO, canvas: Canvas) -> None:  # noqa: N802  the library's name
        self._out = filename
        self.GetPDFData(canvas)

    def format(self) -> bytes:
        """Objects, cross-reference table, trailer (ISO 32000-1, 7.5)."""
        self.encrypt.prepare(self)
        file = _StreamedFile(self._out, self._pdfVersion)
        self.__accum__ = file
        ids: list[Any] = []
        # Formatting an object can create others.
        while len(ids) + 1 in self.numberToId:
            oid = self.numberToId[len(ids) + 1]
            text = pdfdoc.PDFIndirectObject(oid, self.idToObject[oid]).format(self)
            self.idToOffset[oid] = file.add(text)
            ids.append(oid)
        del self.__accum__
        table = pdfdoc.PDFCrossReferenceTable()
        table.addsection(0, ids)
        start = file.add(table.format(self))
        trailer = pdfdoc.PDFTrailer(
            startxref=start,
            Size=len(ids) + 1,
            Root=self.Reference(self.Catalog),
            Info=self.Reference(self.info),
            ID=self.ID(),
        )
        file.add(trailer.format(self))
        return b""


class _StreamedFile(pdfdoc.PDFFile):  # type: ignore[misc]
    def __init__(self, out: BinaryIO, version: tuple[int, int]) -> None:
        super().__init__(version)
        begun: list[bytes] = self.strings
        out.write(b"".join(begun))
        begun.clear()
        self.write = out.write
