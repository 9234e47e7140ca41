"""A printer on this machine's loopback that speaks IPP as CUPS does, and keeps what it is sent.

Encoding: RFC 8010; operations: RFC 8011 and, from 0x4001, CUPS' own. Only what libcups asks of a queue is answered.
"""

import struct
import threading
from dataclasses import dataclass, field
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

NAME = "Simulated"
_GET_PRINTERS, _GET_DEFAULT, _PRINT_JOB, _CREATE_JOB, _SEND_DOCUMENT = 0x4002, 0x4001, 0x0002, 0x0005, 0x0006
_NOT_FOUND, _NOT_ACCEPTING = 0x0406, 0x0506
_OPERATION, _JOB, _END, _PRINTER = 1, 2, 3, 4
_INTEGER, _ENUM, _TEXT, _WORD, _NAME, _URI, _CHARSET, _LANGUAGE = 0x21, 0x23, 0x41, 0x44, 0x42, 0x45, 0x47, 0x48
_PPD = """*PPD-Adobe: "4.3"
*FormatVersion: "4.3"
*FileVersion: "1.0"
*LanguageVersion: English
*LanguageEncoding: ISOLatin1
*PCFileName: "SIM.PPD"
*Manufacturer: "Simulated"
*Product: "(Simulated)"
*ModelName: "Simulated"
*ShortNickName: "Simulated"
*NickName: "Simulated"
*PSVersion: "(3010.000) 0"
*LanguageLevel: "3"
*ColorDevice: True
*DefaultColorSpace: RGB
*cupsFilter: "application/vnd.cups-pdf 0 -"
*DefaultResolution: 600dpi
*OpenUI *PageSize/Media Size: PickOne
*DefaultPageSize: A5
*PageSize A5/A5: "<</PageSize[420 595]>>setpagedevice"
*PageSize A4/A4: "<</PageSize[595 842]>>setpagedevice"
*CloseUI: *PageSize
*OpenUI *PageRegion/Media Size: PickOne
*DefaultPageRegion: A5
*PageRegion A5/A5: "<</PageSize[420 595]>>setpagedevice"
*PageRegion A4/A4: "<</PageSize[595 842]>>setpagedevice"
*CloseUI: *PageRegion
*DefaultImageableArea: A5
*ImageableArea A5/A5: "12 12 408 583"
*ImageableArea A4/A4: "12 12 583 830"
*DefaultPaperDimension: A5
*PaperDimension A5/A5: "420 595"
*PaperDimension A4/A4: "595 842"
"""


@dataclass
class Received:
    """One job: its attributes by name, and the document."""

    attributes: dict[str, list] = field(default_factory=dict)
    document: bytes = b""


class SimulatedPrinter:
    """Serves until it is stopped; ``jobs`` holds what came."""

    def __init__(self, *, refuses=False):
        self._refuses = refuses
        self.is_gone = False
        self.jobs: list[Received] = []
        self.asked: list[str] = []
        self._server = ThreadingHTTPServer(("127.0.0.1", 0), _handler(self))
        self._thread = threading.Thread(target=self._server.serve_forever, daemon=True)

    @property
    def address(self):
        """What CUPS_SERVER is set to."""
        return f"127.0.0.1:{self._server.server_port}"

    def __enter__(self):
        self._thread.start()
        return self

    def __exit__(self, *_):
        self._server.shutdown()
        self._server.server_close()

    def answer(self, body):
        """Return the response to one IPP request."""
        version, operation, request = struct.unpack(">HHi", body[:8])
        attributes, document = _read(body[8:])
        self.asked.append(f"{operation:#06x}")
        groups, status = b"", 0
        if self.is_gone:
            status, document = _NOT_FOUND, b""
        elif self._refuses and operation in (_PRINT_JOB, _CREATE_JOB, _SEND_DOCUMENT):
            status, document = _NOT_ACCEPTING, b""
        elif operation in (_PRINT_JOB, _CREATE_JOB):
            self.jobs.append(Received(attributes))
            groups = bytes([_JOB]) + _attribute(_INTEGER, "job-id", len(self.jobs))
            groups += _attribute(_ENUM, "job-state", 5)
            groups += _attribute(_URI, "job-uri", f"ipp://{self.address}/jobs/{len(self.jobs)}")
        elif operation != _SEND_DOCUMENT:
            groups = self._queue()
        if document:
            self.jobs[-1].document += document
        head = struct.pack(">HHi", version, status, request) + bytes([_OPERATION])
        head += _attribute(_CHARSET, "attributes-charset", "utf-8")
        head += _attribute(_LANGUAGE, "attributes-natural-language", "en")
        return head + groups + bytes([_END])

    def _queue(self):
        return (
            bytes([_PRINTER])
            + _attribute(_NAME, "printer-name", NAME)
            + _attribute(_URI, "printer-uri-supported", f"ipp://{self.address}/printers/{NAME}")
            + _attribute(_ENUM, "printer-type", 0x4)
            + _attribute(_ENUM, "printer-state", 3)
            + _attribute(_WORD, "printer-state-reasons", "none")
            + _attribute(_TEXT, "printer-info", NAME)
            + _attribute(_TEXT, "printer-location", "on the loopback")
            + _attribute(_TEXT, "printer-make-and-model", NAME)
        )


def _attribute(tag, name, value):
    data = struct.pack(">i", value) if isinstance(value, int) else value.encode()
    return struct.pack(">BH", tag, len(name)) + name.encode() + struct.pack(">H", len(data)) + data


def _read(body):
    """Return the attributes of a request by name, and what follows them."""
    found, at, name = {}, 0, ""
    while (tag := body[at]) != _END:
        at += 1
        if tag < 0x10:  # begins a group
            continue
        (length,) = struct.unpack_from(">H", body, at)
        name = body[at + 2 : at + 2 + length].decode() or name  # without a name: one more value
        at += 2 + length
        (length,) = struct.unpack_from(">H", body, at)
        raw = body[at + 2 : at + 2 + length]
        found.setdefault(name, []).append(
            struct.unpack(">i", raw)[0] if tag in (_INTEGER, _ENUM) else raw.decode(errors="replace")
        )
        at += 2 + length
    return found, body[at + 1 :]


def _handler(printer):
    class Handler(BaseHTTPRequestHandler):
        protocol_version = "HTTP/1.1"

        def do_GET(self):
            printer.asked.append(self.path)
            if self.path == "/taken-away":
                printer.is_gone = True
            self._send(_PPD.encode(), "application/vnd.cups-ppd")

        def do_POST(self):
            self._send(printer.answer(self._body()), "application/ipp")

        def _body(self):
            if self.headers.get("Transfer-Encoding", "") != "chunked":
                return self.rfile.read(int(self.headers["Content-Length"]))
            parts = []
            while size := int(self.rfile.readline(), 16):
                parts.append(self.rfile.read(size))
                self.rfile.readline()
            self.rfile.readline()
            return b"".join(parts)

        def _send(self, data, kind):
            self.send_response(200)
            self.send_header("Content-Type", kind)
            self.send_header("Content-Length", str(len(data)))
            self.end_headers()
            self.wfile.write(data)

        def log_message(self, *_):
            pass

    return Handler
