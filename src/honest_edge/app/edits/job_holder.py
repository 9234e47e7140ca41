"""The one place that holds the job: views listen, edits replace."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import PurePath

from honest_edge.core.values.forms import Preset
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, FIRST_FONT, PLACEHOLDER_SHOP, PLACEHOLDER_WORDS, Layer, Lettering
from honest_edge.core.values.specs import SCHOOL_DEFAULTS, Colour

_SHEET_RGB: Colour = (222, 231, 222)


class JobHolder:
    """Holds the present job and the originals it is about."""

    def __init__(self) -> None:
        self._job = Job()
        self._listeners: list[Callable[[Job], None]] = []
        self.assets: dict[str, bytes] = {}

    @property
    def job(self) -> Job:
        """The present job."""
        return self._job

    def listen(self, listener: Callable[[Job], None]) -> None:
        """Call ``listener`` with every new job from now on."""
        self._listeners.append(listener)

    def replace(self, job: Job) -> None:
        """Make ``job`` the present one and tell the listeners, unless it is equal to the present one."""
        if job == self._job:
            return
        self._job = job
        for listener in tuple(self._listeners):
            listener(job)

    def add_asset(self, data: bytes) -> str:
        """Keep an original and return its SHA-256; kept as long as the holder, so that undo finds it."""
        import hashlib  # loaded with the first original, not with the window

        asset = hashlib.sha256(data).hexdigest()
        self.assets[asset] = data
        return asset


def new_design(job: Job, asset: str, file_name: str, width_mm: float) -> Design:
    """Return a design for a picture, named after its file, with a name that the job does not have yet.

    It fills a sheet until a number of copies is asked for.
    """
    name = free_name(job, name_of_file(file_name))
    return Design(
        key=job.free_key(), name=name, asset=asset, file_name=file_name, width_mm=width_mm, copies=1, fills=True
    )


def name_of_file(file_name: str) -> str:
    """Return what a design is called after its file."""
    stem = PurePath(file_name).stem.replace("_", " ").replace("-", " ").strip() or "Picture"
    return stem[:1].upper() + stem[1:]


def lettered_design(job: Job) -> Design:
    """Return a design that is one lettering."""
    words = Lettering(text=PLACEHOLDER_WORDS, family=FIRST_FONT[0], style=FIRST_FONT[1], size_mm=10)
    return Design(
        key=job.free_key(),
        name=free_name(job, "Words"),
        outline=AS_DRAWN,
        copies=1,
        fills=True,
        layers=(Layer(key="l1", lettering=words),),
    )


def formed_design(job: Job, preset: Preset) -> Design:
    """Return a design on a form; a sheet of stickers brings a title and the shop's name to type over."""
    layers: tuple[Layer, ...] = ()
    form = preset.form
    if form.kind == "sticker sheet":
        form = replace(form, rgb=_SHEET_RGB)
        y_mm = form.height_mm / 2 - 8
        layers = (line_of_words("l1", job.title, 6.0, -y_mm), line_of_words("l2", PLACEHOLDER_SHOP, 3.5, y_mm))
    return Design(
        key=job.free_key(),
        name=free_name(job, preset.name),
        outline=AS_DRAWN,
        edge=replace(SCHOOL_DEFAULTS["bleed"], line_kind="through"),
        copies=1,
        layers=layers,
        form=form,
    )


def line_of_words(key: str, text: str, size_mm: float, y_mm: float) -> Layer:
    """Return a layer that is one line of words, its middle so far below that of the form."""
    words = Lettering(text=text, family=FIRST_FONT[0], style=FIRST_FONT[1], size_mm=size_mm)
    return Layer(key=key, lettering=words, y_mm=y_mm)


def free_name(job: Job, wanted: str) -> str:
    """Return a name that the job does not have yet."""
    taken = {design.name for design in job.designs}
    name, number = wanted, 2
    while name in taken:
        name, number = f"{wanted} {number}", number + 1
    return name


def with_new(job: Job, designs: Sequence[Design]) -> Job:
    """Return the job with designs added at its end that were made for an earlier one: each gets a key that is free."""
    for design in designs:
        job = with_designs(job, [replace(design, key=job.free_key(), name=free_name(job, design.name))])
    return job


def with_designs(job: Job, designs: list[Design]) -> Job:
    """Return the job with designs added at its end."""
    return replace(job, designs=(*job.designs, *designs))
