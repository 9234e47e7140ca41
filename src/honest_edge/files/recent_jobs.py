"""The jobs that were opened or saved last, with pictures of their sheets: one JSON file and a picture for each.

``recent.json`` names them, the latest first; ``<hash of the path>.jpg`` beside it shows what each looked like.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
from dataclasses import asdict, dataclass
from pathlib import Path

from honest_edge.core.values.errors import HonestEdgeError
from honest_edge.files.atomic_write import write_set

MOST_KEPT = 12
_SCHEMA = 1
_LIST = "recent.json"
_MOST_PICTURE_BYTES = 2_000_000


@dataclass(frozen=True, slots=True, kw_only=True)
class RecentJob:
    """One job that was in hand.

    Attributes:
        path: of its file.
        title: as it was.
        at_ms: when it was opened or saved last, UTC.
    """

    path: str
    title: str
    at_ms: int

    @property
    def is_there(self) -> bool:
        """Whether its file is still where it was."""
        return Path(self.path).is_file()


class RecentJobs:
    """The list in one folder; what cannot be kept is not, and the work goes on."""

    def __init__(self, folder: Path) -> None:
        """Take the folder; it is made with the first job."""
        self._folder = folder

    def read(self) -> tuple[tuple[RecentJob, ...], str]:
        """Return the jobs, the latest first, and what to say of a list that cannot be read, which is put aside."""
        try:
            text = (self._folder / _LIST).read_text("utf-8")
        except FileNotFoundError:
            return (), ""
        except (OSError, UnicodeDecodeError) as error:
            return (), self._put_aside(str(error))
        try:
            stored = json.loads(text)
            jobs = tuple(
                RecentJob(path=str(one["path"]), title=str(one["title"]), at_ms=int(one["at_ms"]))
                for one in stored["jobs"]
            )
        except (ValueError, TypeError, KeyError, RecursionError, OverflowError):
            return (), self._put_aside("it is not as it was written")
        return jobs[:MOST_KEPT], ""

    def _put_aside(self, why: str) -> str:
        aside = f"{_LIST}.damaged"
        with contextlib.suppress(OSError):
            (self._folder / _LIST).replace(self._folder / aside)
        return (
            f"The list of recent jobs could not be read ({why}) and begins anew; the old one is "
            f"{self._folder / aside}. "
            "The jobs themselves are where you saved them: Ctrl+O opens them."
        )

    def note(self, path: Path, title: str, at_ms: int) -> None:
        """Put a job at the head of the list."""
        others = [job for job in self.read()[0] if job.path != str(path)]
        self._write([RecentJob(path=str(path), title=title, at_ms=at_ms), *others][:MOST_KEPT])

    def forget(self, path: str) -> None:
        """Take a job off the list; its file is left alone."""
        self._write([job for job in self.read()[0] if job.path != path])
        with contextlib.suppress(OSError):
            self._picture(path).unlink()

    def keep_picture(self, path: Path, picture: bytes) -> None:
        """Keep what a job's sheets look like."""
        with contextlib.suppress(HonestEdgeError):
            write_set(self._folder, {self._picture(str(path)).name: picture}, replace=True)

    def picture_of(self, job: RecentJob) -> bytes:
        """Return the picture of a job's sheets; nothing where there is none."""
        place = self._picture(job.path)
        try:
            return place.read_bytes() if place.stat().st_size <= _MOST_PICTURE_BYTES else b""
        except OSError:
            return b""

    def _picture(self, path: str) -> Path:
        return self._folder / f"{hashlib.sha256(path.encode('utf-8', 'surrogateescape')).hexdigest()[:24]}.jpg"

    def _write(self, jobs: list[RecentJob]) -> None:
        text = json.dumps({"schema": _SCHEMA, "jobs": [asdict(job) for job in jobs]}, indent=1)
        keep = {self._picture(job.path).name for job in jobs}
        stale = [place.name for place in self._folder.glob("*.jpg") if place.name not in keep]
        with contextlib.suppress(HonestEdgeError):
            write_set(self._folder, {_LIST: text.encode()}, replace=True, stale=stale)
